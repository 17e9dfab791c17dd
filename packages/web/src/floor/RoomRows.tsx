import { useState } from 'react'
import { Link } from 'react-router'
import type { DisplayListing, RoomStanding, VerdictCounts } from '@bichroma/contract'
import { useList } from '../api/lists'
import { AimRing } from '../parts/AimRing'
import { formatDue } from '../parts/times'
import { DisplayTile } from './DisplayTile'
import { VerdictBand, verdictOrder } from './VerdictBand'

/** Several rooms as one: what a building comes to. */
export interface Building {
  readonly name: string
  readonly rooms: readonly RoomStanding[]
}

/** Rooms by the building that they are in, in the order of the register; null for rooms of which nobody has said. */
export function buildingsOf(rooms: readonly RoomStanding[]): Building[] {
  const found = new Map<string, RoomStanding[]>()
  for (const room of rooms) {
    const name = room.building ?? 'No building named'
    const known = found.get(name)
    if (known) known.push(room)
    else found.set(name, [room])
  }
  return [...found].map(([name, inside]) => ({ name, rooms: inside }))
}

const worstFirst = ['outside', 'untold', 'lapsed', 'unproven', 'near', 'within']

/** What several rooms come to together. */
export function sumOf(rooms: readonly RoomStanding[]): Omit<RoomStanding, 'id' | 'name' | 'building'> {
  const verdicts = Object.fromEntries(
    verdictOrder.map((v) => [v, rooms.reduce((sum, r) => sum + r.verdicts[v], 0)]),
  ) as VerdictCounts
  const due = rooms.flatMap((r) => r.nextDueAt ?? [])
  return {
    displays: rooms.reduce((sum, r) => sum + r.displays, 0),
    verdicts,
    overdue: rooms.reduce((sum, r) => sum + r.overdue, 0),
    nextDueAt: due.length ? Math.min(...due) : null,
    worst: rooms
      .flatMap((r) => r.worst)
      .sort((a, b) => worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict))
      .slice(0, 3),
  }
}

/** Rooms as rows; one opens in place to its displays. */
export function RoomRows({ rooms }: { rooms: readonly RoomStanding[] }) {
  return (
    <ul className="standings">
      {rooms.map((room) => (
        <StandingRow key={room.id} name={room.name} standing={room} what={countOf(room.displays)}>
          {() => <TilesOf room={room.id} />}
        </StandingRow>
      ))}
    </ul>
  )
}

/** Buildings up to which all are open to begin with. */
const fewBuildings = 2

/** Buildings as rows; one opens in place to its rooms. */
export function BuildingRows({ rooms }: { rooms: readonly RoomStanding[] }) {
  const buildings = buildingsOf(rooms)
  return (
    <ul className="standings">
      {buildings.map(({ name, rooms: inside }) => {
        const standing = sumOf(inside)
        return (
          <StandingRow
            key={name}
            name={name}
            standing={standing}
            opened={buildings.length <= fewBuildings}
            what={`${inside.length} ${inside.length === 1 ? 'room' : 'rooms'}, ${countOf(standing.displays)}`}
          >
            {() => <RoomRows rooms={inside} />}
          </StandingRow>
        )
      })}
    </ul>
  )
}

const countOf = (n: number) => `${n.toLocaleString('en')} ${n === 1 ? 'display' : 'displays'}`

/** One room or building: its name, a band of its verdicts, its worst few, its next due line. */
function StandingRow({
  name,
  what,
  standing: { verdicts, worst, overdue, nextDueAt },
  opened = false,
  children,
}: {
  name: string
  what: string
  standing: Pick<RoomStanding, 'verdicts' | 'worst' | 'overdue' | 'nextDueAt'>
  opened?: boolean
  children: () => React.ReactNode
}) {
  const [open, setOpen] = useState(opened)
  return (
    <li>
      <div className="standing">
        <button type="button" className="opens" aria-expanded={open} onClick={() => setOpen(!open)}>
          <span aria-hidden className="turn">
            {open ? '–' : '+'}
          </span>
          <span>
            <b>{name}</b>
            <span className="small quiet">{what}</span>
          </span>
        </button>
        <VerdictBand verdicts={verdicts} />
        <span className="worst">
          {worst.map((d) => (
            <Link key={d.id} to={`/register/${d.id}`} title={d.name} aria-label={d.name}>
              <AimRing aim={d.aimWhite} measured={d.white} verdict={d.verdict} size={20} />
            </Link>
          ))}
        </span>
        <span className={`small ${overdue ? 'asks' : 'quiet'}`}>
          {overdue ? `${overdue} overdue` : nextDueAt !== null ? `next ${formatDue(nextDueAt)}` : ''}
        </span>
      </div>
      {open && <div className="inside">{children()}</div>}
    </li>
  )
}

/** The displays of a room, brought when it is opened. */
function TilesOf({ room }: { room: number }) {
  const { items, empty, error, hasNext, fetchNext } = useList<DisplayListing>('/displays', { room, limit: 200 })
  if (error) return <p role="alert">{error.message}</p>
  if (empty)
    return (
      <p className="quiet" role="status">
        Loading…
      </p>
    )
  if (!items.length) return <p className="quiet">Nobody has put a display here yet.</p>
  return (
    <>
      <div className="tiles chips">
        {items.map((d) => (
          <DisplayTile key={d.id} display={d} density="chips" />
        ))}
      </div>
      {hasNext && (
        <button type="button" className="act" onClick={fetchNext}>
          Show more of this room
        </button>
      )}
    </>
  )
}
