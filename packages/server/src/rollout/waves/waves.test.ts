import type { DataSource } from 'typeorm'
import type { WaveState } from '@bichroma/core/rollout'
import { LooseStore } from '../../test/looseStore'
import { Ledger } from '../../ledger/ledger'
import { waveEntity, type WaveRow } from '../entities'
import { Waves } from './waves'

const now = Date.UTC(2026, 10, 30)
const marit = { id: 1, name: 'Marit' }
let store: LooseStore
let data: DataSource
let waves: Waves
let tended: readonly number[][]
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  tended = []
  waves = new Waves({
    data,
    hub: {} as never,
    ledger: new Ledger(data, () => now),
    now: () => now,
    tend: (workstations) => (tended = [...tended, [...workstations]]),
    changed: () => {},
  })
})
afterEach(async () => {
  await waves.close()
  await store.close()
})

/** A wave in a state, one of whose two displays still waits for its turn; gives its number. */
async function wave(state: WaveState | 'preparing'): Promise<number> {
  const { id } = await data.getRepository(waveEntity).save({
    name: 'Plates',
    selection: {},
    state,
    first: 1,
    gate: 'word',
    stopShare: 0.2,
    word: false,
    excused: 0,
    startedAt: now,
    accountId: 1,
    expiresAt: now + 86_400_000,
    endedAt: state === 'done' ? now : null,
  } as Omit<WaveRow, 'id'> as WaveRow)
  await data.query(
    `INSERT INTO wave_item (wave_id, display_id, workstation_id, step, action, scope, state) VALUES (?, 1, 4, 2, 'place', 'machine', 'held back')`,
    [id],
  )
  return id
}
const stateOf = async (id: number) => (await data.getRepository(waveEntity).findOneByOrFail({ id })).state
const acts = async () => (await data.query<{ act: string }[]>('SELECT act FROM ledger ORDER BY id')).map((l) => l.act)
const does = {
  pause: (id: number) => waves.pause(id, marit),
  'go on': (id: number) => waves.goOn(id, false, marit),
  word: (id: number) => waves.goOn(id, true, marit),
  undo: (id: number) => waves.undo(id, marit),
}

test.each<[WaveState, keyof typeof does, becomes: string, act: string | null]>([
  ['under way', 'pause', 'paused', 'stopped'],
  ['under way', 'go on', 'This wave is under way already.', null],
  ['under way', 'word', 'under way', 'confirmed'],
  ['under way', 'undo', 'undoing', 'undid'],
  ['paused', 'pause', 'This wave is paused; there is nothing to pause.', null],
  ['paused', 'go on', 'under way', 'resumed'],
  ['paused', 'undo', 'undoing', 'undid'],
  ['stopped', 'go on', 'under way', 'resumed'],
  ['stopped', 'word', 'under way', 'resumed'],
  ['done', 'pause', 'This wave is done; there is nothing to pause.', null],
  ['done', 'word', 'This wave is done; it does not go on.', null],
  ['done', 'undo', 'undoing', 'undid'],
  ['undoing', 'undo', 'This wave is undoing already.', null],
  ['undoing', 'go on', 'This wave is undoing; it does not go on.', null],
  ['undone', 'undo', 'This wave is undone already.', null],
])('a wave that is %s, told to %s: %s', async (state, what, becomes, act) => {
  const id = await wave(state)
  const asked = does[what](id)
  if (!act) {
    await expect(asked).rejects.toThrow(becomes)
    expect([await stateOf(id), await acts()]).toEqual([state, []])
    return
  }
  await asked
  const { word, endedAt } = await data.getRepository(waveEntity).findOneByOrFail({ id })
  expect([await stateOf(id), await acts()]).toEqual([becomes, [act]])
  expect([word, endedAt]).toEqual([what === 'word', null])
})

test('there is none that is still being prepared', async () => {
  const id = await wave('preparing')
  for (const act of Object.values(does)) await expect(act(id)).rejects.toThrow(`There is no wave ${id}.`)
  await expect(does.undo(99)).rejects.toThrow('There is no wave 99.')
})

test('of two who change a wave at once one has the word, and the other is told', async () => {
  const id = await wave('paused')
  const [on, back] = await Promise.allSettled([does['go on'](id), does.undo(id)])
  expect(back.status).toBe('fulfilled')
  expect(on).toMatchObject({
    status: 'rejected',
    reason: { sentence: 'This wave has changed since you looked. Look at it again.' },
  })
  expect([await stateOf(id), await acts()]).toEqual(['undoing', ['undid']])
})

test('what failed is tried again at once when a wave goes on, where it failed', async () => {
  const id = await wave('stopped')
  const placement = (workstation: number, waveId: number, state: string, fault: string | null) =>
    data.query(
      `INSERT INTO placement (display_id, workstation_id, wave_id, description, scope, state, requested_at, fault, next_try_at)
       VALUES (1, ?, ?, 'Plates', 'machine', ?, ?, ?, 99)`,
      [workstation, waveId, state, now, fault],
    )
  await placement(4, id, 'queued', 'device')
  await placement(5, id, 'queued', null)
  await placement(6, id, 'sent', 'device')
  await placement(7, id + 1, 'queued', 'device')
  await does['go on'](id)
  const tries = await data.query<{ at: number | null }[]>('SELECT next_try_at AS at FROM placement ORDER BY id')
  expect(tries.map((t) => t.at)).toEqual([null, 99, 99, 99])
  expect(tended.map((t) => [...t].sort())).toEqual([[4, 5]])
})
