/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { usualSettings, type Role, type RunSummary } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { judged, now, runSummary } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { ReviewList } from './ReviewList'

const none = { items: [], next: null, total: 0, more: false }
const api = new StubbedApi(none)
const opened: string[] = []
const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
const begin = (
  runs: readonly RunSummary[],
  { role = 'technician' as Role, at = '/review', more = {} as typeof api.answers } = {},
) => {
  const query = at.split('?')[1]
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': {
      body: [
        { id: 4, name: 'Sedge Room' },
        { id: 5, name: 'Lantern Hall' },
      ],
    },
    'GET /api/settings': { body: { ...usualSettings, studioName: 'Fen & Lantern', accepted: 0.07 } },
    [`GET /api/runs?of=judged${query ? `&${query}` : ''}`]: { body: { ...none, items: runs, total: runs.length } },
    ...more,
  })
  window.history.replaceState(null, '', at)
  return showAt('/review', <ReviewList />, at)
}
const rows = async () => {
  const table = await screen.findByRole('table', { name: 'Validations' })
  await api.settled()
  return within(table).getAllByRole('row').slice(1)
}
const report = async (label: string) => {
  await rows()
  await hands.press('Reports')
  await hands.pressThis(await screen.findByText(label))
  return within(await screen.findByRole('dialog'))
}
beforeAll(() => {
  layOut(41)
  window.open = ((address: string) => opened.push(address)) as never
})
beforeEach(() => (opened.length = 0))
afterEach(() => {
  cleanup()
  api.end()
})

test('each validation has its verdict with the sentence that explains it; a withdrawn one the reason instead @long', async () => {
  const sentence = 'Luminance is 5.1 % off; its hard edge is 4 %.'
  begin([
    runSummary({ id: 9, judged: judged({ verdict: 'outside', sentence, averageDeltaE: 1.004, worstDeltaE: 3.456 }) }),
    runSummary({ id: 8, withdrawn: { at: now, by: 'Marit Oyen', reason: 'The puck was knocked.' } as never }),
  ])
  const [counts, withdrawn] = await rows()
  expect(counts.textContent).toContain(`outside1.003.46${sentence}`)
  expect(withdrawn.textContent).toContain('withdrawn')
  expect(withdrawn.textContent).toContain('The puck was knocked.')
  expect(within(withdrawn).queryByRole('img', { name: 'within' })).toBeNull()
})

test('verdict and room are asked of the server and kept in the address @long', async () => {
  begin([runSummary()])
  await rows()
  await hands.choose('Verdict', 'near edge')
  await waitFor(() => expect(api.asked).toContain('/api/runs?of=judged&verdict=near'))
  await hands.choose('Room', 'Lantern Hall')
  await waitFor(() => expect(api.asked).toContain('/api/runs?of=judged&room=5&verdict=near'))
})

test.each([
  ['/review', 'Nothing has been judged yet. Start a run.'],
  ['/review?verdict=outside', 'No validation fits.'],
])('at %s an empty list says “%s”', async (at, says) => {
  begin([], { at })
  expect(await screen.findByText(says)).toBeTruthy()
})

describe('reports of more than one display', () => {
  test('the fleet on a date, today unless another is chosen, in each form @long', async () => {
    begin([runSummary()])
    const asked = await report('State of the fleet on a date…')
    await hands.pressThis(asked.getByText('CSV'))
    await hands.pressThis(asked.getByRole('button', { name: 'Save report' }))
    expect(opened).toHaveLength(1)
    expect(opened[0]).toMatch(/^\/api\/reports\/fleet\?as=csv&on=\d{4}-\d\d-\d\d$/)
    const today = new Date()
    expect(opened[0].slice(-2)).toBe(String(today.getDate()).padStart(2, '0'))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  })

  test('a web page is opened, not saved @long', async () => {
    begin([runSummary()])
    const asked = await report('State of the fleet on a date…')
    await hands.pressThis(asked.getByText('web page'))
    await hands.pressThis(asked.getByRole('button', { name: 'Open report' }))
    expect(opened[0]).toContain('as=html')
  })

  test('everything of a room once the room is chosen, not before @long', async () => {
    begin([runSummary()])
    const asked = await report('All newest reports of a room…')
    const save = asked.getByRole('button', { name: 'Save as ZIP' })
    expect(save.hasAttribute('disabled')).toBe(true)
    await hands.pressThis(asked.getByRole('combobox', { name: 'Room' }))
    await hands.pressThis((await screen.findAllByTitle('Lantern Hall')).at(-1)!)
    expect(save.hasAttribute('disabled')).toBe(false)
    await hands.pressThis(save)
    expect(opened).toEqual(['/api/rooms/5/reports'])
  })
})

describe('what reports carry', () => {
  const signs = async (more: typeof api.answers = {}) => {
    begin([runSummary()], { role: 'administrator', more })
    return report('Studio’s name and logo…')
  }
  const logo = (bytes = 900, type = 'image/png') => new File([new Uint8Array(bytes)], 'lantern.png', { type })
  const give = (file: File) => user.upload(screen.getByLabelText('Logo'), file)
  /** What was sent, with its body as it was: a file is no JSON. */
  const sends = () => {
    const sent: { path: string; method: string; kind: string }[] = []
    const before = globalThis.fetch
    globalThis.fetch = ((path: string, init: RequestInit) => {
      if (path !== '/api/settings/logo') return before(path, init)
      sent.push({ path, method: init.method!, kind: (init.headers as Record<string, string>)['content-type'] })
      const { status = 200, body } = api.answers[`${init.method} ${path}`] ?? { body: null }
      return Promise.resolve({ ok: status < 400, status, json: async () => body })
    }) as never
    return sent
  }

  test('is an administrator’s to say @long', async () => {
    begin([runSummary()])
    await rows()
    await hands.press('Reports')
    await screen.findByText('All newest reports of a room…')
    expect(screen.queryByText('Studio’s name and logo…')).toBeNull()
  })

  test('its name is saved, and everything else stays as it was @long', async () => {
    const asked = await signs()
    const field = asked.getByLabelText('Studio’s name')
    expect((field as HTMLInputElement).value).toBe('Fen & Lantern')
    await user.clear(field)
    await user.type(field, 'Fen')
    await hands.pressThis(asked.getByRole('button', { name: 'Save name' }))
    await waitFor(() => expect(api.sent).toHaveLength(1))
    expect(api.sent[0].body).toEqual({ ...usualSettings, studioName: 'Fen', accepted: 0.07 })
  })

  test('a logo goes as it is, of its own kind; what the server refuses is said @long', async () => {
    await signs()
    const sent = sends()
    await give(logo())
    await waitFor(() => expect(sent).toEqual([{ path: '/api/settings/logo', method: 'PUT', kind: 'image/png' }]))
    api.answers['PUT /api/settings/logo'] = refusal(400, 'A logo has at most 4,000 pixels a side.', 'logo')
    await give(logo())
    expect(await screen.findByText('A logo has at most 4,000 pixels a side.')).toBeTruthy()
  })

  test('one that is too large is not even sent, one that fails on the way is told @long', async () => {
    await signs()
    const sent = sends()
    const huge = logo()
    Object.defineProperty(huge, 'size', { value: 48_000_000 })
    await give(huge)
    expect(await screen.findByText('lantern.png is larger than 32 MB.')).toBeTruthy()
    expect(sent).toEqual([])
    globalThis.fetch = (() => Promise.reject(new TypeError('Failed to fetch'))) as never
    await give(logo())
    expect(await screen.findByText('The server does not answer. See that it runs, then try again.')).toBeTruthy()
  })
})
