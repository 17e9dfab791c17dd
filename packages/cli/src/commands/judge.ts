import { aimSchema, limitsSchema, validate } from '@bichroma/contract'
import {
  computeMetrics,
  describeAim,
  formatEdge,
  formatMetric,
  formatSigned,
  formatTemperature,
  formulaOf,
  judge as judgeMetrics,
  metricLabel,
  resolveAim,
  verdictWords,
} from '@bichroma/core/aims'
import { panelFactsOf } from '@bichroma/core/characterization'
import { readReadings, type SignalScale } from '@bichroma/core/formats'
import { fromFile, readJson, readText } from '../io'
import type { Answer } from '../output'

export interface JudgeOptions {
  readonly aim: string
  readonly limits: string
  readonly scale?: SignalScale
}

/** Readings against an aim and limits: every figure, and the verdict with its sentence. Exit code 3 for outside. */
export function judge(path: string, { aim: aimPath, limits: limitsPath, scale }: JudgeOptions): Answer {
  const [aimJson, limitsJson] = [readJson(aimPath), readJson(limitsPath)]
  const aim = fromFile(aimPath, () => validate(aimSchema, aimJson))
  const limits = fromFile(limitsPath, () => validate(limitsSchema, limitsJson))
  const text = readText(path)
  const { metrics: m, judgement } = fromFile(path, () => {
    const { readings } = readReadings(text, scale)
    const metrics = computeMetrics(readings, resolveAim(aim, panelFactsOf(readings, aim.primaries)))
    return { metrics, judgement: judgeMetrics(metrics, limits) }
  })
  const { verdict, sentence, rules } = judgement
  const kelvin = (v: number | null) => formatTemperature(v)
  const figures: string[][] = [
    ['white x', m.aimWhite.x.toFixed(4), m.white.x.toFixed(4), formatSigned(m.white.x - m.aimWhite.x, 4)],
    ['white y', m.aimWhite.y.toFixed(4), m.white.y.toFixed(4), formatSigned(m.white.y - m.aimWhite.y, 4)],
    ['white', kelvin(m.aimWhiteTemperature), kelvin(m.whiteTemperature), `Δu′v′ ${m.whiteDeltaUv.toFixed(4)}`],
    ['luminance, cd/m²', m.aimLuminance.toFixed(1), m.luminance.toFixed(1), `${formatSigned(m.luminanceOff, 1)} %`],
    ['black, cd/m²', '', m.black.toFixed(2), ''],
    ['contrast', '', m.contrast === null ? 'black without light' : `${Math.round(m.contrast)} : 1`, ''],
    ['average ΔE2000', '', m.averageDeltaE.toFixed(2), ''],
    ['95th percentile ΔE2000', '', m.percentile95DeltaE.toFixed(2), ''],
    ['worst ΔE2000', '', m.worstDeltaE.toFixed(2), m.worstPatch],
    ...(m.greys.length
      ? [
          [
            'tone, average exponent',
            m.aimAverageExponent.toFixed(2),
            m.averageExponent.toFixed(2),
            formatSigned(m.averageExponent - m.aimAverageExponent, 2),
          ],
          ['grey chroma, average', '', m.averageGreyChroma.toFixed(2), ''],
        ]
      : []),
    ...(m.gamut
      ? (['xy', 'uv'] as const).map((d) => [
          `gamut of the aim in ${d === 'xy' ? 'xy' : 'u′v′'}`,
          '',
          `coverage ${m.gamut![d].coverage.toFixed(0)} %`,
          `area ratio ${m.gamut![d].areaRatio.toFixed(0)} %`,
        ])
      : []),
  ]
  return {
    exitCode: verdict === 'outside' ? 3 : 0,
    json: { verdict, sentence, rules, metrics: m },
    text: [
      `${verdictWords[verdict]}: ${sentence}`,
      `${m.patches.length} patches against ${describeAim(aim)}`,
      {
        head: ['limited figure', 'achieved', 'near edge', 'hard edge', 'verdict'],
        rows: rules.map((r) => [
          metricLabel(r.metric, { formula: formulaOf(limits), levels: r.levels }),
          formatMetric(r.metric, r.value),
          formatEdge(r.metric, r.near),
          formatEdge(r.metric, r.hard),
          verdictWords[r.verdict],
        ]),
      },
      { head: ['figure', 'aim', 'achieved', 'difference'], rows: figures },
      ...(m.greys.length
        ? [
            {
              head: ['grey %', 'tone error ΔL*', 'chroma', 'Δu′v′'],
              rows: m.greys.map((g) => [
                (100 * g.level).toFixed(1),
                formatSigned(g.lightnessError, 2),
                g.chroma.toFixed(2),
                g.deltaUv.toFixed(4),
              ]),
            },
          ]
        : []),
    ],
  }
}
