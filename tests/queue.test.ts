import { fenLantern, type Scenario } from '@bichroma/bench'
import type { RunDetail, StudioSettings } from '@bichroma/contract'
import { displayBody } from '../scripts/displayBody'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

/** Three displays on one workstation, with one instrument. */
const three: Scenario = {
  ...fenLantern,
  workstations: fenLantern.workstations.map((w) => {
    if (w.host.name !== live.workstation) return w
    const [first] = w.displays
    const more = ['QL-27-X0002', 'QL-27-X0003'].map((serial, i) => ({ ...first, serial, name: `Sedge 2, ${i + 2}` }))
    return { ...w, displays: [first, ...more] }
  }),
}

let studio: Studio
afterEach(() => studio.close())

async function openThree(): Promise<number[]> {
  studio = await Studio.open(three)
  const [, ...others] = three.workstations.find((w) => w.host.name === live.workstation)!.displays
  const care = { workstationId: studio.ids.workstation, limitsId: studio.ids.limits, checkEveryDays: 28 }
  const ids = [studio.displayId]
  for (const display of others)
    ids.push((await studio.admin.post<{ id: number }>('/displays', displayBody(display, care))).id)
  return ids
}
const queue = (displayId: number, change: object = {}) =>
  studio.start({ displayId, sampling: 'brief', begins: 'turn', ...change })
const ended = async (id: number): Promise<RunDetail> => {
  await until(async () => ['done', 'failed', 'stopped'].includes((await studio.run(id)).state), `run ${id} has ended`)
  return studio.run(id)
}

test('three runs in the queue take their turns; the one in the middle fails, and the last is made all the same @long @long', async () => {
  const ids = await openThree()
  studio.bench.display('QL-27-X0002').setDynamicContrast(true)
  const runs: number[] = []
  for (const id of ids) runs.push(await queue(id))
  const second = await studio.run(runs[1])
  expect(second.state).toBe('queued')
  await until(
    async () => ((await studio.run(runs[2])).message ?? '').includes('which is in a run'),
    'the last says what it waits for',
  )
  const [one, two, last] = [await ended(runs[0]), await ended(runs[1]), await ended(runs[2])]
  expect(one.state).toBe('done')
  expect(two).toMatchObject({ state: 'failed', message: expect.stringContaining('Dynamic contrast') })
  expect(last.state).toBe('done')
  // One after another: they share an instrument.
  expect(two.startedAt).toBeGreaterThanOrEqual(one.endedAt!)
  expect(last.startedAt).toBeGreaterThanOrEqual(two.endedAt!)
}, 120_000)

test('a run can be taken out of the queue, and what is queued overwrites only what it was told @long', async () => {
  const [first, other] = await openThree()
  const running = await queue(first)
  const away = await queue(other)
  // Both of these want the empty first slot; only one can have it.
  const again = await queue(first)
  await studio.admin.post(`/runs/${away}/stop`)
  expect(await studio.run(away)).toMatchObject({ state: 'stopped', message: 'Taken out of the queue.', log: [] })
  expect((await ended(running)).state).toBe('done')
  expect(await ended(again)).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('Slot 1 now holds “Atlas web”, not what was to be overwritten'),
  })
  await expect(studio.admin.post(`/runs/${away}/stop`)).rejects.toThrow('ended already')
}, 120_000)

test('a queued run waits for the instrument to be plugged in where its display is', async () => {
  const [first] = await openThree()
  studio.bench.carry(live.instrument, 'sedge-01')
  await until(async () => (await studio.display()).live, 'the courier is back')
  const id = await queue(first)
  await until(
    async () => ((await studio.run(id)).message ?? '').includes('waits for hands'),
    'it asks for an instrument',
  )
  studio.bench.carry(live.instrument, live.workstation)
  expect((await ended(id)).state).toBe('done')
}, 120_000)

describe('at night', () => {
  const setNight = async (night: Partial<StudioSettings['night']>) => {
    const settings = await studio.admin.get<StudioSettings>('/settings')
    await studio.admin.put('/settings', { ...settings, night: { ...settings.night, ...night } })
  }
  /** A window that holds the present minute by the bench’s clock, or just misses it. */
  const around = (from: number, to: number) => {
    const time = (minutes: number) => {
      const at = new Date(studio.clock.now() + minutes * 60_000)
      return `${String(at.getHours()).padStart(2, '0')}:${String(at.getMinutes()).padStart(2, '0')}`
    }
    return { from: time(from), to: time(to) }
  }

  test('a run waits for its window and for the workstation to be left alone @long', async () => {
    const [first] = await openThree()
    await setNight(around(300, 600))
    studio.bench.host(live.workstation).attend(true)
    const id = await queue(first, { begins: 'night' })
    await until(
      async () => ((await studio.run(id)).message ?? '').includes('It waits for the night'),
      'it waits for night',
    )
    await setNight(around(-60, 600))
    studio.server.engine.lookAtQueue()
    await until(async () => ((await studio.run(id)).message ?? '').includes('to be left alone'), 'it waits to be alone')
    studio.bench.host(live.workstation).attend(false)
    studio.bench.jumpTo(studio.clock.now() + 20 * 60_000)
    studio.server.engine.lookAtQueue()
    expect((await ended(id)).state).toBe('done')
  }, 120_000)

  test('it gives way when somebody sits down, shows them their picture, and goes on when they have left @long', async () => {
    const [first] = await openThree()
    await setNight({ ...around(-60, 600), idleMinutes: 10 })
    studio.bench.display(live.serial).press({ slot: 3 })
    const before = await studio.bench.display(live.serial).getControls()
    const id = await queue(first, { begins: 'night' })
    await studio.reach(id, 'running', 30)
    studio.bench.host(live.workstation).attend(true)
    const waiting = await studio.reach(id, 'waiting')
    expect(waiting.message).toContain('Somebody is at sedge-02: the run gives way')
    expect(await studio.bench.display(live.serial).getControls()).toMatchObject({
      pipeline: 'slot',
      activeSlot: before.activeSlot,
    })
    const kept = waiting.log
    studio.bench.host(live.workstation).attend(false)
    studio.bench.jumpTo(studio.clock.now() + 11 * 60_000)
    const run = await ended(id)
    expect(run.state).toBe('done')
    expect(run.log.slice(0, kept.length)).toEqual(kept)
  }, 120_000)
})

test('the queue outlives the server @long', async () => {
  const [first, other] = await openThree()
  const running = await queue(first)
  const queued = await queue(other)
  await studio.reach(running, 'running', 20)
  await studio.restartServer()
  expect((await studio.run(running)).state).toBe('interrupted')
  expect((await studio.run(queued)).state).toBe('queued')
  await studio.admin.post(`/runs/${running}/resume`)
  expect((await ended(running)).state).toBe('done')
  expect((await ended(queued)).state).toBe('done')
}, 120_000)
