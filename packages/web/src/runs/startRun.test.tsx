/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import type { Aim } from '@bichroma/core/aims'
import type { DisplayDetail, RunOutlook } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { display as listed, slot } from '../test/fixtures'
import { hands } from '../test/formHands'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { StartRun } from './StartRun'

const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const aims = [
  { id: 4, name: 'Atlas web', aim, updatedAt: 0 },
  { id: 5, name: 'Atlas print', aim: { ...aim, luminance: 90 }, updatedAt: 0 },
  { id: 6, name: 'Dome loop', aim: { ...aim, toneResponse: { kind: 'PQ' } }, updatedAt: 0 },
]
const outlook: RunOutlook[] = [
  {
    kind: 'full',
    sampling: 'usual',
    readings: 202,
    minutes: 3,
    from: 0,
    alike: null,
    averageDeltaE: null,
    worstDeltaE: null,
  },
  {
    kind: 'check',
    sampling: null,
    readings: 40,
    minutes: 1,
    from: 0,
    alike: null,
    averageDeltaE: null,
    worstDeltaE: null,
  },
]
const profile = { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' }
const detail = (change: object = {}) =>
  ({
    ...listed(),
    slots: [
      slot(),
      slot({ number: 2, label: 'Atlas print', active: false, judged: null }),
      slot({ number: 3, label: null, aim: null, active: false, judged: null, writtenAt: null, writtenBy: null }),
    ],
    holds: '1D+3D',
    gamutTargets: 'any',
    room: { id: 1, name: 'Atlas plates' },
    workstation: { id: 1, name: 'sedge-01', courierOnline: true },
    runs: [],
    ...change,
  }) as unknown as DisplayDetail

const begin = (change: object = {}) =>
  api.begin({
    'GET /api/displays?limit=50': { body: { items: [listed()], next: null, total: 1, more: false } },
    'GET /api/displays/1': { body: detail(change) },
    'GET /api/displays/1/outlook': { body: outlook },
    'GET /api/aims': { body: aims },
    'GET /api/rooms': { body: [] },
    'GET /api/instruments': {
      body: [{ id: 1, model: 'C3', serial: 'TC-0417', workstationId: 1, kept: 'in use', kind: 'colorimeter' }],
    },
    'GET /api/settings': { body: { profile, night: { from: '20:00', to: '06:00', idleMinutes: 30 } } },
    'POST /api/runs': { body: { id: 31 } },
  })
beforeEach(() => begin())
afterEach(() => api.end())

const open = (address = '/runs/new') =>
  show(
    <Routes>
      <Route path="/runs/new" element={<StartRun />} />
      <Route path="/runs/31" element={<p>the sheet of run 31</p>} />
      <Route path="/runs" element={<p>the list of runs</p>} />
    </Routes>,
    address,
  )
const ready = () => screen.findByText(/TC-0417 is plugged in/)
const bodies = () => api.sent.map((s) => s.body)

test('a full run says what it overwrites, and sends that so that nothing else is overwritten @long', async () => {
  open()
  await ready()
  expect(screen.getByText(/This run overwrites it\. Stopping the run puts it back\./)).toBeTruthy()
  await hands.press('Start full run and overwrite “Atlas web”')
  expect(await screen.findByText('the sheet of run 31')).toBeTruthy()
  expect(bodies()).toEqual([
    { displayId: 1, kind: 'full', slot: 1, begins: 'now', aimId: 4, overwrites: 'Atlas web', sampling: 'usual' },
  ])
})

test('an empty slot is told to be empty, and the aim is one that the display can be brought to @long', async () => {
  open('/runs/new?display=1&slot=3')
  await ready()
  expect(screen.getByText('Slot 3 is empty; nothing is overwritten.')).toBeTruthy()
  await hands.choose('Aim', 'Atlas print')
  await hands.press('Start full run into slot 3')
  await waitFor(() => expect(bodies()).toHaveLength(1))
  expect(bodies()[0]).toMatchObject({ slot: 3, aimId: 5, overwrites: '' })
})

test('an aim that a full run cannot make is there and cannot be chosen, with the reason @long', async () => {
  open()
  await ready()
  await hands.choose('Aim', 'Dome loop')
  const option = screen.getAllByText('Dome loop').at(-1)!.closest('[title]')!
  expect(option.getAttribute('title')).toMatch(/cannot make PQ yet/)
  await hands.press('Start full run and overwrite “Atlas web”')
  await waitFor(() => expect(bodies()).toHaveLength(1))
  expect(bodies()[0]).toMatchObject({ aimId: 4 })
})

test('a budget stands in place of a sampling, never beside it @long', async () => {
  open()
  await ready()
  await hands.take('Sampling', 'a budget')
  await hands.write('Budget', '25')
  await hands.press('Start full run and overwrite “Atlas web”')
  await waitFor(() => expect(bodies()).toHaveLength(1))
  expect(bodies()[0]).toMatchObject({ budget: { kind: 'minutes', most: 25 } })
  expect(bodies()[0]).not.toHaveProperty('sampling')
})

test('checks of several slots are asked for one after another; the first begins, the others take their turn @long', async () => {
  open('/runs/new?display=1&kind=check')
  await ready()
  await hands.tick(/Atlas print/)
  await hands.press('Start 2 check runs, slots 1, 2')
  expect(await screen.findByText('the list of runs')).toBeTruthy()
  expect(bodies()).toEqual([
    { displayId: 1, kind: 'check', slot: 1, begins: 'now', patches: { kind: 'plan', name: 'usual' } },
    { displayId: 1, kind: 'check', slot: 2, begins: 'turn', patches: { kind: 'plan', name: 'usual' } },
  ])
})

test('a run at night says between when, and goes to the list of runs @long', async () => {
  open()
  await ready()
  await hands.take(null, 'at night')
  expect(screen.getByText(/Between 20:00 and 06:00, once the workstation was left alone for 30 minutes/)).toBeTruthy()
  await hands.press('Queue full run and overwrite “Atlas web”')
  expect(await screen.findByText('the list of runs')).toBeTruthy()
  expect(bodies()[0]).toMatchObject({ begins: 'night' })
})

test('what is to be refreshed must be there', async () => {
  open('/runs/new?display=1&kind=refresh&slot=3')
  await ready()
  expect(screen.getByText('Slot 3 is empty; there is nothing to refresh.')).toBeTruthy()
  expect((screen.getByRole('button', { name: /refresh of slot 3/ }) as HTMLButtonElement).disabled).toBe(true)
})

test('what the server refuses stands above the button, and what was chosen stays @long', async () => {
  api.answers['POST /api/runs'] = refusal(409, 'Slot 1 holds “Loop video” by now. Look again.', 'overwrites')
  open()
  await ready()
  await hands.take('Sampling', 'brief')
  await hands.press('Start full run and overwrite “Atlas web”')
  expect((await screen.findByRole('alert')).textContent).toContain('Slot 1 holds “Loop video” by now. Look again.')
  expect(bodies()[0]).toMatchObject({ sampling: 'brief' })
  // Another choice, and the refusal of the one before is gone.
  await hands.take(null, 'Baseline')
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
})

test('a courier that is away, and an instrument that is elsewhere, are told before anything is tried @long', async () => {
  begin({ workstation: { id: 1, name: 'sedge-01', courierOnline: false } })
  open()
  expect(await screen.findByText('away: start it first')).toBeTruthy()
})

test('an address that names no display there is opens the first whose courier is there @long', async () => {
  open('/runs/new?display=-3')
  await ready()
  await hands.press('Start full run and overwrite “Atlas web”')
  await waitFor(() => expect(bodies()).toHaveLength(1))
  expect(bodies()[0]).toMatchObject({ displayId: 1 })
})
