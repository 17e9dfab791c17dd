import dayjs from 'dayjs'
import { Link } from 'react-router'
import { aimRingFactor, verdictWords, type Verdict } from '@bichroma/core'
import type { DisplaySummary } from '@bichroma/contract'
import { useDisplays, useRollout, useRooms } from '../api/queries'
import { allOf, Loaded } from '../parts/Loaded'
import { VerdictSign } from '../parts/VerdictSign'
import { DisplayTile } from './DisplayTile'
import './floor.css'
import { needs } from './needs'

const verdictOrder: readonly Verdict[] = ['within', 'near', 'outside', 'lapsed', 'unproven']

/** Displays up to which tiles are roomy, and from which they become chips, so that a whole studio stays on one screen. */
const few = 24
const crowded = 60

/** The whole studio at a glance: rooms, their displays, and what needs someone. */
export function Floor() {
  return (
    <Loaded query={allOf(useDisplays(), useRooms(), useRollout())}>
      {([displays, rooms, rollout]) => <FloorOf {...{ displays, rooms, rollout }} />}
    </Loaded>
  )
}

type FloorData = {
  displays: DisplaySummary[]
  rooms: { id: number; name: string }[]
  rollout: Parameters<typeof needs>[1]
}

function FloorOf({ displays, rooms, rollout }: FloorData) {
  const trusted = displays.filter((d) => d.verdict === 'within' || d.verdict === 'near').length
  const density = displays.length <= few ? 'roomy' : displays.length > crowded ? 'chips' : 'tiles'
  const asking = needs(displays, rollout)
  if (!displays.length)
    return (
      <div className="none">
        No display is in the register yet. <Link to="/register">Go to Register</Link> and add the first.
      </div>
    )
  return (
    <>
      <div className="top">
        <div>
          <h1>
            {trusted} of {displays.length} screens can be trusted today
          </h1>
          <p>
            {dayjs().format('dddd D MMMM')} · {sentenceOf(displays)}
          </p>
        </div>
        <div className="acts second">
          {verdictOrder.map((v) => (
            <span className="verdict" key={v}>
              <VerdictSign verdict={v} alone={false} />
              <span className="fig">{displays.filter((d) => d.verdict === v).length}</span> {verdictWords[v]}
            </span>
          ))}
        </div>
      </div>
      <div className="floor">
        <div>
          {rooms.map((room) => {
            const inside = displays.filter((d) => d.roomId === room.id)
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
          })}
          <p className="small quiet" style={{ paddingTop: 8, borderTop: '1px solid var(--line-quiet)' }}>
            Rings: outside the aim’s white, inside the measured white, their difference drawn {aimRingFactor} times as
            large. Figures: average ΔE2000 when it was last judged.
          </p>
        </div>
        <section className="plane needs" aria-label="Needs someone">
          <h2>Needs someone</h2>
          {asking.length ? (
            <ul>
              {asking.slice(0, 12).map((need) => (
                <li key={need.key}>
                  <b>{need.title}</b>
                  <p>{need.why}</p>
                  <Link className="act" to={need.to}>
                    {need.action}
                  </Link>
                </li>
              ))}
              {asking.length > 12 && <li className="quiet">and {asking.length - 12} more, in Rounds</li>}
            </ul>
          ) : (
            <p className="second">Nothing today.</p>
          )}
        </section>
      </div>
    </>
  )
}

const counted: Readonly<Partial<Record<Verdict, readonly [string, string]>>> = {
  outside: ['is outside its limits', 'are outside their limits'],
  lapsed: ['has lapsed', 'have lapsed'],
  unproven: ['was never read', 'were never read'],
}

function sentenceOf(displays: readonly DisplaySummary[]): string {
  const parts = Object.entries(counted).flatMap(([verdict, words]) => {
    const n = displays.filter((d) => d.verdict === verdict).length
    return n ? [`${n === 1 ? 'one' : n} ${words[n === 1 ? 0 : 1]}`] : []
  })
  return parts.join(', ') || 'all of them within their limits or near the edge'
}
