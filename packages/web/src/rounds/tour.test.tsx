/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import type { Role, Tour, Visit } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { at, minute, visit } from '../test/visits'
import { TourPage } from './TourPage'
import { useTapped } from './useTapped'

const place = (id: number, name: string): Visit['display'] => ({
  ...visit().display,
  id,
  name,
  workstation: `plate-${id}`,
  white: { x: 0.313, y: 0.329 },
  aimWhite: { x: 0.3127, y: 0.329 },
})
const desk = (n: number, change: Partial<Visit> = {}): Visit =>
  visit({
    id: n,
    display: place(n, `Plate ${n}`),
    at: at('2026-11-24T10:00') + n * 20 * minute,
    endsAt: at('2026-11-24T10:15') + n * 20 * minute,
    wokenAt: null,
    ...change,
  })
const tourOf = (visits: Visit[], change: Partial<Tour> = {}): Tour => ({
  person: { id: 2, name: 'Tobin Reyk' },
  date: '2026-11-24',
  zone: 'Europe/Oslo',
  now: at('2026-11-24T09:55'),
  visits,
  instruments: [{ id: 5, name: 'Colorimeter C3 TC-0417' }],
  people: [
    { id: 2, name: 'Tobin Reyk' },
    { id: 3, name: 'Ilse Haar' },
  ],
  ...change,
})

const api = new StubbedApi()
const begin = (tour: Tour, { role = 'technician', more = {} }: { role?: Role; more?: typeof api.answers } = {}) => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [] },
    'GET /api/pulse': { body: { running: [] } },
    'GET /api/rounds/tour': { body: tour },
    ...more,
  })
  window.history.replaceState(null, '', '/rounds/tour')
  return showInApp(<TourPage />, '/rounds/tour')
}
const deskNow = () => screen.findByRole('region', { name: 'This desk' })
afterEach(() => {
  cleanup()
  api.end()
  useTapped.setState({ waiting: [], refused: [] })
})

describe('one desk at a time', () => {
  test('says where, when, with what and what is done there @long', async () => {
    begin(tourOf([desk(1, { wokenAt: at('2026-11-24T09:50') }), desk(2)]))
    const text = (await deskNow()).textContent!
    for (const words of [
      '10:20–10:35',
      '1 of 2',
      'Plate 1',
      'Plate Room, plate-1',
      'Colorimeter C3 TC-0417',
      'Seat it, then start the check run of Atlas web. It runs alone.',
      'Woken at 09:50',
    ])
      expect(text).toContain(words)
    expect(screen.getByRole('heading', { level: 1 }).textContent).toMatch(/24 Nov/)
    expect(screen.getByText('0 of 2 done')).toBeTruthy()
  })

  test('the next and the one before can be looked at, and there is none beyond the ends @long', async () => {
    begin(tourOf([desk(1), desk(2), desk(3, { attended: true })]))
    const before = await screen.findByRole<HTMLButtonElement>('button', { name: '← The desk before' })
    const next = screen.getByRole<HTMLButtonElement>('button', { name: 'The next desk →' })
    expect(before.disabled).toBe(true)
    await hands.pressThis(next)
    await hands.pressThis(next)
    expect((await deskNow()).textContent).toContain('3 of 3')
    expect((await deskNow()).textContent).toContain('Stay with it.')
    expect(next.disabled).toBe(true)
    await hands.pressThis(before)
    expect(within(await deskNow()).getByRole('heading').textContent).toBe('Plate 2')
    expect(api.sent).toEqual([])
  })

  test('what ended the run of a visit that lies ahead again is told', async () => {
    begin(tourOf([desk(1, { reason: 'The instrument was pulled out.' })]))
    expect((await screen.findByRole('alert')).textContent).toBe('The instrument was pulled out.')
  })

  test('that is not lit as it should be says so before anything is begun @long', async () => {
    const watch = {
      standing: 'out too long',
      out: { since: at('2026-11-24T08:00'), problem: '310 lx, 20 to 64 wanted' },
    }
    begin(tourOf([desk(1)]), {
      more: { 'GET /api/rooms': { body: [{ id: 1, name: 'Plate Room', holdsRuns: 'some', watch }] } },
    })
    expect((await screen.findByText(/The light of/)).textContent).toMatch(
      /^The light of Plate Room is out of what is wanted since .*: 310 lx, 20 to 64 wanted\. Runs that need it wait/,
    )
  })
})

describe('a tap', () => {
  test('starts the run, and the next desk is shown meanwhile @long', async () => {
    begin(tourOf([desk(1), desk(2)]))
    await hands.pressThis(await screen.findByRole('button', { name: 'Start check run' }))
    await waitFor(() => expect(api.sent).toEqual([{ method: 'POST', path: '/api/visits/1/begin', body: {} }]))
    await waitFor(() => expect(useTapped.getState().waiting).toEqual([]))
  })

  test('without a connection waits, says so, and is sent once the server answers @long', async () => {
    const lost = { status: 503, body: { type: 'x', title: 'x', status: 503, detail: 'It starts.' } }
    begin(tourOf([desk(1), desk(2)]), { more: { 'POST /api/visits/1/begin': lost } })
    await hands.pressThis(await screen.findByRole('button', { name: 'Start check run' }))
    expect((await screen.findByText(/^One tap waits/)).textContent).toContain('It is sent as soon as it answers.')
    // The desk that is seen to gives its place to the next; it can be gone back to, and not be tapped again.
    expect(within(await deskNow()).getByRole('heading').textContent).toBe('Plate 2')
    await hands.press('← The desk before')
    const tapped = await screen.findByRole<HTMLButtonElement>('button', { name: 'Is being started' })
    expect(tapped.disabled).toBe(true)
    delete api.answers['POST /api/visits/1/begin']
    fireEvent(window, new Event('online'))
    await waitFor(() => expect(screen.queryByText(/^One tap waits/)).toBeNull())
    expect(api.sent.at(-1)).toMatchObject({ path: '/api/visits/1/begin' })
  })

  test('that is refused says why, by the name of the display, until it was read @long', async () => {
    begin(tourOf([desk(1), desk(2)]), {
      more: { 'POST /api/visits/1/begin': refusal(409, 'Plate 1 is in another run.', 'visit') },
    })
    await hands.pressThis(await screen.findByRole('button', { name: 'Start check run' }))
    expect((await screen.findByText(/in another run/)).textContent).toContain('Plate 1: Plate 1 is in another run.')
    await hands.press('Read')
    expect(screen.queryByText(/in another run/)).toBeNull()
  })

  test('says that a visit is not possible, and why, in words of one’s own too @long', async () => {
    begin(tourOf([desk(1)]))
    await hands.pressThis(await screen.findByRole('button', { name: 'Not possible…' }))
    const why = screen.getByRole('group', { name: 'Why is it not possible?' })
    expect(within(why).getByRole<HTMLButtonElement>('button', { name: 'Say so' }).disabled).toBe(true)
    await hands.write('Another reason', 'x ')
    expect(within(why).getByRole<HTMLButtonElement>('button', { name: 'Say so' }).disabled).toBe(true)
    await hands.write('Another reason', '  The stand is broken ')
    await hands.press('Say so')
    await waitFor(() =>
      expect(api.sent).toEqual([{ method: 'POST', path: '/api/visits/1/block', body: { why: 'The stand is broken' } }]),
    )
  })
})

test('what runs is above, by how far it is, and asks where it waits for hands @long', async () => {
  begin(tourOf([desk(1, { state: 'begun', runId: 71 }), desk(2, { state: 'begun', runId: 72 }), desk(3)]), {
    more: {
      'GET /api/pulse': {
        body: {
          running: [
            { runId: 71, state: 'running', stage: 'prove', done: 0.4, secondsLeft: 200 },
            { runId: 72, state: 'waiting', stage: 'ready', done: 0, secondsLeft: 300 },
          ],
        },
      },
    },
  })
  const going = await screen.findByRole('region', { name: 'Going on' })
  const [runs, waits] = await within(going).findAllByRole('link')
  await waitFor(() => expect(runs.textContent).toMatch(/Plate 1Prove, .* left/))
  expect(runs.getAttribute('href')).toBe('/runs/71')
  expect(runs.className).toBe('')
  expect(waits.textContent).toContain('waits for hands')
  expect(waits.className).toBe('asks')
})

describe('what is over', () => {
  test('stays below with its verdict, or why it was not possible', async () => {
    begin(
      tourOf([
        desk(1, { state: 'done', runId: 71 }),
        desk(2, { state: 'blocked', reason: 'The room is locked' }),
        desk(3, { state: 'missed' }),
      ]),
    )
    const done = await screen.findByRole('region', { name: 'Done' })
    expect([...done.children].map((line) => line.textContent)).toEqual([
      'Plate 1within',
      'Plate 2not possible: The room is locked',
      'Plate 3missed',
    ])
    expect(screen.getByText('The tour is done.')).toBeTruthy()
    expect(screen.getByText('3 of 3 done')).toBeTruthy()
    expect(screen.queryByRole('region', { name: 'This desk' })).toBeNull()
  })

  test.each([
    [2, 'Nothing is planned.'],
    [9, 'You go to no displays yourself.'],
  ])('of a person %i with nothing to do says so', async (id, words) => {
    begin(tourOf([], { person: { id, name: 'Somebody' } }))
    expect(await screen.findByText(words)).toBeTruthy()
    expect(screen.getByText('There is nobody to go to.')).toBeTruthy()
  })
})

test('a viewer sees the same and can start nothing', async () => {
  begin(tourOf([desk(1)]), { role: 'viewer' })
  expect((await deskNow()).textContent).toContain('Plate 1')
  await api.settled()
  for (const name of ['Start check run', 'Not possible…']) expect(screen.queryByRole('button', { name })).toBeNull()
})

test('another person’s and another day’s tour are asked for, across the end of a month @long', async () => {
  const [first, next] = ['2026-11-30', '2026-12-01'].map((date) => tourOf([desk(1)], { date }))
  begin(first, {
    more: {
      'GET /api/rounds/tour?date=2026-12-01': { body: next },
      'GET /api/rounds/tour?person=3&date=2026-12-01': { body: next },
    },
  })
  await hands.pressThis(await screen.findByRole('button', { name: 'The day after' }))
  await waitFor(() => expect(api.asked).toContain('/api/rounds/tour?date=2026-12-01'))
  await hands.choose('Whose tour', 'Ilse Haar')
  await waitFor(() => expect(api.asked).toContain('/api/rounds/tour?person=3&date=2026-12-01'))
})
