import { Button } from 'antd'
import { useState } from 'react'
import { useTimeLabels, type DaySpan } from '@bichroma/core/rounds'
import type { RoundsHouse } from '@bichroma/contract'
import { useHouse, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { CalendarsPlane } from './CalendarsPlane'
import { EditHours } from './EditHours'
import { EditInstrument } from './EditInstrument'
import { EditPerson } from './EditPerson'
import { EditTimes } from './EditTimes'
import { EditWay } from './EditWay'
import { RoundsTop } from './RoundsTop'
import './house.css'

type Editing =
  | { kind: 'hours' }
  | { kind: 'person'; id: number }
  | { kind: 'instrument'; id: number }
  | { kind: 'times'; at: RoundsHouse['times'][number] | null }
  | { kind: 'way'; at: RoundsHouse['between'][number] | null }

/** What rounds are made from: hours, people, instruments, when workstations may be used, and how far it is. */
export function HousePage() {
  return <Loaded query={useHouse()}>{(house) => <House house={house} />}</Loaded>
}

const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** A week in words: days that are alike together. */
export function weekWords(week: readonly (DaySpan | null)[]): string {
  const parts: string[] = []
  for (let d = 0; d < 7;) {
    const same = (e: number) => JSON.stringify(week[e]) === JSON.stringify(week[d])
    let last = d
    while (last < 6 && same(last + 1)) last++
    const span = week[d]
    const days = last > d ? `${weekdays[d]}–${weekdays[last]}` : weekdays[d]
    if (span) parts.push(`${days} ${span.from}–${span.to}`)
    d = last + 1
  }
  return parts.join(', ') || 'never'
}

function House({ house }: { house: RoundsHouse }) {
  const admin = useSession().data?.account?.role === 'administrator'
  const [editing, edit] = useState<Editing | null>(null)
  const { hours, minutes, walk, people, instruments, between, times, rooms } = house
  const room = (id: number | null) => rooms.find((r) => r.id === id)?.name ?? null
  const change = (to: Editing) =>
    admin && (
      <Button size="small" onClick={() => edit(to)}>
        Change
      </Button>
    )
  const close = () => edit(null)
  return (
    <>
      <RoundsTop title="Hours and ways" />
      <div className="house">
        <div>
          <Plane title="Who goes to displays" aside={`${people.filter((p) => p.goes).length} of ${people.length}`}>
            <div className="sideways">
              <table className="figures people">
                <thead>
                  <tr>
                    <th>Person</th>
                    <th>Works</th>
                    <th>Begins in</th>
                    <th>Away</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {people.map((p) => (
                    <tr key={p.id}>
                      <td>{p.name}</td>
                      {p.goes ? (
                        <>
                          <td>{p.week ? weekWords(p.week) : 'desk hours'}</td>
                          <td>{room(p.roomId) ?? <span className="quiet">where instruments lie</span>}</td>
                          <td>
                            {p.off.length
                              ? p.off.map((o) => (o.from === o.to ? o.from : `${o.from} – ${o.to}`)).join(', ')
                              : '–'}
                          </td>
                        </>
                      ) : (
                        <td colSpan={3} className="quiet">
                          does not go
                        </td>
                      )}
                      <td>{change({ kind: 'person', id: p.id })}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </Plane>
          <Plane title="Instruments" style={{ marginTop: 14 }}>
            <div className="sideways">
              <table className="figures people">
                <thead>
                  <tr>
                    <th>Instrument</th>
                    <th>Is kept</th>
                    <th>Certificate</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {instruments.map((i) => (
                    <tr key={i.id}>
                      <td>{i.name}</td>
                      <td>
                        {i.hangs
                          ? `hangs at ${i.hangs}`
                          : i.carrierId
                            ? `with ${people.find((p) => p.id === i.carrierId)?.name ?? 'somebody'}`
                            : (room(i.roomId) ?? <span className="quiet">where it was seen last</span>)}
                      </td>
                      <td>
                        {i.validUntil === null ? (
                          <span className="quiet">tells none</span>
                        ) : i.validUntil < house.now ? (
                          <span className="asks">ran out {formatDay(i.validUntil)}</span>
                        ) : (
                          `until ${formatDay(i.validUntil)}`
                        )}
                      </td>
                      <td>{change({ kind: 'instrument', id: i.id })}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </Plane>
          <CalendarsPlane house={house} />
        </div>
        <div>
          <Plane title="The studio’s hours" aside={hours.zone}>
            <div className="inside">
              <dl className="housefacts">
                <dt>At the desks</dt>
                <dd>{weekWords(hours.desk)}</dd>
                <dt>Lunch</dt>
                <dd>{hours.lunch ? `${hours.lunch.from}–${hours.lunch.to}` : 'none'}</dd>
                <dt>Closed</dt>
                <dd>
                  {hours.closed.length ? hours.closed.map((c) => `${c.date} ${c.name}`).join(', ') : 'no other days'}
                </dd>
                <dt>By hand</dt>
                <dd>
                  {minutes.seat} min to seat, {minutes.takeDown} min to take down, on for {minutes.warm} min before
                </dd>
                <dt>Monthly to</dt>
                <dd>{house.heads.join(', ') || 'nobody'}</dd>
                <dt>Ways</dt>
                <dd>
                  {walk.rooms} min between rooms, {walk.buildings} min between buildings
                </dd>
              </dl>
              {change({ kind: 'hours' })}
            </div>
          </Plane>
          <Plane
            title="When workstations may be used"
            style={{ marginTop: 14 }}
            aside={
              admin && (
                <Button size="small" onClick={() => edit({ kind: 'times', at: null })}>
                  Add times
                </Button>
              )
            }
          >
            <ul className="waylist">
              {!times.some((t) => t.level === 'studio') && (
                <li>
                  <span>
                    Everywhere else
                    <br />
                    <span className="small quiet">
                      before work, during work, after work, until somebody says otherwise
                    </span>
                  </span>
                </li>
              )}
              {times.map((t) => (
                <li key={`${t.level} ${t.of}`}>
                  <span>
                    {t.level === 'studio' ? 'Everywhere else' : t.name}
                    <br />
                    <span className="small quiet">{t.times.map((w) => useTimeLabels[w]).join(', ') || 'never'}</span>
                  </span>
                  {change({ kind: 'times', at: t })}
                </li>
              ))}
            </ul>
          </Plane>
          <Plane
            title="Ways that are longer or shorter"
            style={{ marginTop: 14 }}
            aside={
              admin &&
              rooms.length > 1 && (
                <Button size="small" onClick={() => edit({ kind: 'way', at: null })}>
                  Add a way
                </Button>
              )
            }
          >
            <ul className="waylist">
              {between.map((w) => (
                <li key={`${w.kind} ${w.a} ${w.b}`}>
                  <span>
                    {w.kind === 'room' ? `${room(Number(w.a))} – ${room(Number(w.b))}` : `${w.a} – ${w.b}`}
                    <span className="fig quiet"> {w.minutes} min</span>
                  </span>
                  {change({ kind: 'way', at: w })}
                </li>
              ))}
              {!between.length && <li className="quiet">None: all are as the studio’s hours say.</li>}
            </ul>
          </Plane>
        </div>
      </div>
      {editing?.kind === 'hours' && <EditHours house={house} onClose={close} />}
      {editing?.kind === 'person' && (
        <EditPerson house={house} person={people.find((p) => p.id === editing.id)!} onClose={close} />
      )}
      {editing?.kind === 'instrument' && (
        <EditInstrument house={house} instrument={instruments.find((i) => i.id === editing.id)!} onClose={close} />
      )}
      {editing?.kind === 'times' && <EditTimes house={house} times={editing.at} onClose={close} />}
      {editing?.kind === 'way' && <EditWay house={house} way={editing.at} onClose={close} />}
    </>
  )
}
