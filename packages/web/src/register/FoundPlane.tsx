import { Button, Popconfirm } from 'antd'
import { useState } from 'react'
import { panelKinds } from '@bichroma/core/register'
import type { FoundDisplay } from '@bichroma/contract'
import { ask } from '../api/client'
import { useFound, useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { AddDisplay } from './AddDisplay'

/** What couriers report and the register does not know there: taken in, or moved, by a press. */
export function FoundPlane({ onAdded }: { onAdded: (name: string) => void }) {
  const found = useFound().data ?? []
  const [taking, setTaking] = useState<FoundDisplay | null>(null)
  if (!found.length) return null
  return (
    <Plane
      title="Found, and not in the register"
      aside={String(found.length)}
      style={{ borderLeft: '3px solid var(--ochre)' }}
    >
      <div className="sidescroll" tabIndex={0} role="region" aria-label="Found displays">
        <table className="figures">
          <tbody>
            {found.map((f) => (
              <FoundRow key={`${f.workstationId} ${f.serial}`} found={f} onTake={() => setTaking(f)} />
            ))}
          </tbody>
        </table>
      </div>
      {taking && <AddDisplay found={taking} onClose={() => setTaking(null)} onAdded={onAdded} />}
    </Plane>
  )
}

function FoundRow({ found, onTake }: { found: FoundDisplay; onTake: () => void }) {
  const administrator = useSession().data?.account?.role === 'administrator'
  const { maker, model, serial, panelKind, workstation, workstationId, room, moved } = found
  const move = useSend(() => ask('POST', `/displays/${moved!.displayId}/move`, { workstationId }))
  return (
    <tr>
      <td>
        {moved ? <b style={{ fontWeight: 500 }}>{moved.name}</b> : `${maker} ${model}`}{' '}
        <span className="fig quiet">{serial}</span>
        <br />
        <span className="small quiet">
          {moved
            ? `reported by ${workstation}, ${room}; registered at ${moved.from}`
            : `${panelKinds[panelKind]}, on ${workstation}, ${room}`}
        </span>
      </td>
      <td>
        {administrator &&
          (moved ? (
            <Popconfirm
              title={`Does ${moved.name} stand at ${workstation} now?`}
              description="Its history goes with it; its profile is placed there anew."
              okText="Move it there"
              cancelText="Leave it"
              onConfirm={() => move.mutate(undefined)}
            >
              <Button size="small" loading={move.isPending}>
                It moved here
              </Button>
            </Popconfirm>
          ) : (
            <Button size="small" onClick={onTake}>
              Take in
            </Button>
          ))}
      </td>
    </tr>
  )
}
