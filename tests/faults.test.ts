import { fenLantern, type Scenario } from '@bichroma/bench'
import type { Pulse } from '@bichroma/contract'
import { demoAims } from '../scripts/demoStudio'
import { expectSame } from './expectSame'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
beforeEach(async () => {
  studio = await Studio.open()
})
afterEach(() => studio.close())

const panel = () => studio.bench.display(live.serial)
const puck = () => studio.bench.instrument(live.instrument)

describe('Ready stops the run and says what to do', () => {
  test.each([
    ['the data link unplugged', () => (panel().dataLink = false), 'Plug in the data cable'],
    ['the cover closed', () => (puck().covered = true), 'Open the instrument’s cover'],
    [
      'white adaptation left on',
      () => (studio.bench.host(live.workstation).conditions.whiteAdaptation = true),
      'Turn it off on sedge-02',
    ],
    ['a screen saver', () => (studio.bench.host(live.workstation).conditions.screenSaver = true), 'Screen saver'],
  ])('%s @long', async (_, cause, words) => {
    cause()
    const run = await studio.finish(await studio.start())
    expect(run.state).toBe('failed')
    expect(run.message).toContain(words)
    expect(run.stages).toHaveLength(1)
    expect(run.stages[0].conditions!.filter((c) => !c.ok).length).toBeGreaterThanOrEqual(1)
    expect((await studio.display()).slots[0].label).toBeNull()
    // Nothing is held any more: once it is mended the next run starts.
    expect((await studio.admin.get<Pulse>('/pulse')).instrumentsFree).toBe(1)
  })

  test('no instrument plugged in @long', async () => {
    studio.bench.carry(live.instrument, 'sedge-01')
    await until(
      async () =>
        (await studio.admin.get<{ workstationId: number | null }[]>('/instruments'))[0].workstationId === null,
      'the instrument is gone',
    )
    await until(async () => (await studio.display()).live, 'the courier is back')
    const run = await studio.finish(await studio.start())
    expect(run).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('Plug Colorimeter C3 TC-0417 into sedge-02'),
    })
  })

  test('the courier away @long', async () => {
    studio.bench.disconnect(live.workstation)
    await until(async () => !(await studio.display()).live, 'the courier is away')
    const run = await studio.finish(await studio.start())
    expect(run).toMatchObject({ state: 'failed', message: expect.stringContaining('start its courier') })
  })
})

test('a display switched on a moment ago is waited for until its light holds still @long', async () => {
  const cold: Scenario = {
    ...fenLantern,
    workstations: fenLantern.workstations.map((w) => ({
      ...w,
      displays: w.displays.map((d) => ({ ...d, warmMinutes: 3 })),
    })),
  }
  await studio.close()
  studio = await Studio.open(cold)
  const id = await studio.start({ kind: 'baseline' })
  const run = await studio.finish(id)
  expect(run.state).toBe('done')
  const { warmUp } = run.stages[0]
  // 9 % short at switch-on and two thirds of it gone in 11 minutes: a tenth of a percent a minute is left after some 20.
  const [first, last] = [warmUp![0], warmUp![warmUp!.length - 1]]
  expect(last.minutes).toBeGreaterThan(10)
  expect(last.minutes).toBeLessThan(40)
  expect(last.luminance / first.luminance).toBeGreaterThan(1.03)
  expect(run.stages[0].evidence.join(' ')).toMatch(/white drifts by 0\.\d\d % a minute, measured over \d+ min/)
})

test('the courier gone in the middle of Shape: the run waits, says so, and goes on when it is back @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 50)
  studio.bench.disconnect(live.workstation)
  const waiting = await studio.reach(id, 'waiting')
  expect(waiting.stage).toBe('shape')
  expect(waiting.message).toContain('courier on sedge-02 is away')
  const kept = waiting.log
  studio.bench.connect(live.workstation)
  const run = await studio.finish(id)
  expect(run.state).toBe('done')
  expect(run.log.slice(0, kept.length)).toEqual(kept)
  expect(run.log.map((r) => r.seq)).toEqual(run.log.map((_, i) => i))
  expect(run.judged!.averageDeltaE).toBeLessThan(0.8)
})

test('the cover closed in the middle: the run waits for hands, and “Go on” goes on @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 30)
  puck().covered = true
  const waiting = await studio.reach(id, 'waiting')
  expect(waiting.message).toContain('Open it, hang it flat')
  expect(waiting.log.every((r) => r.xyz[1] > 0)).toBe(true)
  puck().covered = false
  await studio.admin.post(`/runs/${id}/resume`)
  expect(await studio.finish(id)).toMatchObject({ state: 'done', judged: { verdict: 'within' } })
})

test('the data link pulled before Load: the run waits, then loads @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 60)
  panel().dataLink = false
  const waiting = await studio.reach(id, 'waiting')
  expect(waiting.stage).toBe('load')
  expect(waiting.message).toContain('data cable')
  panel().dataLink = true
  await studio.admin.post(`/runs/${id}/resume`)
  expect((await studio.finish(id)).state).toBe('done')
})

test('a slot that does not give back what was written is written again; twice damaged, the run fails and puts it back @long @long', async () => {
  panel().next.damageWrite = true
  const first = await studio.finish(await studio.start())
  expect(first.state).toBe('done')
  expect(first.stages.find((s) => s.stage === 'load')!.evidence[0]).toContain('second write')
  const held = (await studio.display()).slots[0]

  const write = panel().writeSlot.bind(panel())
  let writes = 0
  panel().writeSlot = async (...args) => {
    panel().next.damageWrite = ++writes <= 2
    return write(...args)
  }
  const second = await studio.finish(await studio.start({ aimId: studio.aimIds['Loop video'] }))
  expect(second).toMatchObject({ state: 'failed', message: expect.stringContaining('Exchange the data cable') })
  expect((await studio.display()).slots[0]).toEqual(held)
})

describe('stopping', () => {
  test('puts the slot back as it was, tables, backlight and slot shown included @long', async () => {
    await studio.finish(await studio.start({ slot: 2, aimId: studio.aimIds['Atlas print'] }))
    await studio.finish(await studio.start({ slot: 1 }))
    const held = structuredClone(panel().memory)
    const before = await studio.display()
    const id = await studio.start({ slot: 2, aimId: studio.aimIds['Loop video'] })
    await until(async () => (await studio.run(id)).stage === 'prove', 'the run proves')
    await studio.admin.post(`/runs/${id}/stop`)
    const run = await studio.finish(id)
    expect(run.state).toBe('stopped')
    expect(run.message).toBe('Stopped. Slot 2 holds “Atlas print” again, as before the run.')
    expect(run.log.length).toBeGreaterThan(100)
    expectSame(panel().memory.slots, held.slots)
    expect(panel().memory.activeSlot).toBe(held.activeSlot)
    expect((await panel().getControls()).pipeline).toBe('slot')
    const { slots } = await studio.display()
    expect(slots).toEqual(before.slots)
    await expect(studio.admin.post(`/runs/${id}/stop`)).rejects.toThrow('ended already')
  })

  test('with the courier away waits to put the slot back, and can be let go @long', async () => {
    const id = await studio.start()
    await studio.reach(id, 'running', 30)
    studio.bench.disconnect(live.workstation)
    await studio.reach(id, 'waiting')
    await studio.admin.post(`/runs/${id}/stop`)
    await until(
      async () => (await studio.run(id)).message?.startsWith('Putting the display back') ?? false,
      'it wants to put the slot back',
    )
    await expect(studio.admin.post(`/runs/${id}/stop`)).rejects.toThrow('it waits for the display')
    await studio.admin.post(`/runs/${id}/stop`, { letGo: true })
    expect(await studio.finish(id)).toMatchObject({
      state: 'stopped',
      message: expect.stringContaining('not put back'),
    })
  })
})

test('an aim brighter than the panel says how bright it can be @long', async () => {
  const aimId = await studio.addAim('Searchlight', { ...demoAims['Atlas web'], luminance: 900 })
  const run = await studio.finish(await studio.start({ aimId }))
  expect(run.state).toBe('failed')
  expect(run.message).toMatch(
    /reaches 3\d\d\.\d cd\/m²; the aim asks for 900\.0\. Choose an aim of 3\d\d cd\/m² or less\./,
  )
  expect(run.message).toContain('as before the run')
})

describe('what cannot start', () => {
  test.each([
    ['a slot that does not exist', { slot: 7 }, 'there is no slot 7'],
    ['a display that does not exist', { displayId: 99 }, 'not in the register'],
    ['an aim that does not exist', { aimId: 999 }, 'not there any more'],
    ['no aim', { aimId: undefined }, 'needs an aim'],
    ['an instrument that does not exist', { instrumentId: 55 }, 'not in the register'],
    ['a check of an empty slot', { kind: 'check' }, 'no calibration that could be checked'],
    ['a slot that holds something else than was told', { overwrites: 'Atlas print' }, 'not what you were told'],
  ])('%s', async (_, change, words) => {
    await expect(studio.start(change)).rejects.toThrow(words)
    expect(await studio.admin.list('/runs')).toEqual([])
  })

  test('a second run on a busy display, or with a busy instrument @long', async () => {
    const id = await studio.start()
    await expect(studio.start()).rejects.toThrow('Sedge 2 is in a run already')
    const other = await studio.admin.post<{ id: number }>('/displays', {
      name: 'Sedge 9',
      maker: 'Q',
      model: 'Q',
      serial: 'Q9',
      firmware: '1',
      panelKind: 'oled',
      slots: 1,
      checkEveryDays: 7,
      workstationId: studio.ids.workstation,
      limitsId: studio.ids.limits,
    })
    await expect(studio.start({ displayId: other.id, overwrites: '' })).rejects.toThrow('TC-0417 is in a run already')
    await studio.admin.post(`/runs/${id}/stop`)
    await studio.finish(id)
  })

  test('two runs asked for in the same instant: one starts', async () => {
    const both = await Promise.allSettled([studio.start(), studio.start()])
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected'])
    const id = (both.find((b) => b.status === 'fulfilled') as PromiseFulfilledResult<number>).value
    await studio.admin.post(`/runs/${id}/stop`)
    await studio.finish(id)
  })
})

test('a check of a slot that somebody else has written to is refused with its name @long', async () => {
  await studio.finish(await studio.start())
  await panel().writeSlot(1, 'mine', null)
  const run = await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('no longer holds the tables of “Atlas web”'),
  })
})
