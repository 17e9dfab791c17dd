import { PanelModel, settled, shippedPanel, type PanelTraits } from '@bichroma/bench'
import { computeMetrics, resolveAim, type LimitRule, type Limits, type ResolvedAim } from '@bichroma/core/aims'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { convertXyzToChromaticity, type PatchReading, type Triple } from '@bichroma/core/color'
import { figureKey, forecastLimits, slotDrift, trackedFigures, type Validated } from '@bichroma/core/drift'
import { checkPlans } from '@bichroma/core/runs'
import { told } from '../packages/core/src/test/told'

const day = 86_400_000
const month = 30 * day
const start = Date.UTC(2025, 10, 20, 9)
/** The day after the last of twelve monthly checks. */
const now = start + 11 * month + day
const models = ['quillon-q27', 'quillon-q24', 'marram-m32', 'vesper-o25', 'tarn-pen-22', 'halden-p4']

/** Lets a tone of power 2.2 come out of a channel with its own exponent and bow: the drive, by bisection. */
function driveFor(light: number, exponent: number, bow: number): number {
  const of = (d: number) => (d + bow * d * (1 - d) * (2 * d - 1)) ** exponent
  let [low, high] = [0, 1]
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2
    if (of(middle) < light) low = middle
    else high = middle
  }
  return high
}

/** A display on the bench: calibrated at the start as well as curves alone can, and what time makes of it later. */
function ageingDisplay(model: string, seed: number) {
  const uniform = uniformFrom(seed)
  const shipped = shippedPanel(model)
  const faster = 0.7 + 0.9 * uniform()
  const aged = (rates: readonly number[]) => rates.map((v) => v * faster) as number[]
  const { ageing } = shipped.time
  const time = { ...shipped.time, ageing: { light: aged(ageing.light), tone: aged(ageing.tone) } }
  const traits: PanelTraits = { ...shipped, time }
  const still = new PanelModel({ ...traits, time: { ...time, wander: { luminance: 0, blue: 0 } } }, seed)
  const moody = new PanelModel(traits, seed)
  const [perDay, born] = [7 + 5 * uniform(), 4000 * uniform()]
  const hoursAt = (at: number) => born + ((at - start) / day) * perDay
  const { exponents, bows } = traits.tone
  const driven = (rgb: Triple) =>
    rgb.map((v, c) =>
      driveFor(v ** 2.2, exponents[c] + (time.ageing.tone[c] * hoursAt(start)) / 1000, bows[c]),
    ) as unknown as Triple
  const patches = checkPlans.few.patches.map(({ name, rgb }) => ({ name, rgb, drive: driven(rgb) }))
  const emit = (panel: PanelModel, drive: Triple, at: number) =>
    panel.emit(drive, { ...settled, backlight: traits.control.max, hours: hoursAt(at), at })
  const corner = (c: number) =>
    convertXyzToChromaticity(emit(still, [0, 1, 2].map((k) => Number(k === c)) as never, start))
  const white = emit(still, [1, 1, 1], start)
  const aim: ResolvedAim = resolveAim(
    {
      white: { kind: 'panel' },
      luminance: white[1],
      toneResponse: { kind: 'power', exponent: 2.2 },
      primaries: { kind: 'panel' },
    },
    {
      white: convertXyzToChromaticity(white),
      primaries: { red: corner(0), green: corner(1), blue: corner(2) },
      black: emit(still, [0, 0, 0], start),
    },
  )
  const figuresFrom = (read: readonly PatchReading[], limits: Limits) =>
    trackedFigures(computeMetrics(read, aim, { temperatures: false }), limits)
  const normal = normalFrom(uniform)
  return {
    truth: (at: number, limits: Limits) =>
      figuresFrom(
        patches.map((p) => ({ ...p, xyz: emit(still, p.drive, at) })),
        limits,
      ),
    /** A check by an instrument that repeats to 0.2 % in luminance and 0.05 % in colour, on a panel with its moods. */
    check: (at: number, limits: Limits) =>
      figuresFrom(
        patches.map((p) => {
          const [x, y, z] = emit(moody, p.drive, at)
          const all = 1 + 0.002 * normal()
          return { ...p, xyz: [x * all * (1 + 0.0005 * normal()), y * all, z * all * (1 + 0.0005 * normal())] as const }
        }),
        limits,
      ),
    uniform,
    aimWhite: convertXyzToChromaticity(white),
  }
}

describe('forecasts from twelve monthly checks, held against what the bench’s ageing comes to', () => {
  test.each([['luminanceOff'], ['whiteDeltaUv'], ['averageDeltaE']] as const)(
    'of %s: the true date lies inside the 80 %% interval in 70–90 of 100 displays @long',
    (metric) => {
      let [inside, asked] = [0, 0]
      for (let seed = 1; asked < 100; seed++) {
        const display = ageingDisplay(models[seed % models.length], 7919 * seed)
        const crossing = now + (1 + 10 * display.uniform()) * month
        const none: Limits = { rules: [{ metric, near: 1, hard: 1 }] }
        const edge = Math.abs(display.truth(crossing, none)[figureKey({ metric }, 'de2000')])
        const rule: LimitRule = { metric, near: edge, hard: edge }
        const limits: Limits = { rules: [rule] }
        const history = Array.from({ length: 12 }, (_, i): Validated => {
          const at = start + i * month
          return { at, segment: 1, instrumentId: 1, figures: display.check(at, limits) }
        })
        const [{ forecast }] = forecastLimits(slotDrift(history, display.aimWhite), limits, now)
        asked++
        // A display that is said not to move, or to be past its edge, got no date that holds.
        if (forecast.kind !== 'crosses') continue
        if (crossing >= forecast.earliest && crossing <= (forecast.latest ?? Infinity)) inside++
      }
      told(`${metric}: forecasts of 100 whose interval holds the true date, off 80`, Math.abs(inside - 80))
      expect(inside).toBeGreaterThanOrEqual(70)
      expect(inside).toBeLessThanOrEqual(90)
    },
  )

  test('nobody is promised a date from fewer than four checks', () => {
    const display = ageingDisplay('quillon-q27', 5)
    const limits: Limits = {
      rules: [
        { metric: 'luminanceOff', near: 2, hard: 3 },
        { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 },
      ],
    }
    for (const checks of [1, 2, 3]) {
      const history = Array.from({ length: checks }, (_, i): Validated => {
        const at = start + i * month
        return { at, segment: 1, instrumentId: 1, figures: display.check(at, limits) }
      })
      for (const { forecast } of forecastLimits(slotDrift(history, display.aimWhite), limits, now))
        expect(forecast).toMatchObject({ kind: 'not enough history', observations: checks })
    }
  })
})
