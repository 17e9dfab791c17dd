import dayjs from 'dayjs'
import type { DisplayListing } from '@bichroma/contract'
import './rounds.css'

const day = 86_400_000
/** Days before and after today that a strip shows. */
const [back, ahead] = [42, 35]
const width = 340
const height = 22

const today = () => dayjs().startOf('day').valueOf()
const place = (at: number) =>
  (Math.min(back + ahead, Math.max(0, (at - today()) / day + back)) / (back + ahead)) * (width - 8) + 4

/** A display's way from its last judgement to its due line, on the scale of days that its head shows. */
export function DueStrip({ display }: { display: DisplayListing }) {
  const { judged, dueAt, dueState } = display
  const now = place(today())
  const y = height / 2
  return (
    <svg width="100%" height={height} viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none" aria-hidden>
      <rect x={now} y="0" width={place(today() + 7 * day) - now} height={height} fill="var(--raised)" />
      {judged && dueAt !== null && (
        <>
          <path d={`M${place(judged.at)} ${y}H${place(dueAt)}`} stroke="var(--text-3)" strokeWidth="2" />
          {dueState === 'overdue' && (
            <path d={`M${place(dueAt)} ${y}H${now}`} stroke="var(--ochre)" strokeWidth="2" strokeDasharray="3 3" />
          )}
          {display.calendarAt !== null && display.calendarAt > dueAt && (
            <path
              d={`M${place(dueAt)} ${y}H${place(display.calendarAt)}M${place(display.calendarAt)} ${y - 5}v10`}
              stroke="var(--text-3)"
              strokeDasharray="2 3"
            />
          )}
          <circle cx={place(judged.at)} cy={y} r="3.2" fill="var(--text-2)" />
          <path
            d={`M${place(dueAt)} ${y - 7}v14`}
            stroke={dueState === 'overdue' ? 'var(--ochre)' : 'var(--text)'}
            strokeWidth="2.4"
          />
        </>
      )}
      <path d={`M${now} 0V${height}`} stroke="var(--lake)" strokeWidth="1.5" />
    </svg>
  )
}

/** The days of the strips below it. */
export function DueScale() {
  return (
    <span
      className="duescale fig"
      role="img"
      aria-label="Dot: last judged; bar: to its due line; dashes: on to its calendar, where the forecast is sooner; upright line: today"
    >
      {[-28, 0, 28].map((days) => (
        <span
          key={days}
          className={days === 0 ? 'runs' : 'quiet'}
          style={{ left: `${(100 * place(today() + days * day)) / width}%` }}
        >
          {days === 0 ? 'today' : dayjs(today() + days * day).format('D MMM')}
        </span>
      ))}
    </span>
  )
}
