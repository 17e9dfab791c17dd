import { formatSigned } from '@bichroma/core/aims'
import { matchStart, settleMatch, type MatchRepeat } from '@bichroma/core/peers'

const size = 250
const reach = 0.012

/** Where repetitions began and ended, in u′v′ around what is measured alike. */
export function MatchDiagram({ repeats }: { repeats: readonly MatchRepeat[] }) {
  const scale = Math.max(reach, ...repeats.map((r) => 1.15 * Math.hypot(r.u, r.v)))
  const x = (u: number) => size / 2 + (u / scale) * (size / 2 - 14)
  const y = (v: number) => size / 2 - (v / scale) * (size / 2 - 14)
  const mean = settleMatch(repeats)
  return (
    <svg
      viewBox={`0 0 ${size} ${size}`}
      className="matchdiagram"
      role="img"
      aria-label={`Repetitions in u′v′: mean ${formatSigned(mean.u, 4)}, ${formatSigned(mean.v, 4)}`}
    >
      <path d={`M8 ${size / 2}H${size - 8}M${size / 2} 8V${size - 8}`} className="axis" />
      {[0.005, 0.01].map((r) => (
        <circle key={r} cx={size / 2} cy={size / 2} r={x(r) - x(0)} className="axis" />
      ))}
      {repeats.map((r) => {
        const from = matchStart(r.side)
        return (
          <g key={r.side}>
            <path d={`M${x(from.u)} ${y(from.v)}L${x(r.u)} ${y(r.v)}`} className="way" />
            <circle cx={x(r.u)} cy={y(r.v)} r={4} className="end" />
          </g>
        )
      })}
      <path d={`M${x(mean.u) - 7} ${y(mean.v)}h14M${x(mean.u)} ${y(mean.v) - 7}v14`} className="mean" />
      <text x={size - 8} y={size / 2 - 5} textAnchor="end">
        u′
      </text>
      <text x={size / 2 + 5} y={16}>
        v′
      </text>
      <text x={x(0.005) - 2} y={size / 2 + 12} textAnchor="end">
        0.005
      </text>
    </svg>
  )
}
