import { cause } from '@bichroma/bench'
import { computeMetrics, type ResolvedAim } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import type { Triple } from '@bichroma/core/color'
import { quantizeSignal } from '@bichroma/core/tables'
import { hostConditionNames, type RolloutRow, type RunDetail } from '@bichroma/contract'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
beforeEach(async () => {
  studio = await Studio.open()
})
afterEach(() => studio.close())

const fault = (name: string, value: object) => cause(studio.bench, name, value)
const display = { display: live.serial }
const instrument = { instrument: live.instrument }
const workstation = { workstation: live.workstation }

const evidenceOf = (run: RunDetail, stage: string) => run.stages.find((s) => s.stage === stage)!.evidence.join('\n')

/** Average and worst ΔE2000 of the slot in use by the panel’s noise-free truth. */
function byTruth(aim: ResolvedAim) {
  const uniform = uniformFrom(5)
  const signals: Triple[] = [
    [1, 1, 1],
    [0, 0, 0],
  ]
  for (let i = 0; i < 200; i++) signals.push(quantizeSignal([uniform(), uniform(), uniform()], 10))
  const truth = studio.bench.truth(live.serial, signals)
  return computeMetrics(
    signals.map((rgb, i) => ({ name: String(i), rgb, xyz: truth[i] })),
    aim,
  )
}

describe('before a run: Ready names it, and nothing is touched', () => {
  test.each(hostConditionNames.map((name) => [name]))('%s @long', async (condition) => {
    await fault('condition', { ...workstation, condition, on: true })
    const run = await studio.finish(await studio.start())
    expect(run.state).toBe('failed')
    expect(run.stages[0].conditions!.filter((c) => !c.ok && !c.advisory).map((c) => c.id)).toContain(condition)
    expect(run.message).toContain('sedge-02')
    expect((await studio.display()).slots.every((s) => s.label === null && !s.unsure)).toBe(true)
    await fault('condition', { ...workstation, condition, on: false })
    const again = await studio.start({ sampling: 'brief' })
    await until(async () => (await studio.run(again)).stage !== 'ready', 'the next run is past Ready')
    await studio.admin.post(`/runs/${again}/stop`)
    await studio.finish(again)
  })

  test.each<[string, string, object, string | RegExp]>([
    ['dynamic contrast', 'dynamicContrast', { ...display, on: true }, 'Turn dynamic contrast off'],
    [
      'the input range turned',
      'buttons',
      { ...display, inputRange: 'limited' },
      'sends full range, the display takes it for limited',
    ],
    [
      'the diffuser left on',
      'diffuser',
      { ...instrument, on: true },
      'Open the instrument’s cover or turn its diffuser away',
    ],
    // The run’s first command finds it out, or the courier has told it before.
    [
      'the video cable out',
      'videoCable',
      { ...display, on: true },
      /is not there\. Plug its cable in|no display with serial .*\. Switch the display on and connect it/,
    ],
    [
      'the instrument’s cable out',
      'unplugInstrument',
      { ...instrument, on: true },
      'Plug it into the workstation again',
    ],
  ])('%s', async (_, name, value, words) => {
    await fault(name, value)
    const run = await studio.finish(await studio.start())
    expect(run).toMatchObject({ state: 'failed', message: expect.stringMatching(words) })
    expect((await studio.display()).slots[0].label).toBeNull()
  })

  test('a clock that is two hours behind is told, and the run goes on with its own time @long', async () => {
    await fault('shiftClock', { ...workstation, minutes: -120 })
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run.state).toBe('done')
    expect(evidenceOf(run, 'ready')).toContain('Workstation’s clock: 120 min behind')
    expect(run.log.every((r) => r.tookMs > 0)).toBe(true)
  })
})

describe('in the middle of a run', () => {
  test('a knock: the run sees white step, waits for hands, reads the spoiled block again, and ends as accurate as without @long @long', async () => {
    const undisturbed = await studio.finish(await studio.start({ sampling: 'brief' }))
    const without = byTruth(undisturbed.resolvedAim!)
    await fault('knock', { ...instrument, afterReadings: 45 })
    const id = await studio.start({ sampling: 'brief', overwrites: 'Atlas web' })
    const waiting = await studio.reach(id, 'waiting')
    expect(waiting.stage).toBe('shape')
    expect(waiting.message).toMatch(
      /^White moved by .\d+\.\d % .* the instrument was knocked, or room light gets under it\. Seat it flat on the centre of Sedge 2/,
    )
    await fault('seat', { ...instrument, x: 0, y: 0, tilt: 0 })
    await studio.admin.post(`/runs/${id}/resume`)
    const run = await studio.finish(id)
    expect(run.state).toBe('done')
    expect(run.log.length).toBeGreaterThan(undisturbed.log.length)
    const after = byTruth(run.resolvedAim!)
    expect(after.averageDeltaE).toBeLessThan(without.averageDeltaE + 0.08)
    expect(after.worstDeltaE).toBeLessThan(without.worstDeltaE + 0.5)
  })

  test('tilted under a lit room, and seated no better: after three times the run ends and puts the slot back @long', async () => {
    const id = await studio.start({ sampling: 'brief' })
    await studio.reach(id, 'running', 30)
    await fault('roomLight', { room: 'Sedge Room', illuminanceLux: 200 })
    await fault('seat', { ...instrument, x: 0, y: 0, tilt: 0.5 })
    const asked = new Set<string>()
    const ended = studio.server.engine.ended(id).then(() => true)
    while (!(await Promise.race([ended, new Promise((resolve) => setTimeout(resolve, 10))]))) {
      const { state, message } = await studio.run(id)
      if (state !== 'waiting') continue
      asked.add(message!)
      await studio.admin.post(`/runs/${id}/resume`)
    }
    expect(asked.size).toBeGreaterThan(0)
    const run = await studio.finish(id)
    expect(run).toMatchObject({ state: 'failed', message: expect.stringContaining('stays there') })
    expect(run.message).toContain('as before the run')
  })

  test('flat on the glass, the room’s light does not matter @long', async () => {
    await fault('roomLight', { room: 'Sedge Room', illuminanceLux: 2000, kelvin: 3000 })
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run.judged!.verdict).toBe('within')
    expect(byTruth(run.resolvedAim!).averageDeltaE).toBeLessThan(0.5)
  })

  test.each<[string, object, RegExp]>([
    ['another slot', { slot: 3 }, /was switched to slot 3 in the middle; it was put back/],
    ['the brightness turned', { backlight: 95 }, /was turned to brightness 95 in the middle; it was put back/],
  ])('%s at the display’s own buttons: put back, said, and read again @long', async (_, press, words) => {
    const id = await studio.start({ sampling: 'brief' })
    await until(async () => (await studio.run(id)).stage === 'prove', 'the run proves')
    await fault('buttons', { ...display, ...press })
    const run = await studio.finish(id)
    expect(run.state).toBe('done')
    expect(evidenceOf(run, 'prove')).toMatch(words)
    expect(run.judged!.verdict).toBe('within')
    expect(await studio.bench.display(live.serial).getControls()).toMatchObject({ activeSlot: 1 })
  })

  test('a write cut in half: the slot is unsure until it is written again @long', async () => {
    await fault('cutNextWrite', { ...display, on: true })
    const id = await studio.start({ sampling: 'brief' })
    const waiting = await studio.reach(id, 'waiting')
    expect(waiting).toMatchObject({ stage: 'load', message: expect.stringContaining('data cable') })
    expect((await studio.display()).slots[0]).toMatchObject({ unsure: true, judged: null })
    await fault('dataLink', { ...display, on: false })
    await studio.admin.post(`/runs/${id}/resume`)
    const run = await studio.finish(id)
    expect(run.judged!.verdict).toBe('within')
    expect((await studio.display()).slots[0]).toMatchObject({ unsure: false, label: 'Atlas web' })
  })

  test('a write cut in half and given up: the slot is unsure while the cable is out, and restored once it is back @long @long', async () => {
    await studio.finish(await studio.start({ sampling: 'brief' }))
    const held = (await studio.display()).slots[0]
    await fault('cutNextWrite', { ...display, on: true })
    const id = await studio.start({ sampling: 'brief', aimId: studio.aimIds['Loop video'] })
    await studio.reach(id, 'waiting')
    await studio.admin.post(`/runs/${id}/stop`)
    await until(
      async () => (await studio.run(id)).message!.startsWith('Putting the display back'),
      'it wants to restore',
    )
    expect((await studio.display()).slots[0].unsure).toBe(true)
    await fault('dataLink', { ...display, on: false })
    await until(async () => (await studio.run(id)).state === 'waiting', 'it waits for hands')
    await studio.admin.post(`/runs/${id}/resume`)
    expect((await studio.finish(id)).state).toBe('stopped')
    expect((await studio.display()).slots[0]).toEqual(held)
  })

  test('let go of in the middle of a write, the slot stays unsure, and no check looks at it @long', async () => {
    await fault('cutNextWrite', { ...display, on: true })
    const id = await studio.start({ sampling: 'brief' })
    await studio.reach(id, 'waiting')
    await studio.admin.post(`/runs/${id}/stop`)
    await until(
      async () => (await studio.run(id)).message!.startsWith('Putting the display back'),
      'it wants to restore',
    )
    await studio.admin.post(`/runs/${id}/stop`, { letGo: true })
    await studio.finish(id)
    expect((await studio.display()).slots[0].unsure).toBe(true)
    await expect(studio.start({ kind: 'check', aimId: undefined, overwrites: undefined })).rejects.toThrow(
      'Nobody knows what slot 1 holds',
    )
  })

  test('a corrupt read-back is written and read back again, and said', async () => {
    const id = await studio.start({ sampling: 'brief' })
    await until(async () => (await studio.run(id)).stage === 'shape', 'it shapes')
    await fault('corruptNextRead', { ...display, on: true })
    const run = await studio.finish(id)
    expect(run.state).toBe('done')
    expect(evidenceOf(run, 'load')).toContain('hashes equal at the second write')
  })

  test('answers that come late or twice change nothing @long', async () => {
    await fault('repeatedAnswers', { ...workstation, times: 3 })
    await fault('lateAnswers', { ...workstation, ms: 2 })
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run).toMatchObject({ state: 'done', judged: { verdict: 'within' } })
    expect(run.log.map((r) => r.seq)).toEqual(run.log.map((_, i) => i))
  })

  test('a courier offline for a time: the run waits and goes on by itself @long', async () => {
    const id = await studio.start({ sampling: 'brief' })
    await studio.reach(id, 'running', 20)
    await fault('courierOffline', { ...workstation, on: true })
    expect((await studio.reach(id, 'waiting')).message).toContain('goes on by itself')
    await fault('courierOffline', { ...workstation, on: false })
    expect((await studio.finish(id)).state).toBe('done')
  })
})

test('a display aged by 20,000 hours is outside at its next check, which names what is off @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief' }))
  await fault('age', { ...display, hours: 20_000 })
  const run = await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  expect(run.judged!.verdict).toBe('outside')
  expect(run.judged!.sentence).toMatch(/past/)
  expect(run.judged!.luminance).toBeLessThan(116)
  expect((await studio.display()).verdict).toBe('outside')
})

describe('on the workstation', () => {
  const placement = async () => (await studio.admin.list<RolloutRow>('/rollout'))[0].placement!
  const placed = async () => {
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    await studio.admin.post('/placements', { runId: run.id })
    await studio.server.rollout.idle()
  }

  test('a full disk: the placement stays queued and says why; with room again it is placed @long', async () => {
    await fault('fillDisk', { ...workstation, on: true })
    await placed()
    expect(await placement()).toMatchObject({
      state: 'queued',
      message: expect.stringContaining('The disk of sedge-02 is full'),
    })
    await fault('fillDisk', { ...workstation, on: false })
    await studio.admin.post(`/placements/${(await placement()).id}/verify`)
    expect(await placement()).toMatchObject({ state: 'in force', message: null })
  })

  test('somebody’s own profile takes its place: overridden, with the path @long', async () => {
    await placed()
    expect((await placement()).state).toBe('in force')
    await fault('replaceProfile', { ...workstation, ...display, by: 'Moss Quest 2' })
    await studio.admin.post(`/placements/${(await placement()).id}/verify`)
    expect(await placement()).toMatchObject({
      state: 'overridden',
      message: expect.stringContaining('Moss-Quest-2.icc'),
    })
  })

  test('an update of the system: Ready finds the settings that it turned back on', async () => {
    await fault('updateSystem', { ...workstation, version: '13' })
    const run = await studio.finish(await studio.start())
    expect(run.message).toContain('Warm evening tint')
    expect(run.message).toContain('Screen saver')
  })
})
