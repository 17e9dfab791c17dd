import { App, Button } from 'antd'
import { Link } from 'react-router'
import { formatTemperature, roomLightProblem } from '@bichroma/core/aims'
import { roleCovers, type Instrument, type Room, type RoomLightEntry, type Workstation } from '@bichroma/contract'
import { useList } from '../api/lists'
import { ask } from '../api/client'
import { useInstruments, useRooms, useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'

/** Rooms with their light: as it was last read, whether it is as wanted, and what reads it. */
export function RoomsPlane() {
  const rooms = useRooms().data ?? []
  const instruments = (useInstruments().data ?? []).filter((i) => i.workstationId !== null)
  // Where instruments are plugged in; those are few.
  const workstations = useList<Workstation>('/workstations', { courier: 'online', limit: 200 }).items
  return (
    <Plane title="Rooms and their light" aside="read with a diffuser">
      <div className="sidescroll" tabIndex={0} role="region" aria-label="Rooms">
        <table className="figures">
          <tbody>
            {rooms.map((room) => (
              <RoomRow
                key={room.id}
                room={room}
                instrument={instruments.find((i) =>
                  workstations.some((w) => w.id === i.workstationId && w.roomId === room.id),
                )}
              />
            ))}
          </tbody>
        </table>
      </div>
    </Plane>
  )
}

function RoomRow({ room, instrument }: { room: Room; instrument: Instrument | undefined }) {
  const { message } = App.useApp()
  const role = useSession().data?.account?.role ?? 'viewer'
  const read = useSend(async () => {
    const { illuminanceLux, kelvin } = await ask<RoomLightEntry>('POST', `/rooms/${room.id}/light`, {
      instrumentId: instrument!.id,
    })
    void message.success(`${room.name}: ${Math.round(illuminanceLux)} lx, ${formatTemperature(kelvin)}`)
  })
  const { newestLight: light, light: range, watch } = room
  const problem = light && range ? roomLightProblem(light, range) : null
  return (
    <tr>
      <td>
        <Link to={`/register/rooms/${room.id}`}>{room.name}</Link>
        <br />
        <span className={`small ${problem ? 'asks' : 'quiet'}`}>
          {light
            ? (problem ?? `${Math.round(light.illuminanceLux)} lx, ${formatTemperature(light.kelvin)}`)
            : 'not read yet'}
          {light && `, ${formatMoment(light.at)}`}
        </span>
        {watch && (
          <span className={`small ${watch.state === 'reading' || watch.state === 'in a run' ? 'quiet' : 'asks'}`}>
            <br />
            {watch.state === 'reading' || watch.state === 'in a run' ? 'watched' : 'its watch does not read'}
          </span>
        )}
        {room.proposal && (
          <span className="small asks">
            <br />
            asks for {Math.round(room.proposal.toLux)} lx for its aims
          </span>
        )}
      </td>
      <td>
        {instrument && !watch && roleCovers(role, 'technician') && (
          <Button size="small" loading={read.isPending} onClick={() => read.mutate(undefined)}>
            Read light
          </Button>
        )}
      </td>
    </tr>
  )
}
