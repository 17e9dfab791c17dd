import { Link } from 'react-router'
import { useRooms } from '../api/queries'
import { formatMoment } from './times'

/** That the light of a room is out of what is wanted, told to whoever is about to work there; nothing while it is not. */
export function LightNotice({ roomId }: { roomId: number }) {
  const room = (useRooms().data ?? []).find((r) => r.id === roomId)
  const out = room?.watch?.out
  if (!room || !out || room.watch!.standing === 'unknown') return null
  const tooLong = room.watch!.standing === 'out too long'
  return (
    <p className={`small ${tooLong ? 'asks' : 'second'}`} style={{ marginBottom: 8 }} role="status">
      The light of <Link to={`/register/rooms/${room.id}`}>{room.name}</Link> is out of what is wanted since{' '}
      {formatMoment(out.since)}: {out.problem}.
      {tooLong &&
        (room.holdsRuns === 'all'
          ? ' Runs here wait until it is back.'
          : ' Runs that need it wait until it is back; what is judged here by eye looks otherwise.')}
    </p>
  )
}

/** That an instrument which a run had watches a room, and is to be laid back; nothing for any other. */
export function LayBack({ instrument }: { instrument: string }) {
  const room = (useRooms().data ?? []).find((r) => r.watch?.instrument === instrument)
  if (!room || room.watch!.state === 'reading') return null
  return (
    <p className="asks wholerow" role="status">
      Lay {instrument} back in <Link to={`/register/rooms/${room.id}`}>{room.name}</Link>, its diffuser in front: it
      watches the light there.
    </p>
  )
}
