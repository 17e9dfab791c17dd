import { readPanel, shippedInstrument, shippedPanels, typicalEmission, type InstrumentModel } from '@bichroma/bench'
import type { Aim, Limits } from '@bichroma/core/aims'
import type { FloorSummary, RunDetail, RunReview } from '@bichroma/contract'
import { doubtSummary, type DoubtTrial } from '../scripts/trial/doubtTrials'
import { OneDisplayStudio } from '../scripts/trial/oneDisplayStudio'
import { correctionCases, doubtCase } from '../scripts/trial/randomInstrument'

// What runs say of what they do not know, through the application's own engine.

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 100,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const base = shippedPanels['quillon-q27'] as unknown as { light: object }
const usual = readPanel(base)
/** A panel with the light of one kind that says it is another. */
const pretends = readPanel({
  ...base,
  light: { ...base.light, source: 'rgb-led', bands: typicalEmission['white-led'], nativeWhite: { x: 0.31, y: 0.325 } },
})

interface Found {
  readonly run: RunDetail
  readonly review: RunReview
  readonly ready: string
}

async function runOn(
  panel: typeof usual,
  prepare: (studio: OneDisplayStudio) => Promise<unknown>,
  {
    instrument = shippedInstrument('tessel-c3'),
    after,
  }: { instrument?: InstrumentModel; after?: (studio: OneDisplayStudio) => Promise<void> } = {},
): Promise<Found> {
  const studio = await OneDisplayStudio.open({ panel, aim, instrument, seed: 6 })
  try {
    await prepare(studio)
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect([run.state, run.message]).toEqual(['done', null])
    const review = await studio.client.get<RunReview>(`/runs/${run.id}/review`)
    await after?.(studio)
    const ready = run.stages.find((s) => s.stage === 'ready')!.evidence.join('\n')
    return { run, review, ready }
  } finally {
    await studio.close()
  }
}
const width = ({ review }: Found, metric: string) => {
  const { interval } = review.judgement.rules.find((r) => r.metric === metric)!
  return interval!.high - interval!.low
}

test('a correction on this very display leaves less open than the instrument’s own, and what is left stands beside every figure @long @long', async () => {
  const made = await runOn(usual, (s) => s.makeCorrection())
  const own = await runOn(usual, async () => null)
  const old = await runOn(usual, async (s) => {
    await s.makeCorrection()
    await s.passDays(900)
  })
  for (const { review } of [made, own, old])
    for (const { value, interval } of review.judgement.rules) {
      expect(interval!.low).toBeLessThanOrEqual(value!)
      expect(interval!.high).toBeGreaterThanOrEqual(value!)
    }
  expect(width(own, 'whiteDeltaUv')).toBeGreaterThan(1.4 * width(made, 'whiteDeltaUv'))
  expect(width(old, 'whiteDeltaUv')).toBeGreaterThan(1.4 * width(made, 'whiteDeltaUv'))
  expect(made.review.judgement.verdict).toBe('within')
  expect(made.ready).not.toContain('Registered as')
}, 120_000)

test('a panel of another kind than it says is told at Ready, and never within on the correction for that kind @long', async () => {
  let needs: FloorSummary['needs'] | null = null
  const found = await runOn(pretends, async () => null, {
    after: async (s) => {
      needs = (await s.client.get<FloorSummary>('/floor')).needs
    },
  })
  expect(found.ready).toMatch(
    /Registered as RGB LED, but its red lies at u′ 0\.4\d\d, where such panels have 0\.52 to 0\.60\. It may be .*white LED/,
  )
  expect(found.ready).toContain(
    'the correction for RGB LED does not fit. Look at the panel of On trial in the Register',
  )
  expect(found.review.judgement).toMatchObject({
    verdict: 'untold',
    sentence: expect.stringMatching(/^Nothing can be told while the instrument is corrected for another kind of panel/),
  })
  // Somebody has to see to it.
  expect(needs!.first[0]).toMatchObject({ kind: 'untold', displayName: 'On trial' })
  // A correction made on it asks for no kind.
  const made = await runOn(pretends, (s) => s.makeCorrection())
  expect(made.ready).toContain('Registered as RGB LED')
  expect(made.ready).not.toContain('does not fit')
  expect(made.review.judgement.verdict).toBe('within')
}, 120_000)

test('a colorimeter without any correction is asked nothing of kinds, and its doubt is large', async () => {
  const bare = { ...shippedInstrument('tessel-c3'), ownCorrections: false }
  const { review, ready } = await runOn(usual, async () => null, { instrument: bare })
  expect(ready).not.toContain('Registered as')
  expect(review.judgement.verdict).not.toBe('within')
  expect(review.judgement.rules.find((r) => r.metric === 'averageDeltaE')!.interval!.high).toBeGreaterThan(4)
}, 60_000)

test('limits that decide simply go by what was seen, and say the doubt all the same @long', async () => {
  const found = await runOn(usual, async (s) => {
    const all = await s.client.get<{ id: number; name: string; limits: Limits }[]>('/limits')
    const stored = all.find((l) => l.name === 'Trial')!
    await s.client.put(`/limits/${stored.id}`, {
      name: stored.name,
      limits: { decision: 'simple', rules: [{ metric: 'averageDeltaE', near: 0.5, hard: 0.6 }] },
    })
    await expect(
      s.client.put(`/limits/${stored.id}`, { name: 'x', limits: { ...stored.limits, decision: 'maybe' } }),
    ).rejects.toThrow(/decision/)
  })
  expect(found.review.judgement).toMatchObject({ verdict: 'within' })
  expect(found.review.judgement.rules[0].interval!.high).toBeGreaterThan(0.6)
}, 60_000)

describe('trials of doubt', () => {
  test('are the same for the same seed, and of every correction in turn', () => {
    expect(doubtCase(11)).toEqual(doubtCase(11))
    expect(doubtCase(11).instrument).not.toEqual(doubtCase(12).instrument)
    const seen = new Set(Array.from({ length: correctionCases.length }, (_, i) => doubtCase(i + 30).correction))
    expect(seen.size).toBe(correctionCases.length)
  })

  test('count what intervals hold, and verdicts that are wrong', () => {
    const rule = {
      metric: 'averageDeltaE',
      near: 1,
      hard: 1.5,
      value: 1,
      verdict: 'within',
      interval: { low: 0, high: 1 },
    } as const
    const trial = (verdict: DoubtTrial['verdict'], truly: DoubtTrial['truly'], truth: number): DoubtTrial => ({
      ...{ of: doubtCase(1), verdict, truly, message: null },
      figures: [{ rule, truth }],
    })
    const failed = { of: doubtCase(1), verdict: null, truly: null, message: 'No.', figures: [] }
    expect(
      doubtSummary([
        trial('within', 'within', 0.5),
        trial('near', 'outside', 2),
        trial('untold', 'outside', 1),
        trial('outside', 'near', 1.2),
        failed,
      ]),
    ).toEqual({ trials: 4, held: 0.5, within: 2, untold: 1, outside: 1, wronglyWithin: 1, wronglyOutside: 1 })
    expect(doubtSummary([failed], 'kind').trials).toBe(0)
  })
})
