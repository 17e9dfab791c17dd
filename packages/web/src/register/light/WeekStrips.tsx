import { Segmented } from 'antd'
import dayjs from 'dayjs'
import type { LightCell } from '@bichroma/core/aims'
import type { LightWeeks } from '@bichroma/contract'
import { Plane } from '../../parts/Plane'

const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
/** Size of one hour's column, and of a weekday's strip. */
const [width, height] = [24, 30]

const cellWords = (c: LightCell): string =>
  `${Math.round(c.lux)} lx on average, ${Math.round(c.least)} to ${Math.round(c.most)}${c.outside > 0 ? `; ${Math.round(100 * c.outside)} % out of what was wanted` : ''}`

/**
 * A room's light by weekday and hour: a strip for each weekday, a column for each hour as high as its mean, a thin line over
 * it to the most that was read, over the wanted band. Columns are hatched where a quarter was out of it.
 */
export function WeekStrips({
  weeks,
  range,
  onWeeks,
}: {
  weeks: LightWeeks
  range: { from: number; to: number } | null
  onWeeks: (weeks: string) => void
}) {
  const known = weeks.cells.flat().filter((c) => c !== null)
  const most = Math.max(...known.map((c) => c.most), range ? 1.1 * range.to : 0)
  const y = (lux: number) => height - (Math.min(lux, most) / most) * height
  return (
    <Plane
      title={
        <Segmented
          size="small"
          aria-label="Weeks"
          value={String(weeks.weeks)}
          onChange={onWeeks}
          options={['4', '13', '52'].map((value) => ({ value, label: `${value} weeks` }))}
        />
      }
      aside={known.length ? 'each hour’s mean, with a line to its most; hatched: a quarter or more was out' : undefined}
    >
      {known.length ? (
        <div className="inside sidescroll" tabIndex={0} role="region" aria-label="Light by weekday and hour">
          <table className="lightweek">
            <thead>
              <tr>
                <th />
                {[0, 6, 12, 18].map((h) => (
                  <th key={h} colSpan={6} className="fig quiet">
                    {String(h).padStart(2, '0')}:00
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {weeks.cells.map((row, d) => (
                <tr key={weekdays[d]}>
                  <th className="second">{weekdays[d]}</th>
                  {row.map((c, h) => (
                    <td key={h} title={c ? `${weekdays[d]} ${h}:00, ${cellWords(c)}` : undefined}>
                      <svg viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none" aria-hidden>
                        {range && (
                          <rect
                            x={0}
                            width={width}
                            y={y(range.to)}
                            height={y(range.from) - y(range.to)}
                            className="wanted"
                          />
                        )}
                        {c && (
                          <>
                            <path d={`M${width / 2} ${y(c.lux)}V${y(c.most)}`} className="most" />
                            <rect
                              x={5}
                              width={width - 10}
                              y={y(c.lux)}
                              height={height - y(c.lux)}
                              className={c.outside >= 0.25 ? 'mean out' : 'mean'}
                            />
                          </>
                        )}
                        <path d={`M0 ${height}H${width}`} className="ground" />
                      </svg>
                      {c && <span className="visually-hidden">{cellWords(c)}</span>}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          <p className="small second" style={{ marginTop: 8 }}>
            {weeks.months
              .slice(-4)
              .map(
                (m) =>
                  `${dayjs(`${m.month}-01`).format('MMM YYYY')}: ${Math.round(m.lux)} lx on average, ${(100 * m.outside).toFixed(1)} % out`,
              )
              .join(' · ')}
          </p>
          <svg width={0} height={0} aria-hidden>
            <pattern id="lightout" width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V5" stroke="var(--ochre)" strokeWidth={4} />
            </pattern>
          </svg>
        </div>
      ) : (
        <p className="none">Nothing was read in this time.</p>
      )}
    </Plane>
  )
}
