import dayjs from 'dayjs'
import { Link } from 'react-router'
import type { DisplaySummary } from '@bichroma/contract'
import { roleCovers } from '@bichroma/contract'
import { useDisplays, useRooms, useSession } from '../api/queries'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatAgo, formatDay, formatDue } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'
import { DueLines } from './DueLines'
import { QueueChecks } from './QueueChecks'

/** When displays fall due: what is overdue, what this week brings, and every due line on one scale. */
export function RoundsPage() {
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'technician')
  return (
    <Loaded query={allOf(useDisplays(), useRooms())}>
      {([displays, rooms]) => {
        const roomOf = (d: DisplaySummary) => rooms.find((r) => r.id === d.roomId)?.name ?? ''
        const byDue = [...displays].sort((a, b) => (a.dueAt ?? 0) - (b.dueAt ?? 0))
        const overdue = byDue.filter((d) => d.dueState === 'overdue')
        const week = byDue.filter((d) => d.dueState === 'this week')
        return (
          <>
            <div className="top">
              <div>
                <h1>
                  {overdue.length
                    ? `${overdue.length} ${overdue.length === 1 ? 'display is' : 'displays are'} overdue`
                    : 'Nothing is overdue'}
                  , {week.length} more due this week
                </h1>
                <p>
                  Until {dayjs().add(7, 'day').format('dddd D MMMM')}. A display falls due its own number of days after
                  it was last judged.
                </p>
              </div>
              <div className="acts">{may && <QueueChecks displays={overdue} />}</div>
            </div>
            <div className="split" style={{ gridTemplateColumns: 'minmax(0,1fr) 420px' }}>
              <div style={{ display: 'grid', gap: 14 }}>
                <DueList title="Overdue" displays={overdue} roomOf={roomOf} empty="Nothing is overdue." />
                <DueList
                  title="Due this week"
                  displays={week}
                  roomOf={roomOf}
                  empty="Nothing else falls due within seven days."
                />
              </div>
              <Plane title="Due lines" aside="dot: last judged, bar: to its due line">
                <DueLines displays={byDue} />
              </Plane>
            </div>
          </>
        )
      }}
    </Loaded>
  )
}

function DueList({
  title,
  displays,
  roomOf,
  empty,
}: {
  title: string
  displays: DisplaySummary[]
  roomOf: (d: DisplaySummary) => string
  empty: string
}) {
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'technician')
  return (
    <Plane title={title} aside={String(displays.length)}>
      {displays.length ? (
        <table className="figures" aria-label={title}>
          <thead>
            <tr>
              <th>Display</th>
              <th style={{ textAlign: 'left' }}>Last judged</th>
              <th style={{ textAlign: 'left' }}>Verdict</th>
              <th style={{ textAlign: 'left' }}>Due line</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {displays.map((d) => {
              const active = d.slots.find((s) => s.active)
              const kind = active?.label ? 'check' : 'full'
              return (
                <tr key={d.id}>
                  <td>
                    <Link to={`/register/${d.id}`} style={{ fontWeight: 500 }}>
                      {d.name}
                    </Link>
                    <br />
                    <span className="small quiet">{roomOf(d)}</span>
                  </td>
                  <td style={{ textAlign: 'left' }}>
                    {active?.judged ? (
                      <>
                        {formatDay(active.judged.at)}
                        <br />
                        <span className="small quiet">{formatAgo(active.judged.at)}</span>
                      </>
                    ) : (
                      <span className="quiet">never</span>
                    )}
                  </td>
                  <td style={{ textAlign: 'left' }}>
                    <VerdictLabel verdict={d.verdict} />
                  </td>
                  <td style={{ textAlign: 'left' }} className={d.dueState === 'overdue' ? 'asks' : ''}>
                    {formatDue(d.dueAt)}
                  </td>
                  <td>
                    {d.runId ? (
                      <Link to={`/runs/${d.runId}`} className="runs">
                        in a run
                      </Link>
                    ) : (
                      may && (
                        <Link className="act" to={`/runs/new?display=${d.id}&kind=${kind}&slot=${active?.number ?? 1}`}>
                          Start {kind} run
                        </Link>
                      )
                    )}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      ) : (
        <p className="none">{empty}</p>
      )}
    </Plane>
  )
}
