import {
  formatEdge,
  formatMetric,
  formatSigned,
  formatTemperature,
  limitedMetrics,
  verdictWords,
  type Judgement,
  type Metrics,
} from '@bichroma/core'
import { VerdictSign } from '../parts/VerdictSign'

/** Aim, achieved and difference side by side; below, the figures that limits rule. `brief`: without the finer rows. */
export function AchievedTable({
  metrics: m,
  judgement,
  brief = false,
}: {
  metrics: Metrics
  judgement: Judgement
  brief?: boolean
}) {
  // Differences are of the figures as they are shown, so that a reader who subtracts gets the same.
  const tens = (kelvin: number) => Math.round(kelvin / 10) * 10
  const kelvin =
    m.whiteTemperature !== null && m.aimWhiteTemperature !== null
      ? tens(m.whiteTemperature) - tens(m.aimWhiteTemperature)
      : null
  const tone = Number(m.averageExponent.toFixed(2)) - Number(m.aimAverageExponent.toFixed(2))
  const rows: [string, string, string, string][] = [
    [
      'White',
      formatTemperature(m.aimWhiteTemperature),
      formatTemperature(m.whiteTemperature),
      kelvin === null ? '–' : formatSigned(kelvin, 0),
    ],
    ...(brief
      ? []
      : ([
          ['White x', m.aimWhite.x.toFixed(4), m.white.x.toFixed(4), formatSigned(m.white.x - m.aimWhite.x, 4)],
          ['White y', m.aimWhite.y.toFixed(4), m.white.y.toFixed(4), formatSigned(m.white.y - m.aimWhite.y, 4)],
        ] as [string, string, string, string][])),
    ['Luminance', m.aimLuminance.toFixed(1), m.luminance.toFixed(1), `${formatSigned(m.luminanceOff, 1)} %`],
    ['Tone, average', m.aimAverageExponent.toFixed(2), m.averageExponent.toFixed(2), formatSigned(tone, 2)],
    ['Black', 'its own', m.black.toFixed(2), '–'],
    ['Contrast', '–', m.contrast === null ? '–' : `${Math.round(m.contrast)} : 1`, '–'],
    ['Grey chroma', '–', m.averageGreyChroma.toFixed(2), '–'],
  ]
  return (
    <table className="figures">
      <thead>
        <tr>
          <th />
          <th>aim</th>
          <th>achieved</th>
          <th>difference</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, ...cells]) => (
          <tr key={name}>
            <td>
              {name} {(name === 'Luminance' || name === 'Black') && <span className="unit small">cd/m²</span>}
            </td>
            {cells.map((cell, i) => (
              <td key={i} className="fig">
                {cell}
              </td>
            ))}
          </tr>
        ))}
        {judgement.rules.map((rule) => (
          <tr key={rule.metric}>
            <td>{limitedMetrics[rule.metric].label}</td>
            <td className="fig" title={`hard edge ${formatMetric(rule.metric, rule.hard)}`}>
              {formatEdge(rule.metric, rule.near)}
            </td>
            <td className="fig">{formatMetric(rule.metric, rule.value)}</td>
            <td className="second" style={{ whiteSpace: 'nowrap' }}>
              <VerdictSign verdict={rule.verdict} alone={false} /> {verdictWords[rule.verdict]}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
