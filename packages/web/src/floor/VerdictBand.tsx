import { useId } from 'react'
import { verdictWords, type Verdict } from '@bichroma/core/aims'
import type { VerdictCounts } from '@bichroma/contract'

/** In the order of trust, so that what can be trusted is read from the left. */
export const verdictOrder: readonly Verdict[] = ['within', 'near', 'untold', 'outside', 'lapsed', 'unproven']

const height = 14
/** Displays that are few among many are still seen, px. */
const leastWidth = 3

/** Strokes of the verdict signs, as a filling: shape tells, hue only helps. */
const fillings: Readonly<Record<Verdict, { color: string; stroke: React.ReactNode }>> = {
  within: { color: 'var(--text-2)', stroke: <rect width="8" height="14" fill="currentColor" /> },
  near: {
    color: 'var(--ochre)',
    stroke: <rect x="2.5" y="5.5" width="3" height="3" fill="currentColor" />,
  },
  untold: {
    color: 'var(--ochre)',
    stroke: <path d="M2 12V4h4v8" fill="none" stroke="currentColor" strokeWidth="1.4" />,
  },
  outside: {
    color: 'var(--ochre)',
    stroke: <path d="M0 3l8 8M8 3l-8 8" stroke="currentColor" strokeWidth="1.4" />,
  },
  lapsed: { color: 'var(--text-2)', stroke: <path d="M1 12L7 2" stroke="currentColor" strokeWidth="1.4" /> },
  unproven: {
    color: 'var(--text-3)',
    stroke: <path d="M0 1h4M0 13h4" stroke="currentColor" strokeWidth="1.6" />,
  },
}

/** The shares of each verdict as lengths of one band, drawn with the strokes of the verdicts' signs. */
export function VerdictBand({ verdicts, width = 320 }: { verdicts: VerdictCounts; width?: number }) {
  const id = useId()
  const there = verdictOrder.filter((v) => verdicts[v] > 0)
  const total = there.reduce((sum, v) => sum + verdicts[v], 0)
  const said = there.map((v) => `${verdicts[v]} ${verdictWords[v]}`).join(', ') || 'no display'
  const free = width - there.length * leastWidth
  const widths = there.map((v) => leastWidth + (free * verdicts[v]) / total)
  return (
    <svg
      className="band"
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      width="100%"
      height={height}
      role="img"
      aria-label={said}
    >
      <title>{said}</title>
      <defs>
        {there.map((v) => (
          <pattern
            key={v}
            id={`${id}${v}`}
            width="8"
            height={height}
            patternUnits="userSpaceOnUse"
            style={{ color: fillings[v].color }}
          >
            {fillings[v].stroke}
          </pattern>
        ))}
      </defs>
      {there.map((v, i) => {
        const x = widths.slice(0, i).reduce((a, b) => a + b, 0)
        return (
          <g key={v} style={{ color: fillings[v].color }}>
            <rect x={x} width={Math.max(1, widths[i] - 1)} height={height} fill={`url(#${id}${v})`} />
            {v !== 'within' && (
              <rect
                x={x + 0.5}
                y="0.5"
                width={Math.max(1, widths[i] - 2)}
                height={height - 1}
                fill="none"
                stroke="currentColor"
                strokeDasharray={v === 'unproven' ? '3 3' : undefined}
              />
            )}
          </g>
        )
      })}
    </svg>
  )
}
