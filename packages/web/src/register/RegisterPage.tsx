import { beside } from '../parts/beside'
import { Button } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { certificateDays, operatingSystems } from '@bichroma/core/register'
import type { Instrument, Workstation } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useAllInstruments, usePulse, useRooms, useSession } from '../api/queries'
import { FindInput } from '../parts/FindInput'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { AddRoom, AddWorkstation } from './AddPlaces'
import { AddDisplay } from './AddDisplay'
import { CorrectionsPlane } from './CorrectionsPlane'
import { EditWorkstation } from './EditWorkstation'
import { FoundPlane } from './FoundPlane'
import { KeepInstrument } from './KeepInstrument'
import { DisplaysTable } from './DisplaysTable'
import { RoomsPlane } from './RoomsPlane'

/** What stands where: every display with its workstation and room; the instruments beside. */
export function RegisterPage() {
  const [adding, setAdding] = useState(false)
  const [place, setPlace] = useState<'room' | 'workstation' | null>(null)
  const [, askFor] = useAddress(['search', 'room', 'verdict'])
  const admin = useSession().data?.account?.role === 'administrator'
  return (
    <>
      <div className="top">
        <div>
          <h1>Register</h1>
          <p>
            Rooms, workstations, displays and instruments · <Link to="/register/models">Models</Link> ·{' '}
            <Link to="/register/put-away">Put away</Link> · <Link to="/register/inventory">Inventory</Link>
          </p>
        </div>
        <div className="acts">
          {admin && (
            <>
              <Button onClick={() => setPlace('room')}>Add room</Button>
              <Button onClick={() => setPlace('workstation')}>Add workstation</Button>
              <Button onClick={() => setAdding(true)}>Add display</Button>
            </>
          )}
        </div>
      </div>
      <div className="split" style={beside(300)}>
        <DisplaysTable />
        <div style={{ display: 'grid', gap: 14 }}>
          {/* A list may be long: the new one is looked for. */}
          <FoundPlane onAdded={(name) => askFor({ search: name, room: '', verdict: '' })} />
          <InstrumentsPlane />
          <RoomsPlane />
          <CorrectionsPlane />
          <WorkstationsPlane />
        </div>
        {place === 'room' && <AddRoom onClose={() => setPlace(null)} />}
        {place === 'workstation' && <AddWorkstation onClose={() => setPlace(null)} />}
        {adding && (
          <AddDisplay
            onClose={() => setAdding(false)}
            // A list may be long: the new one is looked for.
            onAdded={(name) => askFor({ search: name, room: '', verdict: '' })}
          />
        )}
      </div>
    </>
  )
}

function InstrumentsPlane() {
  const instruments = useAllInstruments().data ?? []
  const admin = useSession().data?.account?.role === 'administrator'
  const [keeping, setKeeping] = useState<Instrument | null>(null)
  return (
    <Plane title="Instruments" aside={String(instruments.length)}>
      {instruments.length ? (
        <table className="figures">
          <tbody>
            {instruments.map((i) => (
              <tr key={i.id}>
                <td>
                  {admin ? (
                    <button type="button" className="linklike" onClick={() => setKeeping(i)}>
                      {i.model}
                    </button>
                  ) : (
                    i.model
                  )}
                  <br />
                  <span className="fig quiet">{i.serial}</span>
                </td>
                <td className="second">
                  {i.kept !== 'in use' ? (
                    <span className="quiet">
                      {i.kept} since {formatDay(i.keptSince!)}
                    </span>
                  ) : i.workstation ? (
                    `on ${i.workstation}`
                  ) : (
                    'not plugged in'
                  )}
                  {i.runId && <span className="runs"> · in a run</span>}
                  {i.certifiedAt !== null && (
                    <>
                      <br />
                      <span className={dayjs().diff(i.certifiedAt, 'day') > certificateDays ? 'asks' : 'quiet'}>
                        certified {formatDay(i.certifiedAt)}
                      </span>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="none">An instrument appears here when a courier first reports it.</p>
      )}
      {keeping && <KeepInstrument instrument={keeping} onClose={() => setKeeping(null)} />}
    </Plane>
  )
}

/** Workstations shown before more are asked for. */
const firstWorkstations = 40

function WorkstationsPlane() {
  const [search, setSearch] = useState('')
  const { items, total, hasNext, fetchNext } = useList<Workstation>('/workstations', {
    search,
    limit: firstWorkstations,
  })
  const pulse = usePulse().data
  const admin = useSession().data?.account?.role === 'administrator'
  const [editing, setEditing] = useState<Workstation | null>(null)
  const roomOf = new Map((useRooms().data ?? []).map((r) => [r.id, r.name]))
  return (
    <Plane title="Workstations" aside={pulse && `${pulse.couriersOnline} of ${pulse.couriers} couriers online`}>
      {(total > firstWorkstations || search) && (
        <div className="listtools">
          <FindInput label="Find a workstation" placeholder="Find by name or room" value={search} onFind={setSearch} />
        </div>
      )}
      <div className="sidescroll" tabIndex={0} role="region" aria-label="Workstations">
        <table className="figures">
          <tbody>
            {items.map((w) => (
              <tr key={w.id}>
                <td>
                  {admin ? (
                    <button type="button" className="linklike" onClick={() => setEditing(w)}>
                      {w.name}
                    </button>
                  ) : (
                    w.name
                  )}
                  <br />
                  <span className="small quiet">{roomOf.get(w.roomId)}</span>
                </td>
                <td className="second">
                  {operatingSystems[w.operatingSystem].label} {w.systemVersion}
                  <br />
                  <span className={`small ${w.courierOnline ? 'runs' : 'quiet'}`}>
                    {w.courierOnline
                      ? 'courier online'
                      : w.courierSeenAt
                        ? `last seen ${formatMoment(w.courierSeenAt)}`
                        : 'never seen'}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {hasNext && (
          <button type="button" className="act" style={{ margin: '6px 12px 10px' }} onClick={fetchNext}>
            Show more of {total.toLocaleString('en')}
          </button>
        )}
      </div>
      {editing && <EditWorkstation workstation={editing} onClose={() => setEditing(null)} />}
    </Plane>
  )
}
