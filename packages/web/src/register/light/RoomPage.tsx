import { Link, useParams } from 'react-router'
import { formatTemperature, roomLightProblem } from '@bichroma/core/aims'
import type { Room } from '@bichroma/contract'
import { useLightDay, useLightWeeks, useRooms } from '../../api/queries'
import { beside } from '../../parts/beside'
import { Loaded } from '../../parts/Loaded'
import { Plane } from '../../parts/Plane'
import { formatMoment } from '../../parts/times'
import { useAddress } from '../../parts/useAddress'
import { DayLight } from './DayLight'
import { LevelPlane } from './LevelPlane'
import { RoomForm } from './RoomForm'
import { WatchPlane } from './WatchPlane'
import { WeekStrips } from './WeekStrips'
import './light.css'

/** A room: its light today and over weeks, what watches it, the level that aims follow, and what is wanted. */
export function RoomPage() {
  const id = Number(useParams().id)
  return (
    <Loaded query={useRooms()}>
      {(rooms) => {
        const room = rooms.find((r) => r.id === id)
        if (!room)
          return (
            <p className="none">
              There is no such room. <Link to="/register">Go to the register</Link>
            </p>
          )
        return <RoomOf key={room.id} room={room} />
      }}
    </Loaded>
  )
}

/** How its light is, as the first thing that is read. */
function nowWords({ name, light, newestLight, watch }: Room): string {
  if (!newestLight) return `${name}: its light was never read`
  const is = `${Math.round(newestLight.illuminanceLux)} lx, ${formatTemperature(newestLight.kelvin)}`
  if (watch?.standing === 'unknown') return `${name}: nobody knows its light now`
  if (!light) return `${name}: ${is}`
  const problem = roomLightProblem(newestLight, light)
  return problem ? `${name}: ${problem}` : `${name}: ${is}, as it is wanted`
}

function RoomOf({ room }: { room: Room }) {
  const [asked, askFor] = useAddress(['date', 'weeks'])
  const weeks = asked.weeks || '13'
  const day = useLightDay(room.id, asked.date)
  const known = useLightWeeks(room.id, weeks)
  const { newestLight: newest } = room
  return (
    <>
      <div className="top">
        <div>
          <h1>{nowWords(room)}</h1>
          <p>
            <Link to="/register">Register</Link>
            {newest && ` · read ${formatMoment(newest.at)} with ${newest.instrument} by ${newest.by}`}
          </p>
        </div>
      </div>
      <div className="split roomlight" style={beside(330)}>
        <div className="column">
          <Loaded query={day}>{(d) => <DayLight day={d} room={room} onDate={(date) => askFor({ date })} />}</Loaded>
          <Loaded query={known}>
            {(w) => <WeekStrips weeks={w} range={room.light?.lux ?? null} onWeeks={(n) => askFor({ weeks: n })} />}
          </Loaded>
        </div>
        <div className="column">
          <WatchPlane room={room} />
          <Loaded query={known}>{(w) => <LevelPlane room={room} weeks={w} />}</Loaded>
          <Plane title="What is wanted">
            <RoomForm room={room} />
          </Plane>
        </div>
      </div>
    </>
  )
}
