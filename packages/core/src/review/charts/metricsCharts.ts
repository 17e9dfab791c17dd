import { differenceLabels, type DifferenceFormula } from '../../color/differences'
import { convertChromaticityToUv, type Chromaticity } from '../../color/chromaticity'
import type { Primaries } from '../../color/encodings'
import { spectralLocus } from '../../color/spectralLocus'
import { judgingWhite, patchDifference } from '../../aims/differenceFigures'
import { ruleAtLevel, type LimitRule, type Limits } from '../../aims/limits'
import type { Metrics } from '../../aims/metrics'
import { cssOfLab } from '../../color/cssOfLab'
import { dot, drawing, frame, ink, line, polygon, rect, words, type Drawing } from './drawing'

const size = { width: 250, height: 150 }
const levels = { from: 0, to: 100, ticks: [0, 25, 50, 75, 100], label: 'signal, %' }
const measured = { stroke: ink.text, width: 1.3 }

/** What is drawn of the limits: the edges of a metric. */
type EdgesOf = (metric: LimitRule['metric']) => LimitRule | undefined

/** Tone error by level: L* read less L* aimed, with the near edge as a band, by level where rules name levels. */
export function toneErrorChart(m: Metrics, limits: Pick<Limits, 'rules'>): Drawing {
  const nearOf = (level: number) => ruleAtLevel(limits, 'toneError', level)?.near ?? 1
  const nears = m.greys.map((g) => nearOf(g.level))
  const near = Math.max(...nears)
  const values = m.greys.map((g) => g.lightnessError)
  const { x, y, axes } = frame(size, levels, {
    from: Math.min(-near * 1.2, ...values),
    to: Math.max(near * 1.2, ...values),
    label: 'ΔL*',
    digits: 1,
  })
  const points = m.greys.map((g) => [x(100 * g.level), y(g.lightnessError)] as const)
  return drawing('Tone error by level', `Tone error of ${m.greys.length} greys, ΔL*`, size.width, size.height, [
    ...bandOf(m, nears, x, y),
    ...axes,
    line(
      [
        [x(0), y(0)],
        [x(100), y(0)],
      ],
      { stroke: ink.aim, width: 0.8 },
    ),
    line(points, measured),
    ...points.map((p) => dot(p, 1.7, { fill: ink.text })),
  ])
}

/** The band of each grey, from halfway to the grey below it to halfway to the grey above. */
function bandOf(m: Metrics, nears: readonly number[], x: (v: number) => number, y: (v: number) => number) {
  const order = m.greys.map((g, i) => ({ level: 100 * g.level, near: nears[i] })).sort((a, b) => a.level - b.level)
  return order.map(({ level, near }, i) => {
    const from = i === 0 ? 0 : (order[i - 1].level + level) / 2
    const to = i === order.length - 1 ? 100 : (order[i + 1].level + level) / 2
    return rect(x(from), y(near), x(to) - x(from), y(-near) - y(near), { fill: ink.band })
  })
}

/** Grey tracking: how far each grey is from the aim's white, in chroma. */
export function greyChart(m: Metrics, edges: EdgesOf): Drawing {
  const near = edges('worstGreyChroma')?.near ?? 1
  const { x, y, axes, box } = frame(size, levels, {
    from: 0,
    to: Math.max(near * 1.3, ...m.greys.map((g) => g.chroma)),
    label: 'chroma difference',
    digits: 1,
  })
  const points = m.greys.map((g) => [x(100 * g.level), y(g.chroma)] as const)
  return drawing('Grey tracking', `Chroma difference of ${m.greys.length} greys`, size.width, size.height, [
    rect(box.left, y(near), size.width - box.left - box.right, y(0) - y(near), { fill: ink.band }),
    ...axes,
    line(points, measured),
    ...points.map((p) => dot(p, 1.7, { fill: ink.text })),
  ])
}

/** u′v′: spectral locus, the aim's triangle and white, the measured ones. */
export function chromaticityChart(m: Metrics): Drawing {
  const [width, height] = [size.width, 220]
  const { x, y, axes } = frame(
    { width, height },
    { from: 0, to: 0.65, ticks: [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6], label: 'u′', format: (v) => v.toFixed(1) },
    { from: 0, to: 0.6, label: 'v′', digits: 1 },
  )
  const at = (c: Chromaticity) => {
    const { u, v } = convertChromaticityToUv(c)
    return [x(u), y(v)] as const
  }
  const triangle = (p: Primaries) => [at(p.red), at(p.green), at(p.blue)]
  const [ax, ay] = at(m.aimWhite)
  const gamut = m.gamut ? `, coverage ${m.gamut.uv.coverage.toFixed(1)} %` : ''
  return drawing('Chromaticity', `Measured and aimed triangle in u′v′${gamut}`, width, height, [
    ...axes,
    polygon(
      spectralLocus().map(({ u, v }) => [x(u), y(v)] as const),
      { stroke: ink.line, width: 0.8 },
    ),
    polygon(triangle(m.aimPrimaries), { stroke: ink.aim, width: 0.9 }),
    m.primaries ? polygon(triangle(m.primaries), measured) : '',
    line(
      [
        [ax - 5, ay],
        [ax + 5, ay],
      ],
      { stroke: ink.aim },
    ),
    line(
      [
        [ax, ay - 5],
        [ax, ay + 5],
      ],
      { stroke: ink.aim },
    ),
    dot(at(m.white), 2, { fill: ink.text }),
  ])
}

/** Bars in a chart of patches, at most. */
const mostBars = 40

/** Every patch's difference as a bar in its own colour, worst first, with the edges of the worst as lines. */
export function patchesChart(m: Metrics, formula: DifferenceFormula, edges: EdgesOf): Drawing {
  const white = judgingWhite(m)
  const all = m.patches
    .map((p) => ({ p, value: patchDifference(p, formula, white) }))
    .sort((a, b) => b.value - a.value)
    .slice(0, mostBars)
  const [width, height] = [512, 126]
  const rule = edges('worstDeltaE')
  const { x, y, axes, low } = frame(
    { width, height },
    { from: 0, to: all.length, ticks: [], label: `${all.length} of ${m.patches.length} patches, worst first` },
    { from: 0, to: Math.max(all[0].value, rule?.near ?? 0), label: differenceLabels[formula], digits: 1 },
  )
  const step = x(1) - x(0)
  const edge = (value: number, name: string) =>
    value <= all[0].value * 1.6
      ? line(
          [
            [x(0), y(value)],
            [x(all.length), y(value)],
          ],
          { stroke: ink.aim, width: 0.8, dash: '3 3' },
        ) + words(x(all.length), y(value) - 2, name, { anchor: 'end', size: 8, fill: ink.aim })
      : ''
  return drawing('Patches', `Differences of ${all.length} patches, the worst ${all[0].p.name}`, width, height, [
    ...axes,
    ...all.map(({ p, value }, i) =>
      rect(x(i) + step * 0.12, y(value), step * 0.76, y(low) - y(value), {
        fill: cssOfLab(p.targetLab),
        stroke: ink.line,
        width: 0.4,
      }),
    ),
    rule ? edge(rule.near, 'near edge') + edge(rule.hard, 'hard edge') : '',
  ])
}
