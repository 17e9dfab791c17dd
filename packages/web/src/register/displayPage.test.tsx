/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { DisplayDetail, Instrument, Role } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { day, display, judged, now, reviewOf, rolloutRow, runSummary, slot } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { DisplayPage } from './DisplayPage'

const room = (name: string, building: string | null = 'Mill') => ({ id: 1, name, building }) as DisplayDetail['room']
const detail = (change: Partial<DisplayDetail> = {}): DisplayDetail =>
  ({
    ...display(),
    slots: [slot(), slot({ number: 2, label: null, aim: null, writtenAt: null, active: false, judged: null })],
    holds: '1D+3D',
    kept: 'in use',
    keptSince: null,
    keptWhy: null,
    room: room('Plate Room'),
    workstation: {
      id: 1,
      name: 'sedge-01',
      roomId: 1,
      operatingSystem: 'linux',
      systemVersion: '12',
      courierOnline: true,
      courierSeenAt: null,
    },
    rollout: rolloutRow(),
    runs: [],
    ...change,
  }) as DisplayDetail
const instrument = (change: Partial<Instrument>) =>
  ({
    ...{ id: 1, maker: 'Tessel', model: 'C3', serial: 'TC-1', kind: 'colorimeter', certifiedAt: null },
    ...{ workstationId: 1, workstation: 'sedge-01', room: room('Plate Room'), runId: null, kept: 'in use' },
    ...change,
  }) as Instrument

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const begin = (of: DisplayDetail, { role = 'technician' as Role, more = {} as typeof api.answers } = {}) => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/displays/1': { body: of },
    'GET /api/instruments': { body: [instrument({})] },
    'GET /api/runs/7/review': { body: reviewOf() },
    'GET /api/displays/1/rollout': { status: 404, body: { title: 'x', status: 404, detail: 'None.' } },
    ...more,
  })
  return showAt('/register/:id', <DisplayPage />, '/register/1')
}
beforeAll(() => layOut(30))
afterEach(() => {
  cleanup()
  api.end()
})
const top = async () => (await screen.findByRole('heading', { level: 1 })).closest<HTMLElement>('.top')!
const acts = async () => [...(await top()).querySelectorAll('.acts button')].map((b) => b.textContent)

test('what it is, where it stands, what is in force and when it falls due @long', async () => {
  begin(detail())
  const text = (await top()).textContent
  for (const words of [
    'Sedge 1',
    'within, read ',
    'Quillon Q27 · serial Q-1 · firmware 3.1',
    'Plate Room, on workstation sedge-01 (Linux 12, courier online)',
    'profile in force',
  ])
    expect(text).toContain(words)
  expect((await top()).querySelector('.asks')).toBeNull()
})

test('never read is said, and what is overdue asks', async () => {
  const never = [slot({ judged: null })]
  begin(detail({ slots: never, verdict: 'unproven', dueState: 'overdue', dueAt: Date.now() - 3 * day, rollout: null }))
  const place = await top()
  expect(place.textContent).toContain('never read')
  expect(place.textContent).toContain('no profile placed')
  expect(within(place).getByText(/^due line 3 days over/).className).toBe('asks')
  expect(screen.queryByRole('link', { name: /open review$/ })).toBeNull()
})

describe('an instrument', () => {
  test.each<[string, Partial<Instrument>[], string]>([
    [
      'in the room',
      [{ workstationId: 4, workstation: 'sedge-04' }],
      'No instrument is at sedge-01. The nearest, C3 TC-1, is at sedge-04 in this room.',
    ],
    [
      'in another room, at work',
      [{ workstationId: 4, workstation: 'loft-04', room: room('Loft'), runId: 8 }],
      'No instrument is at sedge-01. The nearest, C3 TC-1, is at loft-04 in Loft, in a run.',
    ],
    ['nowhere', [{ workstationId: null }], 'No instrument is at sedge-01. None is plugged in anywhere.'],
  ])('that lies %s is told before somebody goes for nothing', async (_, lie, words) => {
    begin(detail(), { more: { 'GET /api/instruments': { body: lie.map(instrument) } } })
    expect((await screen.findByText(/^No instrument is at/)).textContent).toBe(words)
  })

  test('that is there, or a display that is away, needs no word', async () => {
    begin(detail({ live: false }), { more: { 'GET /api/instruments': { body: [] } } })
    await top()
    await api.settled()
    expect(api.asked).toContain('/api/instruments')
    expect(screen.queryByText(/^No instrument is at/)).toBeNull()
  })
})

describe('what can be started', () => {
  const all = ['Show me which', 'Start check run', 'Start full run']
  test.each<[string, Partial<DisplayDetail>, Role, string[]]>([
    ['by a technician', {}, 'technician', all],
    ['by a viewer', {}, 'viewer', []],
    ['while it runs', { runId: 8 }, 'viewer', ['Open the run']],
    ['on one that is stored', { kept: 'stored', rollout: null }, 'administrator', []],
  ])('%s', async (_, change, role, may) => {
    begin(detail(change), { role })
    await top()
    await api.settled()
    expect(await acts()).toEqual(may)
  })

  test('no check of a slot that holds nothing', async () => {
    begin(detail({ slots: [slot({ label: null, aim: null, judged: null })] }))
    const check = await screen.findByRole<HTMLButtonElement>('button', { name: 'Start check run' })
    expect(check.disabled).toBe(true)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Start full run' }).disabled).toBe(false)
  })

  test('the display shows its name, or why it cannot @long', async () => {
    begin(detail(), { more: { 'POST /api/displays/1/name': { body: { seconds: 20 } } } })
    await hands.pressThis(await screen.findByRole('button', { name: 'Show me which' }))
    expect(await screen.findByText('Sedge 1 shows its name and number for 20 seconds.')).toBeTruthy()
    api.answers['POST /api/displays/1/name'] = refusal(409, 'It is in a run.', 'id')
    await hands.press('Show me which')
    expect(await screen.findByText('It is in a run.')).toBeTruthy()
  })
})

test('its rack says what each slot holds, and that one is unsure', async () => {
  const unsure = slot({ number: 2, active: false, unsure: true, judged: null })
  begin(detail({ slots: [slot(), unsure] }))
  const rack = (await screen.findByRole('heading', { name: 'Rack' })).closest('section')!
  expect(rack.textContent).toContain('2 slots, each for')
  expect(rack.textContent).toMatch(/1.*Atlas web.*2.*Unsure.*a write was cut short: write it again/)
})

test('past runs lead to what became of them, the newest eight @long', async () => {
  const runs = Array.from({ length: 11 }, (_, i) =>
    runSummary({
      id: 40 - i,
      ...(i === 1 && { judged: null, state: 'stopped' as const }),
      ...(i !== 1 && { judged: judged({ at: now - i * day }) }),
    }),
  )
  begin(detail({ runs }))
  const plane = (await screen.findByRole('heading', { name: 'Runs' })).closest('section')!
  const rows = within(plane).getAllByRole<HTMLTableRowElement>('row')
  expect(rows).toHaveLength(8)
  expect(plane.textContent).toContain('11')
  expect(rows[0].textContent).toContain('0.42 average, worst Alder leaf')
  expect(rows[1].textContent).toContain('stopped')
  expect(within(rows[1]).getByRole('link').getAttribute('href')).toBe('/runs/39')
})

test('one that was put away says since when and why, and keeps its history', async () => {
  begin(
    detail({
      kept: 'retired',
      keptSince: Date.UTC(2026, 4, 2, 12),
      keptWhy: 'Its panel is cracked',
      rollout: null,
      runs: [runSummary()],
    }),
  )
  expect((await top()).textContent).toMatch(
    /Retired since 2 May( 2026)?, stood at sedge-01, Plate Room · Its panel is cracked/,
  )
  expect(screen.queryByRole('heading', { name: /^Profile/ })).toBeNull()
  expect(screen.getByRole('heading', { name: 'Runs' })).toBeTruthy()
})

test('sets in which it must look alike are named, and how many more there are', async () => {
  const items = [
    { id: 3, name: 'Wall' },
    { id: 4, name: 'Suite' },
  ]
  begin(detail(), {
    more: { 'GET /api/peer-sets?display=1&limit=3': { body: { items, next: 'x', total: 5, more: false } } },
  })
  await screen.findByRole('link', { name: 'Wall' })
  expect((await top()).textContent).toContain('must look alike in Wall, Suite and 3 more')
})

test('a display that nobody registered says so', async () => {
  begin(detail(), {
    more: {
      'GET /api/displays/1': { status: 404, body: { title: 'x', status: 404, detail: 'There is no display 1.' } },
    },
  })
  expect((await screen.findByRole('alert')).textContent).toContain('There is no display 1.')
})
