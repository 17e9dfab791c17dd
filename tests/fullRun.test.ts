import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { computeMetrics } from '@bichroma/core/aims'
import {
  bradfordMatrix,
  convertXyzToLab,
  deltaE2000,
  multiplyVector,
  pcsWhite,
  scale,
  type Triple,
  type XYZ,
} from '@bichroma/core/color'
import { contentHash } from '@bichroma/core/profiles'
import { stages } from '@bichroma/core/runs'
import { quantizeSignal } from '@bichroma/core/tables'
import type { DisplayDetail, RolloutRow, RunDetail, RunReview } from '@bichroma/contract'
import { uniformFrom } from '@bichroma/core/basics'
import { throughLittleCms } from '../packages/core/src/test/throughLittleCms'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
let run: RunDetail
let before: { due: number | null; verdict: string }
let after: DisplayDetail

beforeAll(async () => {
  studio = await Studio.open()
  const display = await studio.display()
  before = { due: display.dueAt, verdict: display.verdict }
  run = await studio.finish(await studio.start())
  after = await studio.display()
})
afterAll(() => studio.close())

const fresh = (n: number, seed: number): Triple[] => {
  const uniform = uniformFrom(seed)
  return Array.from({ length: n }, () => quantizeSignal([uniform(), uniform(), uniform()], 10))
}

test('goes through every stage, each with evidence', () => {
  expect(run.message).toBeNull()
  expect(run.state).toBe('done')
  expect(run.stages.map((s) => s.stage)).toEqual([...stages])
  for (const stage of run.stages) {
    expect(stage.evidence.length).toBeGreaterThan(0)
    expect(stage.endedAt).not.toBeNull()
  }
  expect(run.stages[0].conditions!.every((c) => c.ok)).toBe(true)
  expect(run.log.filter((r) => r.stage === 'baseline')).toHaveLength(17)
  expect(
    new Set(run.log.filter((r) => r.stage === 'shape' && r.name.endsWith('round 1')).map((r) => r.name)).size,
  ).toBeGreaterThanOrEqual(17)
})

test('by the panel’s noise-free truth, on 300 patches that the run never used, the slot is on its aim', () => {
  const signals: Triple[] = [[1, 1, 1], [0, 0, 0], ...fresh(300, 77)]
  const truth = studio.bench.truth(live.serial, signals)
  const metrics = computeMetrics(
    signals.map((rgb, i) => ({ name: String(i), rgb, xyz: truth[i] })),
    run.resolvedAim!,
  )
  process.stdout.write(
    `full run by the truth: ${run.log.length} readings, average ${metrics.averageDeltaE.toFixed(3)}, worst ${metrics.worstDeltaE.toFixed(2)} ΔE2000, ` +
      `white ${metrics.whiteDeltaUv.toFixed(5)} Δu′v′, luminance ${metrics.luminanceOff.toFixed(2)} %\n`,
  )
  expect(metrics.averageDeltaE).toBeLessThanOrEqual(0.8)
  expect(metrics.worstDeltaE).toBeLessThanOrEqual(2.5)
  expect(metrics.whiteDeltaUv).toBeLessThanOrEqual(0.002)
  expect(Math.abs(metrics.luminanceOff)).toBeLessThanOrEqual(2)
})

test('the profile, opened by Little CMS, predicts 50 device colours of the panel within ΔE2000 0.3 on average', async () => {
  const profile = Buffer.from(await (await studio.admin.raw('GET', `/runs/${run.id}/profile`)).arrayBuffer())
  expect(contentHash(profile)).toBe(run.profileHash)
  const device = fresh(50, 78)
  const predicted = throughLittleCms(profile, { rgb: device }).xyz
  const [white] = studio.bench.truth(live.serial, [[1, 1, 1]])
  const relative = scale(white, 1 / white[1]) as XYZ
  const adapt = bradfordMatrix(relative, pcsWhite)
  const errors = studio.bench
    .truth(live.serial, device)
    .map((xyz, i) =>
      deltaE2000(
        convertXyzToLab(multiplyVector(adapt, scale(xyz, 1 / white[1])), pcsWhite),
        convertXyzToLab(predicted[i], pcsWhite),
      ),
    )
  const average = errors.reduce((a, b) => a + b, 0) / errors.length
  process.stdout.write(
    `profile against the panel’s truth: average ${average.toFixed(3)}, worst ${Math.max(...errors).toFixed(2)} ΔE2000\n`,
  )
  expect(average).toBeLessThanOrEqual(0.3)
})

test('the register knows what the slot holds, and the due line has moved', () => {
  expect(after.slots[0]).toMatchObject({ label: 'Atlas web', active: true, judged: { runId: run.id } })
  expect(before).toEqual({ due: null, verdict: 'unproven' })
  expect(after.verdict).toBe(run.judged!.verdict)
  expect(after.dueAt).toBe(run.judged!.at + 28 * 86_400_000)
  expect(after.slots[0].tablesHash).toMatch(/^[0-9a-f]{64}$/)
})

test('the review sets aim and achieved side by side, and keeps what was before', async () => {
  const review = await studio.admin.get<RunReview>(`/runs/${run.id}/review`)
  expect(review.metrics.patches).toHaveLength(39)
  expect(review.metrics.averageDeltaE).toBe(run.judged!.averageDeltaE)
  expect(review.baseline!.averageDeltaE).toBeGreaterThan(2)
  const html = await (await studio.admin.raw('GET', `/runs/${run.id}/report`)).text()
  expect(html).toContain(run.judged!.averageDeltaE.toFixed(2))
  expect(html).toContain(run.judged!.sentence)
})

describe('the profile on its workstation', () => {
  const bench = () => join(studio.folder, 'bench/hosts', live.workstation)
  const placement = async () =>
    (await studio.admin.list<RolloutRow>('/rollout')).find((r) => r.displayId === studio.displayId)!.placement!
  const stored = (fileName: string) => join(bench(), 'usr/share/color/icc', fileName)
  let placed: NonNullable<RolloutRow['placement']>
  beforeEach(async () => {
    await studio.admin.post('/placements', { runId: run.id })
    await until(async () => (await placement()).state === 'in force', 'the profile is in force')
    placed = await placement()
  })

  test('is in force once the courier has read it back, by hash and binding', () => {
    expect(placed.placedAt).not.toBeNull()
    expect(placed.verifiedAt).not.toBeNull()
    expect(placed.slot).toBe(1)
    expect(contentHash(readFileSync(stored(placed.fileName!)))).toBe(run.profileHash)
  })

  test('is overridden when another file lies in its place, and missing when there is none', async () => {
    const { id, fileName } = placed
    const file = stored(fileName!)
    writeFileSync(file, 'something else')
    await studio.admin.post(`/placements/${id}/verify`)
    expect(await placement()).toMatchObject({
      state: 'overridden',
      message: expect.stringContaining('holds something else than was placed'),
    })
    rmSync(file)
    await studio.admin.post(`/placements/${id}/verify`)
    expect((await placement()).state).toBe('missing')
    expect(existsSync(file)).toBe(false)
  })

  test('waits while the courier is away, and is placed when it is back', async () => {
    studio.bench.disconnect(live.workstation)
    await until(async () => !(await studio.display()).live, 'the courier is away')
    await studio.admin.post('/placements', { runId: run.id })
    expect(await placement()).toMatchObject({
      state: 'queued',
      message: expect.stringContaining('waits for the courier'),
    })
    await expect(studio.admin.post(`/placements/${(await placement()).id}/verify`)).rejects.toThrow('is not connected')
    await studio.connect()
    await until(async () => (await placement()).state === 'in force', 'the profile is in force again')
  })
})

test('a check run judges the slot by its own aim, writes nothing, and moves the due line @long', async () => {
  const held = await studio.display()
  studio.clock.jumpTo(studio.clock.now() + 20 * 86_400_000)
  await studio.admin.signIn('administrator', 'admin-word')
  const check = await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  expect(check).toMatchObject({ message: null, state: 'done' })
  expect(check.stages.map((s) => s.stage)).toEqual(['ready', 'prove', 'file'])
  expect(check.profileHash).toBeNull()
  const now = await studio.display()
  expect(now.slots[0].tablesHash).toBe(held.slots[0].tablesHash)
  expect(now.slots[0].judged!.runId).toBe(check.id)
  expect(now.dueAt! - held.dueAt!).toBeGreaterThan(19 * 86_400_000)
  const review = await studio.admin.get<RunReview>(`/runs/${check.id}/review`)
  expect(review.previous!.run.id).toBe(run.id)
  expect(review.previous!.metrics.averageDeltaE).toBe(run.judged!.averageDeltaE)
  expect(review.trail.map((t) => t.runId)).toEqual([run.id])
})
