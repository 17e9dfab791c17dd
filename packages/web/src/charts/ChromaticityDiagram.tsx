import {
  convertChromaticityToUv,
  deltaUv,
  spectralLocus,
  type Chromaticity,
  type Metrics,
  type Primaries,
} from '@bichroma/core'

const width = 440
const height = 412
const box = { left: 44, top: 10, right: 12, bottom: 36 }
const range = { u: 0.65, v: 0.62 }
const x = (u: number) => box.left + (u / range.u) * (width - box.left - box.right)
const y = (v: number) => height - box.bottom - (v / range.v) * (height - box.top - box.bottom)
const at = (c: Chromaticity) => {
  const { u, v } = convertChromaticityToUv(c)
  return [x(u), y(v)] as const
}
const triangle = (p: Primaries) => [p.red, p.green, p.blue].map((c) => at(c).join(',')).join(' ')

/** u′v′ diagram: the spectral locus, the aim's triangle thin, the measured one solid, the raw panel's dashed. */
export function ChromaticityDiagram({ metrics, baseline }: { metrics: Metrics; baseline: Metrics | null }) {
  const locus = spectralLocus().map(({ u, v }) => `${x(u)},${y(v)}`)
  const text = { fontSize: 11, fill: 'var(--text-3)' }
  const figure = { ...text, fontFamily: '"Spline Sans Mono Variable", monospace' }
  const [ax, ay] = at(metrics.aimWhite)
  const [mx, my] = at(metrics.white)
  return (
    <>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: '100%', maxHeight: '74%' }}
        role="img"
        aria-label="Chromaticity in u′v′: aim’s triangle and measured triangle"
      >
        {[0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6].map((t) => (
          <g key={t}>
            <path d={`M${box.left} ${y(t)}H${width - box.right}`} stroke="var(--line-quiet)" />
            <text x={box.left - 8} y={y(t) + 4} textAnchor="end" style={figure}>
              {t.toFixed(1)}
            </text>
            <path d={`M${x(t)} ${box.top}V${height - box.bottom}`} stroke="var(--line-quiet)" />
            <text x={x(t)} y={height - box.bottom + 15} textAnchor="middle" style={figure}>
              {t.toFixed(1)}
            </text>
          </g>
        ))}
        <text x={width - box.right} y={height - 6} textAnchor="end" style={text}>
          u′
        </text>
        <text x={12} y={box.top + 8} style={text}>
          v′
        </text>
        <polygon points={locus.join(' ')} fill="none" stroke="var(--text-3)" strokeWidth="1" />
        {baseline?.primaries && (
          <polygon
            points={triangle(baseline.primaries)}
            fill="none"
            stroke="var(--text-2)"
            strokeWidth="1.2"
            strokeDasharray="4 4"
          />
        )}
        <polygon points={triangle(metrics.aimPrimaries)} fill="none" stroke="var(--lake)" strokeWidth="1.2" />
        {metrics.primaries && (
          <polygon points={triangle(metrics.primaries)} fill="none" stroke="var(--text)" strokeWidth="1.8" />
        )}
        <path d={`M${ax - 7} ${ay}h14M${ax} ${ay - 7}v14`} stroke="var(--lake)" strokeWidth="1.2" />
        <circle cx={mx} cy={my} r="3.2" fill="var(--text)" />
        <g transform={`translate(${width - 120} ${height - 110})`} style={{ ...text, fill: 'var(--text-2)' }}>
          <path d="M0 0h22" stroke="var(--text)" strokeWidth="1.8" />
          <text x="30" y="4">
            measured
          </text>
          <path d="M0 18h22" stroke="var(--lake)" strokeWidth="1.2" />
          <text x="30" y="22">
            aim
          </text>
          {baseline?.primaries && (
            <>
              <path d="M0 36h22" stroke="var(--text-2)" strokeWidth="1.2" strokeDasharray="4 4" />
              <text x="30" y="40">
                raw panel
              </text>
            </>
          )}
        </g>
      </svg>
      <PrimariesTable metrics={metrics} />
    </>
  )
}

function PrimariesTable({ metrics }: { metrics: Metrics }) {
  if (!metrics.primaries) return null
  const pair = (c: Chromaticity) => `${c.x.toFixed(4)} ${c.y.toFixed(4)}`
  return (
    <table className="figures" style={{ marginTop: 'auto' }}>
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
              <td className="fig">{deltaUv(convertChromaticityToUv(aim), convertChromaticityToUv(got)).toFixed(4)}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
