import { readPanel, shippedInstrument, shippedPanels } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import type { RunDetail } from '@bichroma/contract'
import { profileFor, usualSettings } from '@bichroma/contract'
import { OneDisplayStudio } from '../scripts/trial/oneDisplayStudio'
import { randomCase } from '../scripts/trial/randomPanel'
import { spread, wronglyWithin, type RandomTrial } from '../scripts/trial/randomTrials'
import { reachOf, trial, truthOfRun } from '../scripts/trial/trial'

const srgb: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 100,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}

/** A panel like the flagship, with some of its groups otherwise. */
const panelWith = (change: Record<string, object>) => {
  const base = structuredClone(shippedPanels['quillon-q27']) as unknown as Record<string, object>
  for (const [group, fields] of Object.entries(change)) base[group] = { ...base[group], ...fields }
  return readPanel(base)
}

/** A brief run on a panel: the run, how long its light was found to take, and how it does by the panel's truth. */
async function runOn(panel: ReturnType<typeof panelWith>, aim: Aim = srgb) {
  const studio = await OneDisplayStudio.open({ panel, aim, instrument: shippedInstrument('tessel-c3'), seed: 4 })
  try {
    const residual = await studio.makeCorrection()
    const run: RunDetail = await studio.finish(await studio.start({ sampling: 'brief' }))
    const reaches = run.state === 'done' ? await reachOf(studio, panel.signal.bits) : undefined
    const truth = truthOfRun(studio, panel, run, 4, reaches)
    const evidence = run.stages.flatMap((s) => s.evidence).join('\n')
    return {
      run,
      residual,
      truth,
      evidence,
      holds: (await studio.client.get<{ slots: { label: string | null }[] }>(`/displays/${studio.displayId}`)).slots[0]
        .label,
    }
  } finally {
    await studio.close()
  }
}

describe('panels that are unlike those that ship', () => {
  test('strong and unequal S curves at little contrast: greys near black tell how they bend @long', async () => {
    const { run, truth } = await runOn(
      panelWith({
        light: { contrast: 300 },
        tone: { exponents: [2.8, 1.7, 2.2], bows: [0.3, -0.3, 0.3] },
        coupling: { crosstalk: 0.05, load: 0.01 },
      }),
    )
    expect(run.state).toBe('done')
    // Before there were any, a brief run on it missed by 0.6 to 0.9 on average and 6 at worst.
    expect(truth!.averageDeltaE).toBeLessThan(0.5)
    expect(truth!.worstDeltaE).toBeLessThan(2.5)
  }, 60_000)

  test('light that depends on how much of the screen is bright is noticed, and patches kept where it does not @long', async () => {
    const { run, truth, evidence } = await runOn(panelWith({ brightnessLimit: { meanLight: 0.03, exponent: 0.9 } }))
    expect(run.state).toBe('done')
    expect(evidence).toContain(
      'The display’s light depends on how much of the screen is bright; patches fill 2.5 % of it',
    )
    expect(truth!.averageDeltaE).toBeLessThan(0.35)
    const { evidence: without } = await runOn(panelWith({}))
    expect(without).not.toContain('how much of the screen')
  }, 60_000)

  test('light that follows after 1.6 seconds: the correction and every reading wait for it @long', async () => {
    const { run, residual, truth } = await runOn(panelWith({ time: { delayMs: 1600, settlingMs: 20 } }))
    expect(residual).toBeLessThan(0.002)
    expect(run.state).toBe('done')
    expect(truth!.averageDeltaE).toBeLessThan(0.35)
  }, 60_000)

  test('eight bits in limited range: Shape asks for what arrives as it is, of which there are 220 steps @long', async () => {
    const { run, truth } = await runOn(panelWith({ signal: { bits: 8, range: 'limited' } }))
    expect(run.state).toBe('done')
    const arrive = new Set(Array.from({ length: 220 }, (_, k) => Math.round((255 * k) / 219)))
    const valuesOf = (stage: string) =>
      run.log
        .filter((r) => r.stage === stage && !r.name.startsWith('Raw'))
        .flatMap((r) => r.rgb.map((v) => Math.round(255 * v)))
    expect(valuesOf('shape').length).toBeGreaterThan(40)
    expect(valuesOf('shape').filter((v) => !arrive.has(v))).toEqual([])
    // Programs draw whatever they like, so what is proved is anywhere.
    expect(valuesOf('prove').some((v) => !arrive.has(v))).toBe(true)
    expect(truth!.averageDeltaE).toBeLessThan(0.35)
  }, 60_000)

  test('a white subpixel that makes 0.6 of white @long', async () => {
    const panel = structuredClone(shippedPanels['vesper-w48']) as unknown as { light: object }
    panel.light = { ...panel.light, whiteSubpixel: 0.6 }
    const { run, truth } = await runOn(readPanel(panel), { ...srgb, luminance: 80 })
    expect(run.state).toBe('done')
    // What is left is the instrument's: one matrix cannot tell the lights of four subpixels apart.
    expect(truth!.averageDeltaE).toBeLessThan(0.9)
    expect(truth!.worstDeltaE).toBeLessThan(3)
  }, 60_000)

  test('what a matrix cannot do behind a white subpixel is said before it is tried', async () => {
    const { panel, aim } = randomCase(4)
    expect([panel.light.source, panel.tables.pipeline.kind]).toEqual(['oled-white', '1D+3x3'])
    const { run, holds } = await runOn(panel, { ...aim, white: { kind: 'standard', name: 'D50' } })
    expect(run).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(
        /^A white subpixel helps white .*at best this aim would be missed by about \d+\.\d ΔE on average, so it was not tried\. /,
      ),
    })
    // No more than the corners was read of Shape.
    expect(run.log.filter((r) => r.stage === 'shape').length).toBeLessThan(20)
    expect(holds).toBeNull()
  }, 60_000)

  test('a display without tables gets a table profile unless somebody asks otherwise @long', async () => {
    const { panel, aim } = randomCase(27)
    expect(panel.tables.pipeline.kind).toBe('1D')
    const asked = {
      panel,
      aim,
      instrument: shippedInstrument('tessel-c3'),
      corrected: true,
      sampling: 'brief' as const,
      seed: 1,
    }
    const [usual, matrix] = [await trial(asked), await trial({ ...asked, profile: usualSettings.profile })]
    expect(usualSettings.profile.kind).toBe('matrix')
    expect(usual.profile!.averageDeltaE).toBeLessThan(0.3)
    expect(matrix.state).toBe('done')
    expect(profileFor(usualSettings.profile, '1D').kind).toBe('table')
    expect(profileFor(usualSettings.profile, '1D+3D')).toEqual(usualSettings.profile)
    expect(profileFor(usualSettings.profile, null)).toEqual(usualSettings.profile)
  }, 60_000)
})

test('random panels are the same for the same seed, of every kind of light and slot, and each can be @long', () => {
  const cases = Array.from({ length: 200 }, (_, i) => randomCase(i + 1))
  expect(randomCase(17)).toEqual(cases[16])
  for (const kind of ['1D+3D', '3D', '1D+3x3', '1D'])
    expect(cases.filter((c) => c.panel.tables.pipeline.kind === kind).length).toBeGreaterThan(20)
  expect(new Set(cases.map((c) => c.panel.light.source)).size).toBe(7)
  expect(Math.max(...cases.map((c) => c.panel.time.delayMs))).toBeGreaterThan(1500)
  expect(Math.max(...cases.map((c) => c.panel.coupling.crosstalk))).toBeGreaterThan(0.08)
  for (const { panel, aim } of cases) if (panel.tables.pipeline.kind === '1D') expect(aim.primaries.kind).toBe('panel')
})

test('how trials are spread, and which said within wrongly', () => {
  const one = (average: number | null, verdict = 'within'): RandomTrial =>
    ({
      of: randomCase(3),
      error: average === null ? null : { average, worst: 3 * average },
      result: { truth: average === null ? null : { averageDeltaE: average }, best: 0.1, seen: { verdict } },
    }) as unknown as RandomTrial
  const all = [...Array.from({ length: 19 }, (_, i) => one(0.1 + 0.01 * i)), one(2.5), one(null), one(3, 'outside')]
  const [own] = spread(all)
  expect(own).toMatchObject({ panels: 22, ended: 21, median: 0.2, worstMost: 7.5 })
  expect(own.ofBest).toBeCloseTo(2, 9)
  expect(own.most).toBe(2.5)
  expect(wronglyWithin(all, 1.2)).toEqual([all[19]])
})
