/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor } from '@testing-library/react'
import { runKinds } from '@bichroma/core/runs'
import type { Role, RunDetail } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { judged, now, run } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { RunSheet } from './RunSheet'

beforeAll(() => layOut(30))

const api = new StubbedApi()
const begin = (of: RunDetail, { role = 'technician' as Role, more = {} as typeof api.answers } = {}) => {
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [] },
    'GET /api/runs/9': { body: of },
    ...more,
  })
  return showAt('/runs/:id', <RunSheet />, '/runs/9')
}
afterEach(() => {
  cleanup()
  api.end()
})
const head = async () => (await screen.findByRole('heading', { level: 1 })).closest('header')!
const acts = async () => [...(await head()).querySelectorAll('.acts button')].map((b) => b.textContent)
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}

test('it says what runs where, by which aim and with what @long', async () => {
  begin(run())
  const text = (await head()).textContent
  expect(text).toContain('Full run, Sedge 1, slot 1')
  expect(text).toContain('Aim Atlas web: sRGB · D65 · 120 cd/m²')
  expect(text).toContain('Colorimeter C3 TC-0417 · Marit Oyen')
  expect((await screen.findByTestId('time-left')).textContent).toBe('≈ 2 min left, from 2 readings so far')
})

describe('what can be done', () => {
  const ended = { endedAt: now, judged: judged() }
  test.each<[string, Partial<RunDetail>, string[]]>([
    ['while it runs', {}, ['Stop and put back']],
    ['while it waits in Prove', { state: 'waiting', stage: 'prove' }, ['Go on', 'Stop and put back']],
    ['interrupted', { state: 'interrupted', message: 'The courier is away.' }, ['Resume run', 'Stop and put back']],
    ['while it is put back', { restoring: true }, []],
    [
      'while putting it back waits for the display',
      { state: 'waiting', restoring: true, stage: 'load' },
      ['Go on', 'Let go without putting back'],
    ],
    ['in the queue', { state: 'queued' }, ['Take out of the queue']],
    ['done', { state: 'done', ...ended }, ['Put back what it overwrote', 'Open review']],
    [
      'done and taken back',
      { state: 'done', ...ended, takenBack: { at: now, by: 'Marit Oyen' } as never },
      ['Open review'],
    ],
    ['a check that is done', { state: 'done', kind: 'check', ...ended }, ['Open review']],
    ['even a screen that is read place by place', { state: 'done', kind: 'uniformity', endedAt: now }, []],
    ['failed', { state: 'failed', endedAt: now, message: 'It moved.' }, ['Start again']],
    ['stopped', { state: 'stopped', endedAt: now }, ['Start again']],
  ])('%s', async (_, change, may) => {
    begin(run(change))
    await head()
    await api.settled()
    expect(await acts()).toEqual(may)
  })

  test('by a viewer is to look @long', async () => {
    begin(run({ state: 'waiting', stage: 'prove' }), { role: 'viewer' })
    await head()
    await api.settled()
    expect(await acts()).toEqual([])
    cleanup()
    api.end()
    begin(run({ state: 'done', ...ended }), { role: 'viewer' })
    await head()
    await api.settled()
    expect(await acts()).toEqual(['Open review'])
  })
})

test('stopping asks first, says what becomes of the slot, and sends nothing when it is let run @long', async () => {
  begin(run())
  await hands.pressThis(await screen.findByRole('button', { name: 'Stop and put back' }))
  expect(await screen.findByText('Its readings are kept; the slot is put back as it was.')).toBeTruthy()
  await hands.press('Let it run')
  expect(api.sent).toEqual([])
  await hands.pressThis((await screen.findAllByRole('button', { name: 'Stop and put back' }))[0])
  await waitFor(() => expect(screen.getAllByRole('button', { name: 'Stop and put back' })).toHaveLength(2))
  await hands.pressThis(screen.getAllByRole('button', { name: 'Stop and put back' })[1])
  expect(await sent()).toEqual({ method: 'POST', path: '/api/runs/9/stop', body: { letGo: false } })
})

test('letting go of a display that does not answer says that nobody knows what its slot holds @long', async () => {
  begin(run({ state: 'waiting', restoring: true, stage: 'load' }))
  await hands.pressThis(await screen.findByRole('button', { name: 'Let go without putting back' }))
  expect(await screen.findByText('Its slot stays as it is, and nobody knows in which state.')).toBeTruthy()
  await hands.press('Let go')
  expect((await sent()).body).toEqual({ letGo: true })
})

test('what a finished run overwrote is put back by name, and a refusal is told @long', async () => {
  const detail = 'Slot 1 has been written to since.'
  begin(run({ state: 'done', endedAt: now, judged: judged(), overwrote: 'Old plates' }), {
    more: { 'POST /api/runs/9/put-back': refusal(409, detail, 'slot') },
  })
  await hands.pressThis(await screen.findByRole('button', { name: 'Put back what it overwrote' }))
  expect(await screen.findByText('It will hold “Old plates” again, as before this run.')).toBeTruthy()
  await hands.press('Put it back')
  expect((await sent()).path).toBe('/api/runs/9/put-back')
  expect(await screen.findByText(detail)).toBeTruthy()
})

test('why it ended stands where everybody reads it, once', async () => {
  const message = 'White moved by 4 % between two looks.'
  begin(run({ state: 'failed', endedAt: now, message }))
  expect((await screen.findByRole('alert')).textContent).toBe(message)
  expect(screen.getAllByText(message)).toHaveLength(1)
})

test('an instrument that watches a room is asked back there once the run is over, and not before @long', async () => {
  const watch = { instrument: run().instrument, state: 'away', standing: 'unknown', out: null }
  const more = { 'GET /api/rooms': { body: [{ id: 3, name: 'Loft', watch }] } }
  begin(run(), { more })
  await head()
  await api.settled()
  expect(screen.queryByText(/^Lay/)).toBeNull()
  cleanup()
  api.end()
  begin(run({ state: 'done', endedAt: now, judged: judged() }), { more })
  expect((await screen.findByText(/^Lay/)).textContent).toBe(
    'Lay Colorimeter C3 TC-0417 back in Loft, its diffuser in front: it watches the light there.',
  )
})

test.each(Object.keys(runKinds) as (keyof typeof runKinds)[])('a %s run has a sheet', async (kind) => {
  begin(run({ kind, stage: runKinds[kind].stages[1] }))
  expect((await head()).textContent).toContain(`${runKinds[kind].label}, Sedge 1`)
})
