import type { DataSource } from 'typeorm'
import { usualRules, type Rules } from '@bichroma/core/rollout'
import { LooseStore } from '../test/looseStore'
import { DeviceRefusal, type CourierHub } from '../couriers/hub'
import { Ledger } from '../ledger/ledger'
import { newPlacement, placementEntity, wantedEntity, type PlacementRow, type WantedRow } from './entities'
import { putBack, switchBack } from './keepInForce'
import type { ReadBack } from './recordFound'
import { keepNote, removeOldFiles, rulesOf, setRight } from './upkeep'

const minute = 60_000
const hash = 'a'.repeat(64)
let store: LooseStore
let data: DataSource
let now: number
/** Commands that were sent, and what becomes of the next ones. */
let sent: [command: string, args: unknown][]
let refuses: Error | null
const hub = {
  send: async (workstationId: number, command: string, args: unknown) => {
    expect(workstationId).toBe(4)
    sent.push([command, args])
    if (refuses) throw refuses
    return { value: {} }
  },
} as unknown as CourierHub
const refusal = new DeviceRefusal('device', 'No.')

beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  await data.query(
    `INSERT INTO workstation (id, name, operating_system, system_version, room_id) VALUES (4, 'reed-04', 'linux', '12', 1)`,
  )
  await store.display(1, 4)
  now = Date.UTC(2026, 10, 30)
  sent = []
  refuses = null
})
afterEach(async () => {
  await store.close()
})

const repository = () => data.getRepository(placementEntity)
const placement = (change: Partial<PlacementRow> = {}): Promise<PlacementRow> =>
  repository().save({
    ...newPlacement,
    displayId: 1,
    workstationId: 4,
    action: 'place',
    why: 'person',
    runId: 7,
    slot: 2,
    profileHash: hash,
    fileName: 'Reed-1.icc',
    description: 'Plates, slot 2',
    scope: 'machine',
    state: 'sent',
    requestedAt: now,
    accountId: null,
    waveId: null,
    formerId: null,
    ...change,
  } as never) as never
const stored = (id: number) => repository().findOneByOrFail({ id })
const rules = (change: Partial<Rules>): Rules => ({ ...usualRules, ...change })

describe('a profile that was replaced', () => {
  const services = () => ({ data, hub, ledger: new Ledger(data, () => now), now: () => now })
  const back = async (id: number, whenOther: Rules['whenOther']) =>
    putBack(services(), await stored(id), rules({ whenOther }))

  test('is put back three times within an hour, each in the ledger, and then left alone', async () => {
    const { id } = await placement({ verifiedAt: now, nextTryAt: now } as never)
    for (let n = 1; n <= 3; n++) {
      expect(await back(id, 'put back always')).toBe(true)
      expect(await stored(id)).toMatchObject({ state: 'queued', verifiedAt: null, nextTryAt: null })
      expect((await stored(id)).putBacks).toHaveLength(n)
      await repository().update({ id }, { state: 'sent' })
      now += 10 * minute
    }
    expect(await back(id, 'put back always')).toBe(false)
    expect(await stored(id)).toMatchObject({ state: 'sent', leftAloneAt: now })
    // Whatever the hour, it is left alone until somebody places it again.
    now += 120 * minute
    expect(await back(id, 'put back always')).toBe(false)
    const told = await data.query<{ act: string; name: string; by: string; told: string }[]>(
      'SELECT act, name, by, told FROM ledger',
    )
    expect(told).toHaveLength(3)
    expect(told[0]).toMatchObject({ act: 'put back', by: 'Bichroma', name: 'Reed-1.icc for Reed 1' })
    expect(told[0].told).toContain(hash)
  })

  test('is only told of where the policy says so, and put back once where it says that', async () => {
    const { id } = await placement()
    expect(await back(id, 'tell')).toBe(false)
    expect(await stored(id)).toMatchObject({ state: 'sent', putBacks: [], leftAloneAt: null })
    expect(await back(id, 'put back once')).toBe(true)
    await repository().update({ id }, { state: 'sent' })
    now += 600 * minute
    expect(await back(id, 'put back once')).toBe(false)
    expect(await stored(id)).toMatchObject({ leftAloneAt: now })
  })

  test('without a file is told by its description; times are kept of the last twenty', async () => {
    const times = Array.from({ length: 20 }, (_, i) => now - (100 - i) * 60 * minute)
    const { id } = await placement({ fileName: null, profileHash: null, putBacks: times as never })
    expect(await back(id, 'put back always')).toBe(true)
    expect((await stored(id)).putBacks).toEqual([...times.slice(1), now])
    const [{ name, told }] = await data.query<{ name: string; told: string }[]>('SELECT name, told FROM ledger')
    expect(name).toBe('Plates, slot 2 for Reed 1')
    expect(told).not.toContain('sha256')
  })

  test('that is no more sent meanwhile stays as it is, and nothing is told', async () => {
    const known = await placement()
    await repository().update({ id: known.id }, { state: 'withdrawn' })
    expect(await putBack(services(), known, rules({ whenOther: 'put back always' }))).toBe(false)
    expect(await stored(known.id)).toMatchObject({ state: 'withdrawn', putBacks: [] })
    expect(await data.query('SELECT id FROM ledger')).toEqual([])
  })
})

describe('a slot that somebody switched to', () => {
  const sought = { id: 1, serial: 'R-1', activeSlot: 1, curves: null }
  const services = () => ({ data, hub, ledger: new Ledger(data, () => now), now: () => now })
  const back = async (id: number, change: Partial<Rules>) =>
    switchBack(services(), await stored(id), sought, rules(change))

  test('is switched back to that of the profile, no oftener than three times within an hour', async () => {
    const { id } = await placement()
    expect(await back(id, { whenSwitched: 'tell' })).toBe(false)
    expect(await back(id, { whenSwitched: 'switch back' })).toBe(true)
    expect(sent).toEqual([['display.activateSlot', { serial: 'R-1', slot: 2 }]])
    for (let n = 0; n < 2; n++) expect(await back(id, { whenSwitched: 'switch back' })).toBe(true)
    expect(await back(id, { whenSwitched: 'switch back' })).toBe(false)
    expect((await stored(id)).switchBacks).toEqual([now, now, now])
    now += 60 * minute
    expect(await back(id, { whenSwitched: 'switch back' })).toBe(true)
  })

  test('stays where the policy wants a slot of which no profile lies there', async () => {
    const { id } = await placement()
    expect(await back(id, { whenSwitched: 'switch back', profile: 3 })).toBe(false)
    expect(await back(id, { whenSwitched: 'switch back', profile: 2 })).toBe(true)
  })

  test('stays while a run has the display', async () => {
    const { id } = await placement()
    await data.query(
      `INSERT INTO run (id, display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at)
       VALUES (9, 1, 1, 'check', 'Plates', '{}', '{"rules":[]}', 1, 1, 'running', 'prove', ?)`,
      [now],
    )
    expect(await back(id, { whenSwitched: 'switch back' })).toBe(false)
    expect([sent, (await stored(id)).switchBacks]).toEqual([[], []])
  })

  test('is a try also where the display refuses; what else fails is not passed over', async () => {
    const { id } = await placement()
    refuses = refusal
    expect(await back(id, { whenSwitched: 'switch back' })).toBe(false)
    expect((await stored(id)).switchBacks).toHaveLength(1)
    refuses = new Error('torn')
    await expect(back(id, { whenSwitched: 'switch back' })).rejects.toThrow('torn')
  })
})

/** What holds for display 1 by policy. */
const held = (change: Partial<Rules>): Promise<WantedRow> =>
  data.getRepository(wantedEntity).save({
    displayId: 1,
    kind: 'none',
    slot: null,
    runId: null,
    profileHash: null,
    rules: rules(change),
    origins: {},
    since: now,
    gathered: false,
  } as never) as never
const sought = [{ id: 1, serial: 'R-1', activeSlot: 1, curves: null }]
const upkeep = () => ({ data, hub, now: () => now, workstationId: 4 })

test('what holds is what was worked out last', async () => {
  await held({ keepOld: 9 })
  await held({ keepOld: 1 })
  const found = await rulesOf(data, [1, 2])
  expect([...found.keys()]).toEqual([1])
  expect(found.get(1)!.rules.keepOld).toBe(1)
})

describe('old files', () => {
  const old = (fileName: string, change: Partial<PlacementRow> = {}) =>
    placement({ state: 'withdrawn', tries: 1, fileName, profileHash: fileName.padEnd(64, '0'), ...change })
  const removed = () => sent.map(([, args]) => (args as { fileName: string }).fileName)
  const remove = async (here: readonly number[] = [1]) =>
    removeOldFiles(upkeep(), sought, new Set(here), await rulesOf(data, [1]))

  test('go beyond those that the policy keeps, the oldest, by their bytes, and are asked for once', async () => {
    await held({ keepOld: 2 })
    for (const name of ['1.icc', '2.icc', '3.icc', '4.icc']) await old(name)
    await remove()
    expect(sent).toEqual([
      ['host.removeProfile', { fileName: '2.icc', scope: 'machine', hash: '2.icc'.padEnd(64, '0') }],
      ['host.removeProfile', { fileName: '1.icc', scope: 'machine', hash: '1.icc'.padEnd(64, '0') }],
    ])
    expect((await repository().find({ order: { id: 'ASC' } })).map((p) => p.removedAt)).toEqual([now, now, null, null])
    await remove()
    expect(sent).toHaveLength(2)
  })

  test('are three, where nobody worked out what holds, and none of a display that left', async () => {
    for (const name of ['1.icc', '2.icc', '3.icc', '4.icc']) await old(name)
    await remove()
    expect(removed()).toEqual(['1.icc'])
    await remove([])
    expect(removed()).toEqual(['1.icc', '4.icc', '3.icc', '2.icc'])
  })

  test('are not those that hold, that were never tried, that are gone, or whose name something open has', async () => {
    await held({ keepOld: 0 })
    await old('tried.icc', { tries: 0 })
    await old('gone.icc', { removedAt: now })
    await old('released.icc', { runId: null })
    await old('again.icc')
    await placement({ fileName: 'again.icc', state: 'queued' })
    await old('other.icc', { workstationId: 5 } as never)
    await remove()
    expect(sent).toEqual([])
  })

  test('that were placed twice go once; what is refused is asked for again', async () => {
    await held({ keepOld: 0 })
    await old('twice.icc')
    await old('twice.icc')
    refuses = refusal
    await remove()
    refuses = null
    await remove()
    await remove()
    expect(removed()).toEqual(['twice.icc', 'twice.icc'])
  })
})

describe('what a policy sets right', () => {
  const lookout = {
    name: 'Lookout',
    kind: 'browser',
    colorManagement: 'tagged',
    version4: true,
    settable: true,
  } as const
  const read = (change: Partial<ReadBack>) =>
    ({ bindings: [], slots: [], loaders: [], programs: [], ...change }) as ReadBack
  const set = async (change: Partial<ReadBack>) => setRight(upkeep(), sought, read(change), await rulesOf(data, [1]))

  test('curves that the video card lost are loaded again where it says so', async () => {
    const lost = { loaders: [{ serial: 'R-1', state: 'lost' as const }] }
    await held({ loader: 'tell' })
    expect(await set(lost)).toBe(false)
    await held({ loader: 'put back' })
    expect(await set(lost)).toBe(true)
    expect(sent).toEqual([['host.loadCurves', { display: 'R-1' }]])
    expect(await set({ loaders: [{ serial: 'R-1', state: 'on' }] })).toBe(false)
    // Of a display that is not looked for nothing is known.
    expect(await set({ loaders: [{ serial: 'R-9', state: 'lost' }] })).toBe(false)
    refuses = refusal
    expect(await set(lost)).toBe(false)
  })

  test('switches of programs are turned that are astray and may be', async () => {
    await held({ programs: 'tell' })
    expect(await set({ programs: [lookout] })).toBe(false)
    await held({ programs: 'set' })
    expect(await set({ programs: [lookout, { ...lookout, name: 'Plover', settable: false }] })).toBe(true)
    expect(sent).toEqual([['host.setProgram', { program: 'Lookout', colorManagement: 'all' }]])
    expect(await set({ programs: [{ ...lookout, colorManagement: 'all' }] })).toBe(false)
    refuses = new Error('torn')
    await expect(set({ programs: [lookout] })).rejects.toThrow('torn')
  })
})

describe('the note at a workstation', () => {
  const wait = (waitsFor: 'sign-out' | 'restart', note: Rules['note'] = 'leave one') => ({ waitsFor, rules: { note } })
  const noted = async (...waiting: ReturnType<typeof wait>[]) => {
    sent = []
    await keepNote(upkeep(), waiting)
    return sent.map(([, args]) => (args as { text: string | null }).text)
  }

  test('asks for what something waits for, once, and goes with it', async () => {
    expect(await noted()).toEqual([])
    const signOut =
      'The colours of this screen are ready to be renewed. Please sign out and in again when it suits you.'
    expect(await noted(wait('sign-out'))).toEqual([signOut])
    expect(await noted(wait('sign-out'), wait('sign-out'))).toEqual([])
    const restart =
      'The colours of this screen are ready to be renewed. Please restart the workstation when it suits you.'
    expect(await noted(wait('sign-out'), wait('restart'))).toEqual([restart])
    expect(await noted()).toEqual([null])
    expect(await noted()).toEqual([])
  })

  test('is none for what the policy wants without one', async () => {
    expect(await noted(wait('restart', 'none'))).toEqual([])
    expect(await noted(wait('restart', 'none'), wait('sign-out'))).toEqual([expect.stringContaining('sign out')])
  })

  test('that a courier refuses is left at the next look', async () => {
    refuses = refusal
    expect(await noted(wait('restart'))).toHaveLength(1)
    refuses = null
    expect(await noted(wait('restart'))).toHaveLength(1)
    expect(await noted(wait('restart'))).toEqual([])
  })
})
