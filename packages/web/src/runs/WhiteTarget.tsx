import { convertChromaticityToUv, convertXyzToUv, type Chromaticity } from '@bichroma/core/color'
import type { RunDetail } from '@bichroma/contract'
import { Plane } from '../parts/Plane'

/** Δu′v′ between two rings of the target. */
const ringStep = 0.002
const rings = 3
const size = 196
const center = size / 2
const perUnit = (size / 2 - 14) / (ringStep * rings)

/** The white on an enlarged u′v′ target, and the luminance on a gauge, reading after reading. */
export function WhiteTarget({ run, aimWhite }: { run: RunDetail; aimWhite: Chromaticity | null }) {
  const whites = run.log.filter(({ role }) => role === 'white')
  const last = whites[whites.length - 1]
  const aim = aimWhite && convertChromaticityToUv(aimWhite)
  const points = aim
    ? whites.map(({ xyz }) => {
        const { u, v } = convertXyzToUv(xyz)
        const [x, y] = [(u - aim.u) * perUnit, (v - aim.v) * perUnit]
        // What lies beyond the target is drawn at its rim.
        const shrink = Math.min(1, (size / 2 - 6) / Math.max(1e-9, Math.hypot(x, y)))
        return [center + x * shrink, center - y * shrink] as const
      })
    : []
  const goal = run.aim.luminance
  const top = Math.max(goal * 1.4, last?.xyz[1] ?? 0)
  const y = (luminance: number) => 186 - (luminance / top) * 172
  return (
    <Plane title="White against the aim" aside={`rings of ${ringStep} Δu′v′`}>
      <div style={{ display: 'flex', justifyContent: 'space-around', alignItems: 'center', padding: '0 8px' }}>
        <svg
          width={size}
          height={size}
          viewBox={`0 0 ${size} ${size}`}
          role="img"
          aria-label="White readings on a u′v′ target around the aim"
        >
          {Array.from({ length: rings }, (_, i) => (
            <circle
              key={i}
              cx={center}
              cy={center}
              r={(i + 1) * ringStep * perUnit}
              fill={i === 0 ? 'var(--raised)' : 'none'}
              stroke="var(--line)"
              strokeDasharray={i === rings - 1 ? '3 3' : undefined}
            />
          ))}
          <path d={`M4 ${center}H${size - 4}M${center} 4V${size - 4}`} stroke="var(--line-quiet)" />
          <polyline
            points={points.map((p) => p.join(',')).join(' ')}
            fill="none"
            stroke="var(--lake)"
            strokeWidth="1.5"
            opacity="0.7"
          />
          {points.map(([cx, cy], i) => (
            <circle
              key={i}
              cx={cx}
              cy={cy}
              r={i === points.length - 1 ? 5 : 2.5}
              fill={i === points.length - 1 ? 'var(--text)' : 'var(--lake)'}
            />
          ))}
          <text x={size - 16} y={center - 4} className="mark-text">
            u′
          </text>
          <text x={center + 5} y={14} className="mark-text">
            v′
          </text>
        </svg>
        <svg
          width="92"
          height="206"
          viewBox="0 0 92 206"
          role="img"
          aria-label={`Luminance of white, aim ${goal} cd/m²`}
        >
          <rect x="8" y="14" width="16" height="172" fill="var(--ground)" stroke="var(--line)" />
          <rect
            x="6"
            y={y(goal * 1.02)}
            width="20"
            height={y(goal * 0.98) - y(goal * 1.02)}
            fill="var(--raised)"
            stroke="var(--text-3)"
          />
          {last && (
            <rect x="9" y={y(last.xyz[1])} width="14" height={186 - y(last.xyz[1])} fill="var(--lake)" opacity="0.75" />
          )}
          <path d={`M2 ${y(goal)}h28`} stroke="var(--text)" strokeWidth="1.5" />
          <text x="36" y={y(goal) + 14} className="mark-text">
            aim {goal}
          </text>
          {last && (
            <text x="36" y={y(last.xyz[1]) - (last.xyz[1] >= goal ? 4 : -28)} className="mark-text f">
              {last.xyz[1].toFixed(1)}
            </text>
          )}
          <text x="4" y="202" className="mark-text">
            cd/m²
          </text>
        </svg>
      </div>
    </Plane>
  )
}
