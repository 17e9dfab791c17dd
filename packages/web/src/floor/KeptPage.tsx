import { Button, Segmented } from 'antd'
import dayjs from 'dayjs'
import { Link } from 'react-router'
import { keptShare, keptStates, noDays, type KeptDays, type KeptState } from '@bichroma/core/rounds'
import type { KeptRow, KeptWell } from '@bichroma/contract'
import { useKept } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { useAddress } from '../parts/useAddress'
import './kept.css'

const percent = (share: number | null) => (share === null ? '–' : `${(100 * share).toFixed(1)} %`)
const monthWords = (month: string) => dayjs(`${month}-01`).format('MMM YYYY')
const added = (all: readonly KeptDays[]): KeptDays =>
  all.reduce((sum, d) => {
    for (const s of keptStates) sum[s] += d[s]
    return sum
  }, noDays())

/** How well the displays are kept: the share of display-days that were proven within limits, and what the rest was. */
export function KeptPage() {
  const [asked, askFor] = useAddress(['months', 'by'])
  return (
    <Loaded query={useKept(asked.months || '6')}>
      {(kept) => (
        <Kept
          kept={kept}
          by={asked.by === 'models' ? 'models' : 'rooms'}
          months={asked.months || '6'}
          askFor={askFor}
        />
      )}
    </Loaded>
  )
}

function Kept({
  kept,
  by,
  months,
  askFor,
}: {
  kept: KeptWell
  by: 'rooms' | 'models'
  months: string
  askFor: (change: { months?: string; by?: string }) => void
}) {
  if (!kept.months.length)
    return (
      <p className="none">
        No display is in use yet. <Link to="/register">Go to the register</Link>
      </p>
    )
  const all = added(kept.total)
  const worstFirst = [...kept[by]].sort(
    (a, b) => (keptShare(added(a.months)) ?? 0) - (keptShare(added(b.months)) ?? 0) || a.name.localeCompare(b.name),
  )
  return (
    <>
      <div className="top">
        <div>
          <h1>{percent(keptShare(all))} of display-days were proven within limits</h1>
          <p>
            <Link to="/">Floor</Link> · since {monthWords(kept.months[0])}
            {restWords(all) && `; the rest: ${restWords(all)}`}
          </p>
        </div>
        <div className="acts">
          <Segmented
            aria-label="Months"
            value={months}
            onChange={(value) => askFor({ months: value })}
            options={['3', '6', '12'].map((value) => ({ value, label: `${value} months` }))}
          />
          <Button href={`/api/kept/file?months=${months}`}>Save as CSV</Button>
        </div>
      </div>
      <Plane
        title={
          <Segmented
            size="small"
            aria-label="By"
            value={by}
            onChange={(value) => askFor({ by: value })}
            options={[
              { value: 'rooms', label: 'by room' },
              { value: 'models', label: 'by model' },
            ]}
          />
        }
        aside="the least kept first; filled: proven within, dotted: so, but out of step, crossed: outside, slashed: lapsed, empty: unproven"
      >
        <div className="sideways">
          <table className="figures kept">
            <thead>
              <tr>
                <th>{by === 'rooms' ? 'Room' : 'Model'}</th>
                {kept.months.map((m) => (
                  <th key={m}>{monthWords(m)}</th>
                ))}
                <th>all</th>
              </tr>
            </thead>
            <tbody>
              {worstFirst.map((row) => (
                <Row key={row.name} row={row} isRoom={by === 'rooms'} />
              ))}
              <tr className="sum">
                <td>All displays</td>
                {kept.total.map((d, n) => (
                  <Cell key={kept.months[n]} days={d} />
                ))}
                <Cell days={all} />
              </tr>
            </tbody>
          </table>
        </div>
      </Plane>
      <p className="small quiet" style={{ marginTop: 8 }}>
        One display on one day is a display-day; what is said of it is what its last judgement said when the day ended,
        by the slot that it shows now; out of step where another profile than was agreed on was in force. The file names
        the runs that each figure rests on.
      </p>
    </>
  )
}

const stateWords: Readonly<Record<KeptState, string>> = {
  within: 'within',
  outside: 'outside',
  lapsed: 'lapsed',
  unproven: 'unproven',
  'out of step': 'out of step',
}

/** What was not proven within, largest first: 12.0 % lapsed, 3.1 % outside. */
function restWords(days: KeptDays): string {
  const all = keptStates.reduce((sum, s) => sum + days[s], 0)
  return keptStates
    .filter((s) => s !== 'within' && days[s])
    .sort((a, b) => days[b] - days[a])
    .map((s) => `${percent(days[s] / all)} ${stateWords[s]}`)
    .join(', ')
}

function Row({ row, isRoom }: { row: KeptRow; isRoom: boolean }) {
  return (
    <tr>
      <td>
        {isRoom ? <Link to={`/register?search=${encodeURIComponent(row.name)}`}>{row.name}</Link> : row.name}
        <br />
        <span className="small quiet">
          {row.building && `${row.building}, `}
          {row.displays} {row.displays === 1 ? 'display' : 'displays'}
        </span>
      </td>
      {row.months.map((d, n) => (
        <Cell key={n} days={d} />
      ))}
      <Cell days={added(row.months)} />
    </tr>
  )
}

/** A share, with a band of what the days were, in the strokes of the verdict signs. */
function Cell({ days }: { days: KeptDays }) {
  const all = keptStates.reduce((sum, s) => sum + days[s], 0)
  return (
    <td title={keptStates.map((s) => `${days[s]} ${stateWords[s]}`).join(', ')}>
      <span className="fig">{percent(keptShare(days))}</span>
      <span className="keptband" aria-hidden>
        {all > 0 &&
          keptStates.map((s) => (
            <i key={s} className={s.replaceAll(' ', '-')} style={{ width: `${(100 * days[s]) / all}%` }} />
          ))}
      </span>
    </td>
  )
}
