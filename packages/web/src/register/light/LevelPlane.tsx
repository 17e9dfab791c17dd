import { Button } from 'antd'
import { Link } from 'react-router'
import { luminanceForRoom } from '@bichroma/core/aims'
import type { LightWeeks, Room } from '@bichroma/contract'
import { ask } from '../../api/client'
import { useSend, useSession } from '../../api/queries'
import { Plane } from '../../parts/Plane'
import { formatDay } from '../../parts/times'

const asPaper = (lux: number) => `paper there has ${luminanceForRoom(lux)} cd/m²`

/** The light that aims which follow this room are told, what the room's own light asks for, and the slots that follow. */
export function LevelPlane({ room, weeks }: { room: Room; weeks: LightWeeks }) {
  const { level, proposal } = room
  const admin = useSession().data?.account?.role === 'administrator'
  const decide = useSend((decision: 'accept' | 'decline') =>
    ask('PUT', `/rooms/${room.id}/light/level`, { proposalId: proposal!.id, decision }),
  )
  const found = weeks.level
  return (
    <Plane title="Aims that follow the light" aside={level ? `${Math.round(level.lux)} lx agreed` : 'no level agreed'}>
      <div className="inside">
        {level ? (
          <p className="second">
            Since {formatDay(level.since)}: {asPaper(level.lux)}.
            {level.allowed && ` Between ${level.allowed.from} and ${level.allowed.to} lx it follows by itself.`}
          </p>
        ) : (
          <p className="second">Agree on a level below, and aims that follow the room are as bright as paper in it.</p>
        )}
        {found && (
          <p style={{ marginTop: 6 }}>
            In working hours of {found.days} days: <span className="fig">{Math.round(found.lux)} lx</span>
            <span className="second">
              , half of the hours from {Math.round(found.from)} to {Math.round(found.to)} lx
            </span>
          </p>
        )}
        {weeks.change === 'unsteady' && (
          <p className="second" style={{ marginTop: 4 }}>
            That is too unsteady for another level to be proposed.
          </p>
        )}
        {proposal && (
          <div className="proposal">
            <p className="asks">
              Its light asks for {Math.round(proposal.toLux)} lx instead of {Math.round(proposal.fromLux)} lx:{' '}
              {asPaper(proposal.toLux)}. Displays whose aim follows would be calibrated again.
            </p>
            {admin && (
              <span style={{ display: 'flex', gap: 8, marginTop: 6 }}>
                <Button size="small" type="primary" loading={decide.isPending} onClick={() => decide.mutate('accept')}>
                  Agree on {Math.round(proposal.toLux)} lx
                </Button>
                <Button size="small" onClick={() => decide.mutate('decline')}>
                  Leave it at {Math.round(proposal.fromLux)} lx
                </Button>
              </span>
            )}
          </div>
        )}
      </div>
      {weeks.followers.length > 0 && (
        <table className="figures">
          <tbody>
            {weeks.followers.map((f) => (
              <tr key={`${f.displayId} ${f.slot}`}>
                <td>
                  <Link to={`/register/${f.displayId}`}>{f.display}</Link>
                  <br />
                  <span className="small quiet">
                    slot {f.slot}, {f.label}
                  </span>
                </td>
                <td className="fig" style={{ textAlign: 'right' }}>
                  {f.luminance.toFixed(0)} cd/m²
                  {f.wanted !== null && Math.round(f.wanted) !== Math.round(f.luminance) && (
                    <>
                      <br />
                      <span className="small asks">should be {f.wanted.toFixed(0)}</span>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Plane>
  )
}
