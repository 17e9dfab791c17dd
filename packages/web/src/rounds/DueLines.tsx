import dayjs from 'dayjs'
import type { DisplaySummary } from '@bichroma/contract'

const day = 86_400_000
const rowHeight = 26
const left = 84
const right = 10
const width = 396

/** Every display's way from its last judgement to its due line, on one scale of days around today. */
export function DueLines({ displays }: { displays: readonly DisplaySummary[] }) {
  const today = dayjs().startOf('day').valueOf()
  const from = today - 42 * day
  const to = today + 35 * day
  const x = (at: number) => left + ((Math.min(to, Math.max(from, at)) - from) / (to - from)) * (width - left - right)
  const height = displays.length * rowHeight + 30
  const weeks = Array.from({ length: 12 }, (_, i) => from + i * 7 * day).filter((at) => at <= to)
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%', display: 'block', padding: '0 4px 8px' }}
      role="img"
      aria-label="Due lines of all displays"
    >
      {weeks.map((at) => (
        <g key={at}>
          <path d={`M${x(at)} 0V${height - 22}`} stroke="var(--line-quiet)" />
          {Math.round((at - from) / day) % 14 === 0 && (
            <text x={x(at)} y={height - 8} textAnchor="middle" style={{ fontSize: 11, fill: 'var(--text-3)' }}>
              {dayjs(at).format('D MMM')}
            </text>
          )}
        </g>
      ))}
      <rect x={x(today)} y="0" width={x(today + 7 * day) - x(today)} height={height - 22} fill="var(--raised)" />
      {displays.map((d, i) => {
        const y = i * rowHeight + rowHeight / 2 + 2
        const judged = d.slots.find((s) => s.active)?.judged
        const asks = d.dueState === 'overdue'
        return (
          <g key={d.id}>
            <text x={left - 8} y={y + 4} textAnchor="end" style={{ fontSize: 12, fill: 'var(--text)' }}>
              {d.name}
            </text>
            {judged && d.dueAt !== null ? (
              <>
                <path d={`M${x(judged.at)} ${y}H${x(d.dueAt)}`} stroke="var(--text-3)" strokeWidth="2" />
                {asks && (
                  <path
                    d={`M${x(d.dueAt)} ${y}H${x(today)}`}
                    stroke="var(--ochre)"
                    strokeWidth="2"
                    strokeDasharray="3 3"
                  />
                )}
                <circle cx={x(judged.at)} cy={y} r="3.4" fill="var(--text-2)" />
                <path
                  d={`M${x(d.dueAt)} ${y - 7}v14`}
                  stroke={asks ? 'var(--ochre)' : 'var(--text)'}
                  strokeWidth="2.4"
                />
              </>
            ) : (
              <text x={x(today) - 6} y={y + 4} textAnchor="end" style={{ fontSize: 11, fill: 'var(--text-3)' }}>
                never judged
              </text>
            )}
          </g>
        )
      })}
      <path d={`M${x(today)} 0V${height - 22}`} stroke="var(--lake)" strokeWidth="1.5" />
      <text x={x(today)} y={height - 8} textAnchor="middle" style={{ fontSize: 11, fill: 'var(--lake)' }} />
    </svg>
  )
}
