import { lazy } from 'react'
import dayjs from 'dayjs'
import { Link } from 'react-router'
import { verdictWords, type Verdict } from '@bichroma/core/aims'
import { aimRingFactor } from '@bichroma/core/floor'
import type { DisplayListing, FloorSummary, RoomStanding } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useFloor } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { VerdictSign } from '../parts/VerdictSign'
import { DisplayTile, type Density } from './DisplayTile'
import './floor.css'
import { needWords } from './needs'
import { BuildingRows, RoomRows } from './RoomRows'
import { verdictOrder } from './VerdictBand'

const FirstSteps = lazy(() => import('./FirstSteps').then((m) => ({ default: m.FirstSteps })))

/** Displays up to which tiles are roomy, and from which they become chips; from which a room is a row, and rooms stand in buildings. */
const few = 24
const crowded = 60
const large = 150
const vast = 2000

/** The whole studio at a glance: rooms, their displays, and what needs someone. */
export function Floor() {
  return <Loaded query={useFloor()}>{(floor) => <FloorOf floor={floor} />}</Loaded>
}

function FloorOf({ floor }: { floor: FloorSummary }) {
  const { displays, verdicts, rooms, needs } = floor
  if (!displays) return <FirstSteps />
  const trusted = verdicts.within + verdicts.near
  const inBuildings = displays >= vast && rooms.some((r) => r.building !== null)
  return (
    <>
      <div className="top">
        <div>
          <h1>
            {trusted.toLocaleString('en')} of {displays.toLocaleString('en')} screens can be trusted today
          </h1>
          <p>
            {dayjs().format('dddd D MMMM')} · {sentenceOf(verdicts)} · <Link to="/kept">how well they are kept</Link>
          </p>
        </div>
        <div className="acts second">
          {verdictOrder.map((v) => (
            <span className="verdict" key={v}>
              <VerdictSign verdict={v} alone={false} />
              <span className="fig">{verdicts[v].toLocaleString('en')}</span> {verdictWords[v]}
            </span>
          ))}
        </div>
      </div>
      <div className="floor">
        <div>
          {displays <= large ? (
            <RoomsOfTiles rooms={rooms} displays={displays} />
          ) : inBuildings ? (
            <BuildingRows rooms={rooms} />
          ) : (
            <RoomRows rooms={rooms} />
          )}
          <p className="small quiet legend">
            {displays > large && 'Bands: shares of each verdict, in the strokes of its sign, and the worst few. '}
            Rings: outside the aim’s white, inside the measured white, their difference drawn {aimRingFactor} times as
            large.{displays <= large && ' Figures: average ΔE2000 when it was last judged.'}
          </p>
        </div>
        <section className="plane needs" aria-label="Needs someone">
          <h2>
            Needs someone {needs.count > 0 && <span className="fig quiet">{needs.count.toLocaleString('en')}</span>}
          </h2>
          {needs.count ? (
            <ul>
              {needs.first.map((need) => {
                const { title, why, action, to } = needWords(need)
                return (
                  <li key={`${need.kind} ${need.displayId}`}>
                    <b>{title}</b>
                    <p>{why}</p>
                    <Link className="act" to={to}>
                      {action}
                    </Link>
                  </li>
                )
              })}
              {needs.count > needs.first.length && (
                <li>
                  <Link to="/needs">
                    and {(needs.count - needs.first.length).toLocaleString('en')} more, the worst first
                  </Link>
                </li>
              )}
            </ul>
          ) : (
            <p className="second">Nothing today.</p>
          )}
        </section>
      </div>
    </>
  )
}

/** Every display as a tile, room by room. */
function RoomsOfTiles({ rooms, displays }: { rooms: readonly RoomStanding[]; displays: number }) {
  const { items, empty, error } = useList<DisplayListing>('/displays', { limit: 200 })
  const density: Density = displays <= few ? 'roomy' : displays > crowded ? 'chips' : 'tiles'
  if (error) return <p role="alert">{error.message}</p>
  if (empty)
    return (
      <p className="none" role="status">
        Loading…
      </p>
    )
  return rooms.map((room) => {
    const inside = items.filter((d) => d.roomId === room.id)
    return (
      <section className="room" key={room.id}>
        <div>
          <h2>{room.name}</h2>
          <span className="small quiet">
            {inside.length} {inside.length === 1 ? 'display' : 'displays'}
          </span>
        </div>
        <div className={`tiles ${density}`}>
          {inside.map((d) => (
            <DisplayTile key={d.id} display={d} density={density} />
          ))}
          {!inside.length && <span className="quiet">Nobody has put a display here yet.</span>}
        </div>
      </section>
    )
  })
}

const counted: Readonly<Partial<Record<Verdict, readonly [string, string]>>> = {
  outside: ['is outside its limits', 'are outside their limits'],
  untold: ['cannot be told', 'cannot be told'],
  lapsed: ['has lapsed', 'have lapsed'],
  unproven: ['was never read', 'were never read'],
}

function sentenceOf(verdicts: Readonly<Record<Verdict, number>>): string {
  const parts = Object.entries(counted).flatMap(([verdict, words]) => {
    const n = verdicts[verdict as Verdict]
    return n ? [`${n === 1 ? 'one' : n.toLocaleString('en')} ${words[n === 1 ? 0 : 1]}`] : []
  })
  return parts.join(', ') || 'all of them within their limits or near the edge'
}
