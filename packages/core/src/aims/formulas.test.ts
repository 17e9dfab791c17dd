import { convertXyzToLab } from '../color/lab'
import { differenceFormulas, type DifferenceFormula } from '../color/differences'
import { checkPlans } from '../runs/checkPlans'
import { normalFrom, uniformFrom } from '../basics/random'
import { Color } from '../test/colorjs'
import { aimTargets, resolveAim, type Aim } from './aim'
import { differenceFigures, judgingWhite } from './differenceFigures'
import { edgesUnder, judge, judgeRule, type Limits } from './limits'
import { computeMetrics } from './metrics'
import type { PatchReading } from '../color/patchReading'
import { edgesByRatio, formulaRatios, namedLimits } from './namedLimits'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const resolved = resolveAim(aim, { white: { x: 0.31, y: 0.33 }, primaries: null as never, black: [0.1, 0.11, 0.14] })
const target = aimTargets(resolved)
const perfect = checkPlans.many.patches.map(({ name, rgb }): PatchReading => ({ name, rgb, xyz: target(rgb) }))

/** Readings of a display that is a little off everywhere. */
function alittleOff(seed: number, by = 0.02): PatchReading[] {
  const normal = normalFrom(uniformFrom(seed))
  const gains = [1 + by * normal(), 1 + by * normal(), 1 + by * normal()]
  return perfect.map((p) => ({ ...p, xyz: p.xyz.map((v, k) => v * gains[k]) as unknown as PatchReading['xyz'] }))
}

describe('figures under every formula', () => {
  const metrics = computeMetrics(alittleOff(3), resolved)
  const white = judgingWhite(metrics)
  /** The same by another library, from XYZ: its own CIELAB and ICtCp, its own formulas, no code of ours. */
  const independent: Readonly<Record<DifferenceFormula, (p: (typeof metrics.patches)[number]) => number>> = {
    de2000: (p) => labOf(p.target).deltaE(labOf(p.xyz), '2000'),
    de76: (p) => labOf(p.target).deltaE(labOf(p.xyz), '76'),
    de94: (p) => {
      // CIE 116-1995, written out once more.
      const [a, b] = [labOf(p.target), labOf(p.xyz)].map((c) => (c as unknown as { coords: number[] }).coords)
      const [C1, C2] = [Math.hypot(a[1], a[2]), Math.hypot(b[1], b[2])]
      const dH2 = (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2 - (C1 - C2) ** 2
      return Math.sqrt((a[0] - b[0]) ** 2 + ((C1 - C2) / (1 + 0.045 * C1)) ** 2 + dH2 / (1 + 0.015 * C1) ** 2)
    },
    deitp: (p) => absolute(p.target).deltaE(absolute(p.xyz), 'ITP'),
  }
  // Scaled so that the judging white is the library's own D65: von Kries in XYZ, as CIELAB itself does.
  const labOf = (xyz: readonly number[]) => {
    const { D65 } = Color.WHITES
    const scaled = xyz.map((v, k) => (v / white[k]) * D65[k])
    // Its formulas would else convert to CIELAB under D50.
    return new Color('lab', new Color('xyz-d65', scaled).to('lab-d65').coords)
  }
  const absolute = (xyz: readonly number[]) => new Color('xyz-abs-d65', xyz)

  test.each(differenceFormulas)(
    '%s: average, percentile, worst and white are those of an independent computation',
    (f) => {
      const figures = differenceFigures(metrics, f)
      const values = metrics.patches.map((p) => ({ name: p.name, d: independent[f](p) }))
      const sorted = values.map((v) => v.d).sort((a, b) => a - b)
      // The library's ICtCp rounds its matrices otherwise: a thousandth of the figure.
      const digits = f === 'deitp' ? 2 : 5
      expect(figures.average).toBeCloseTo(sorted.reduce((a, b) => a + b, 0) / sorted.length, digits)
      expect(figures.percentile95).toBeCloseTo(sorted[Math.ceil(0.95 * sorted.length) - 1], digits)
      expect(figures.worst.value).toBeCloseTo(sorted[sorted.length - 1], digits)
      expect(figures.worst.patch).toBe(values.find((v) => v.d === sorted[sorted.length - 1])!.name)
      expect(figures.white).toBeCloseTo(values.find((v) => v.name === 'White')!.d, digits)
      const primaries = values.filter((v) => ['Red', 'Green', 'Blue'].includes(v.name)).map((v) => v.d)
      expect(figures.worstPrimary!.value).toBeCloseTo(Math.max(...primaries), digits)
    },
  )

  test('CIELAB under the judging white is what patches carry', () => {
    const p = metrics.patches[20]
    convertXyzToLab(p.xyz, white).forEach((v, k) => expect(p.lab[k]).toBeCloseTo(v, 9))
  })

  test('limits judge by their own formula; edges of another are told and do not decide', () => {
    const limits: Limits = {
      formula: 'deitp',
      rules: [{ metric: 'averageDeltaE', near: 100, hard: 200 }],
      others: { de2000: [{ metric: 'averageDeltaE', near: 0.01, hard: 0.02 }] },
    }
    const judgement = judge(metrics, limits)
    expect(judgement).toMatchObject({ verdict: 'within', formula: 'deitp' })
    expect(judgement.rules[0].value).toBeCloseTo(differenceFigures(metrics, 'deitp').average, 12)
    expect(judgement.sentence).toMatch(/ΔE ITP\.$/)
    expect(judgeRule(metrics, edgesUnder(limits, 'de2000')![0], 'de2000').verdict).toBe('outside')
    expect(edgesUnder(limits, 'de76')).toBeNull()
  })
})

describe('named sets of limits', () => {
  test('give a reason for every number, and edges of their own for every formula', () => {
    expect(namedLimits.map((n) => n.name)).toEqual(['Exacting', 'Working', 'Tolerant'])
    for (const { limits } of namedLimits) {
      for (const rule of limits.rules) expect(rule.reason!.length).toBeGreaterThan(30)
      expect(Object.keys(limits.others!).sort()).toEqual(['de76', 'de94', 'deitp'])
    }
    // Each is stricter than the next, figure by figure.
    for (const [i, { limits }] of namedLimits.slice(1).entries())
      for (const rule of limits.rules)
        expect(namedLimits[i].limits.rules.find((r) => r.metric === rule.metric)!.hard).toBeLessThan(rule.hard)
  })

  test('a single bad green among sixty good patches is outside by each, and one sentence names it', () => {
    const readings = perfect.map((p) =>
      p.name === 'Green' ? { ...p, xyz: [p.xyz[0] * 1.6, p.xyz[1] * 0.8, p.xyz[2] * 2] as const } : p,
    )
    expect(readings.length).toBeGreaterThan(60)
    for (const { limits } of namedLimits) {
      const { verdict, sentence } = judge(computeMetrics(readings, resolved), limits)
      expect(verdict).toBe('outside')
      expect(sentence).toMatch(/^Worst ΔE2000 is \d+\.\d\d, at Green: past the hard edge of \d\.00[^.]*\.$/)
      expect(judge(computeMetrics(readings, resolved), limits).rules[0].verdict).toBe('within')
    }
  })

  test.each(differenceFormulas.filter((f) => f !== 'de2000'))(
    '%s runs as much higher as its edges say, on 60 displays that are a little off',
    (f) => {
      const ratios = Array.from({ length: 60 }, (_, i) => {
        const m = computeMetrics(alittleOff(100 + i, 0.015), resolved)
        return differenceFigures(m, f).average / differenceFigures(m, 'de2000').average
      }).sort((a, b) => a - b)
      const median = ratios[30]
      expect(median / formulaRatios[f].average).toBeGreaterThan(0.6)
      expect(median / formulaRatios[f].average).toBeLessThan(1.5)
      const [edge] = edgesByRatio([{ metric: 'averageDeltaE', near: 1, hard: 2 }], f)
      expect(edge.near).toBeCloseTo(formulaRatios[f].average, 1)
    },
  )
})

describe('rules', () => {
  const off = computeMetrics(
    perfect.map((p) =>
      p.name === 'Grey 5 %' ? { ...p, xyz: [p.xyz[0] * 2.2, p.xyz[1] * 2.2, p.xyz[2] * 2.2] as const } : p,
    ),
    resolved,
  )

  test('by level look at their own greys only', () => {
    const dark = judgeRule(off, { metric: 'toneError', near: 0.5, hard: 1, levels: { from: 0, to: 0.2 } }, 'de2000')
    const light = judgeRule(off, { metric: 'toneError', near: 0.5, hard: 1, levels: { from: 0.2, to: 1 } }, 'de2000')
    expect([dark.verdict, light.verdict]).toEqual(['outside', 'within'])
    expect(light.value).toBeLessThan(1e-9)
    const named = judge(off, { rules: [{ metric: 'toneError', near: 0.5, hard: 1, levels: { from: 0, to: 0.2 } }] })
    expect(named.sentence).toMatch(/^Worst tone error ΔL\*, greys 0–20 % is \d\.\d\d, at grey 5 %: past the hard edge/)
  })

  test('that advise bring a verdict no further than near edge; those that are only told change nothing', () => {
    const rule = { metric: 'toneError', near: 0.5, hard: 1 } as const
    const fine = { metric: 'luminanceOff', near: 5, hard: 10 } as const
    expect(judge(off, { rules: [fine, rule] }).verdict).toBe('outside')
    const advised = judge(off, { rules: [fine, { ...rule, weight: 'advises' }] })
    expect(advised.verdict).toBe('near')
    expect(advised.sentence).toContain('which only advises here')
    expect(judge(off, { rules: [fine, { ...rule, weight: 'told' }] })).toMatchObject({
      verdict: 'within',
      rules: [{ verdict: 'within' }, { verdict: 'outside' }],
    })
  })

  test('whose figure was not read are told as such, and the others decide', () => {
    const few = computeMetrics(perfect.slice(0, 2), resolved)
    const { verdict, sentence, rules } = judge(few, namedLimits[0].limits)
    expect(verdict).toBe('within')
    expect(sentence).toContain('worst tone error ΔL* and worst grey chroma were not read')
    expect(rules.filter((r) => r.verdict === 'unproven').map((r) => r.value)).toEqual([null, null])
  })
})
