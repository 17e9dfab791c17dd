import { Segmented, Select } from 'antd'
import { useState } from 'react'
import type { Metrics } from '@bichroma/core/aims'
import {
  convertChromaticityToUv,
  convertUvToChromaticity,
  deltaUv,
  spectralLocus,
  standardPrimaries,
  type Chromaticity,
  type Diagram,
  type Primaries,
  type StandardPrimaries,
} from '@bichroma/core/color'
import type { TrailPoint } from '@bichroma/contract'

const [width, height] = [440, 370]
const box = { left: 40, top: 8, right: 10, bottom: 32 }

/** What each diagram shows of the plane, and its axes' names. */
const diagrams: Readonly<Record<Diagram, { across: number; up: number; step: number; names: [string, string] }>> = {
  uv: { across: 0.65, up: 0.62, step: 0.1, names: ['u′', 'v′'] },
  xy: { across: 0.8, up: 0.9, step: 0.1, names: ['x', 'y'] },
}
const standards = Object.keys(standardPrimaries) as StandardPrimaries[]

/**
 * Chromaticities: the spectral locus, the aim's triangle thin, the measured one solid, the raw panel's dashed, a standard
 * of choice dotted; white as cross and dot, with the earlier validations as a trail that fades with age.
 */
export function ChromaticityDiagram({
  metrics,
  baseline,
  trail,
}: {
  metrics: Metrics
  baseline: Metrics | null
  trail: readonly TrailPoint[]
}) {
  const [diagram, setDiagram] = useState<Diagram>('uv')
  const [standard, setStandard] = useState<StandardPrimaries | 'none'>('none')
  const { across, up, step, names } = diagrams[diagram]
  // One scale for both axes, so that distances are what they seem.
  const unit = Math.min((width - box.left - box.right) / across, (height - box.top - box.bottom) / up)
  const x = (v: number) => box.left + v * unit
  const y = (v: number) => height - box.bottom - v * unit
  const at = (c: Chromaticity) => {
    if (diagram === 'xy') return [x(c.x), y(c.y)] as const
    const { u, v } = convertChromaticityToUv(c)
    return [x(u), y(v)] as const
  }
  const triangle = (p: Primaries) => [p.red, p.green, p.blue].map((c) => at(c).join(',')).join(' ')
  const text = { fontSize: 11, fill: 'var(--text-3)' }
  const figure = { ...text, fontFamily: '"Spline Sans Mono Variable", monospace' }
  const [ax, ay] = at(metrics.aimWhite)
  const [mx, my] = at(metrics.white)
  const ticks = (most: number) => Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step)
  const legend: [string, { stroke: string; strokeWidth: number; strokeDasharray?: string }][] = [
    ['measured', { stroke: 'var(--text)', strokeWidth: 1.8 }],
    ['aim', { stroke: 'var(--lake)', strokeWidth: 1.2 }],
    ...(baseline?.primaries
      ? [
          [
            'raw panel',
            { stroke: 'var(--text-2)', strokeWidth: 1.2, strokeDasharray: '4 4' },
          ] as (typeof legend)[number],
        ]
      : []),
    ...(standard !== 'none'
      ? [[standard, { stroke: 'var(--text-2)', strokeWidth: 1, strokeDasharray: '1 3' }] as (typeof legend)[number]]
      : []),
  ]
  return (
    <>
      <div style={{ display: 'flex', gap: 8, padding: '2px 10px' }}>
        <Segmented<Diagram>
          size="small"
          aria-label="Diagram shown"
          value={diagram}
          onChange={setDiagram}
          options={[
            { value: 'uv', label: 'u′v′' },
            { value: 'xy', label: 'xy' },
          ]}
        />
        <Select<StandardPrimaries | 'none'>
          size="small"
          aria-label="Standard shown beside"
          value={standard}
          onChange={setStandard}
          style={{ width: 150 }}
          options={[{ value: 'none', label: 'no standard' }, ...standards.map((value) => ({ value, label: value }))]}
        />
      </div>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: '100%', flex: 1, minHeight: 0 }}
        role="img"
        aria-label={`Chromaticity in ${names.join('')}: aim’s triangle and measured triangle`}
      >
        {ticks(up).map((t) => (
          <g key={`y${t}`}>
            <path d={`M${box.left} ${y(t)}H${x(across)}`} stroke="var(--line-quiet)" />
            <text x={box.left - 6} y={y(t) + 4} textAnchor="end" style={figure}>
              {t.toFixed(1)}
            </text>
          </g>
        ))}
        {ticks(across).map((t) => (
          <g key={`x${t}`}>
            <path d={`M${x(t)} ${y(up)}V${height - box.bottom}`} stroke="var(--line-quiet)" />
            <text x={x(t)} y={height - box.bottom + 14} textAnchor="middle" style={figure}>
              {t.toFixed(1)}
            </text>
          </g>
        ))}
        <text x={width - box.right} y={height - 4} textAnchor="end" style={text}>
          {names[0]}
        </text>
        <text x={10} y={box.top + 8} style={text}>
          {names[1]}
        </text>
        <polygon
          points={spectralLocus()
            .map((c) => at(convertUvToChromaticity(c)).join(','))
            .join(' ')}
          fill="none"
          stroke="var(--text-3)"
          strokeWidth="1"
        />
        {standard !== 'none' && (
          <polygon
            points={triangle(standardPrimaries[standard])}
            fill="none"
            stroke="var(--text-2)"
            strokeWidth="1"
            strokeDasharray="1 3"
          />
        )}
        {baseline?.primaries && (
          <polygon
            points={triangle(baseline.primaries)}
            fill="none"
            stroke="var(--text-2)"
            strokeWidth="1.2"
            strokeDasharray="4 4"
          />
        )}
        {trail.map((point, i) => {
          const opacity = 0.12 + (0.4 * (i + 1)) / trail.length
          const [tx, ty] = at(point.white)
          return (
            <g key={point.runId} opacity={opacity}>
              {point.primaries && (
                <polygon points={triangle(point.primaries)} fill="none" stroke="var(--text)" strokeWidth="0.8" />
              )}
              <circle cx={tx} cy={ty} r="2" fill="var(--text)" />
            </g>
          )
        })}
        <polygon points={triangle(metrics.aimPrimaries)} fill="none" stroke="var(--lake)" strokeWidth="1.2" />
        {metrics.primaries && (
          <polygon points={triangle(metrics.primaries)} fill="none" stroke="var(--text)" strokeWidth="1.8" />
        )}
        <path d={`M${ax - 7} ${ay}h14M${ax} ${ay - 7}v14`} stroke="var(--lake)" strokeWidth="1.2" />
        <circle cx={mx} cy={my} r="3.2" fill="var(--text)" />
        <g transform={`translate(${width - 106} ${height - 104})`} style={{ ...text, fill: 'var(--text-2)' }}>
          {legend.map(([name, stroke], i) => (
            <g key={name} transform={`translate(0 ${i * 16})`}>
              <path d="M0 0h22" {...stroke} />
              <text x="28" y="4">
                {name}
              </text>
            </g>
          ))}
        </g>
      </svg>
      <PrimariesTable metrics={metrics} diagram={diagram} />
    </>
  )
}

function PrimariesTable({ metrics, diagram }: { metrics: Metrics; diagram: Diagram }) {
  if (!metrics.primaries || !metrics.gamut) return null
  const pair = (c: Chromaticity) => `${c.x.toFixed(4)} ${c.y.toFixed(4)}`
  const { coverage, areaRatio } = metrics.gamut[diagram]
  return (
    <div style={{ marginTop: 'auto' }}>
      <p style={{ padding: '0 12px 4px' }}>
        Coverage of the aim <span className="fig">{coverage.toFixed(1)} %</span>, area ratio{' '}
        <span className="fig">{areaRatio.toFixed(1)} %</span>{' '}
        <span className="quiet">in {diagrams[diagram].names.join('')}</span>
      </p>
      <table className="figures">
        <thead>
          <tr>
            <th>Primaries, xy</th>
            <th>aim</th>
            <th>achieved</th>
            <th>Δu′v′</th>
          </tr>
        </thead>
        <tbody>
          {(['red', 'green', 'blue'] as const).map((hue) => {
            const [aim, got] = [metrics.aimPrimaries[hue], metrics.primaries![hue]]
            return (
              <tr key={hue}>
                <td>{hue[0].toUpperCase() + hue.slice(1)}</td>
                <td className="fig">{pair(aim)}</td>
                <td className="fig">{pair(got)}</td>
                <td className="fig">
                  {deltaUv(convertChromaticityToUv(aim), convertChromaticityToUv(got)).toFixed(4)}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}
