import { Button, Popconfirm } from 'antd'
import { useState } from 'react'
import { panelKinds } from '@bichroma/core/register'
import type { FoundDisplay } from '@bichroma/contract'
import { ask } from '../api/client'
import { useFound, useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { AddDisplay } from './AddDisplay'
import { ReplaceForm } from './DisplayPlace'

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

type Moved = NonNullable<FoundDisplay['moved']>

const moveOf = ({ displayId, swappedWith }: Moved, workstationId: number) =>
  swappedWith
    ? ask('POST', '/displays/swap', { first: displayId, second: swappedWith.displayId })
    : ask('POST', `/displays/${displayId}/move`, { workstationId })
const returnOf = ({ displayId }: Moved, workstationId: number) =>
  ask('POST', `/displays/${displayId}/keep`, { kept: 'in use', workstationId })

const registeredWords = ({ kept, from, swappedWith }: Moved) =>
  kept === 'in use'
    ? `registered at ${from}${swappedWith ? `, where ${swappedWith.name} is seen` : ''}`
    : `${kept} by the register`

function FoundRow({ found, onTake }: { found: FoundDisplay; onTake: () => void }) {
  const administrator = useSession().data?.account?.role === 'administrator'
  const { maker, model, serial, panelKind, workstation, workstationId, room, moved, insteadOf } = found
  const [replacing, setReplacing] = useState(false)
  const act = useSend(() => (moved?.kept === 'in use' ? moveOf(moved, workstationId) : returnOf(moved!, workstationId)))
  return (
    <tr>
      <td>
        {moved ? <b style={{ fontWeight: 500 }}>{moved.name}</b> : `${maker} ${model}`}{' '}
        <span className="fig quiet">{serial}</span>
        <br />
        <span className="small quiet">
          {moved
            ? `reported by ${workstation}, ${room}; ${registeredWords(moved)}`
            : `${panelKinds[panelKind]}, on ${workstation}, ${room}`}
        </span>
      </td>
      <td>
        {administrator &&
          (moved ? (
            <Popconfirm
              title={
                moved.swappedWith
                  ? `Have ${moved.name} and ${moved.swappedWith.name} changed places?`
                  : `Does ${moved.name} stand at ${workstation} now?`
              }
              description="Its history goes with it; its profile is placed there anew."
              okText={moved.swappedWith ? 'They have' : 'Move it there'}
              cancelText="Leave it"
              onConfirm={() => act.mutate(undefined)}
            >
              <Button size="small" loading={act.isPending}>
                {moved.swappedWith
                  ? 'They were swapped'
                  : moved.kept === 'in use'
                    ? 'It moved here'
                    : 'It is back here'}
              </Button>
            </Popconfirm>
          ) : (
            <span className="row">
              {insteadOf && (
                <Button size="small" onClick={() => setReplacing(true)}>
                  It replaced {insteadOf.name}
                </Button>
              )}
              <Button size="small" onClick={onTake}>
                Take in
              </Button>
            </span>
          ))}
        {replacing && insteadOf && (
          <ReplaceForm
            display={{ id: insteadOf.displayId, name: insteadOf.name }}
            found={found}
            onClose={() => setReplacing(false)}
          />
        )}
      </td>
    </tr>
  )
}
