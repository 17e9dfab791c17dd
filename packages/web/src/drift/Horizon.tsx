import dayjs from 'dayjs'
import { soonDays, type Forecast } from '@bichroma/core/drift'

/** Months ahead that a strip shows. */
const months = 18
const width = 110
const day = 86_400_000

const place = (at: number, now: number) => Math.max(0, Math.min(width, ((at - now) / (months * 30.44 * day)) * width))

/** A strip of the months ahead: the interval in which a slot leaves its limits, and the likeliest day in it. */
export function Horizon({ forecast, now }: { forecast: Forecast | null; now: number }) {
  const line = <path d={`M0 8.5H${width}`} stroke="var(--line)" />
  if (forecast?.kind === 'past')
    return (
      <Strip says="past its limits by its trend">
        {line}
        <path d="M1 3v11M1 3l6 5.5L1 14" fill="none" stroke="var(--ochre)" strokeWidth="2" />
      </Strip>
    )
  if (forecast?.kind !== 'crosses')
    return (
      <Strip says={forecast?.kind === 'steady' ? 'does not move towards its limits' : 'not enough history'}>
        {forecast?.kind === 'steady' ? line : <path d={`M0 8.5H${width}`} stroke="var(--line)" strokeDasharray="2 5" />}
      </Strip>
    )
  const color = forecast.at < now + soonDays * day ? 'var(--ochre)' : 'var(--text-2)'
  const [from, to] = [place(forecast.earliest, now), place(forecast.latest ?? Infinity, now)]
  const at = place(forecast.at, now)
  return (
    <Strip says={forecast.sentence}>
      {line}
      {from < width && <rect x={from} y="5.5" width={Math.max(2, to - from)} height="6" fill={color} opacity="0.45" />}
      {at < width && <path d={`M${at} 2v13`} stroke={color} strokeWidth="2.4" />}
      {from >= width && <path d={`M${width - 6} 4l5 4.5-5 4.5`} fill="none" stroke="var(--text-3)" />}
    </Strip>
  )
}

function Strip({ says, children }: { says: string; children: React.ReactNode }) {
  return (
    <svg
      width={width}
      height="17"
      viewBox={`0 0 ${width} 17`}
      role="img"
      aria-label={says}
      style={{ display: 'block' }}
    >
      <title>{says}</title>
      {children}
    </svg>
  )
}

/** The months that strips show, as their head. */
export function HorizonScale({ now }: { now: number }) {
  return (
    <svg width={width} height="14" viewBox={`0 0 ${width} 14`} role="img" aria-label={`The next ${months} months`}>
      {[0, 9, 18].map((m) => (
        <text
          key={m}
          x={(m / months) * width}
          y="11"
          fontSize="11"
          fill="var(--text-3)"
          textAnchor={m === 0 ? 'start' : m === months ? 'end' : 'middle'}
        >
          {m === 0 ? 'now' : dayjs(now).add(m, 'month').format('MMM YY')}
        </text>
      ))}
    </svg>
  )
}
