import { Button, Input, Table } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { certificateDays, operatingSystems, panelKinds } from '@bichroma/core'
import type { DisplaySummary, Room, Workstation } from '@bichroma/contract'
import { useDisplays, useInstruments, useRooms, useSession, useWorkstations } from '../api/queries'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay, formatDue, formatMoment } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'
import { AddDisplay } from './AddDisplay'
import { CorrectionsPlane } from './CorrectionsPlane'
import { RoomsPlane } from './RoomsPlane'

/** What stands where: every display with its workstation and room; the instruments beside. */
export function RegisterPage() {
  const [adding, setAdding] = useState(false)
  const admin = useSession().data?.account?.role === 'administrator'
  return (
    <>
      <div className="top">
        <div>
          <h1>Register</h1>
          <p>Rooms, workstations, displays and instruments</p>
        </div>
        <div className="acts">{admin && <Button onClick={() => setAdding(true)}>Add display</Button>}</div>
      </div>
      <Loaded query={allOf(useDisplays(), useWorkstations(), useRooms())}>
        {([displays, workstations, rooms]) => (
          <div className="split" style={{ gridTemplateColumns: 'minmax(0,1fr) 300px' }}>
            <DisplaysTable {...{ displays, workstations, rooms }} />
            <div style={{ display: 'grid', gap: 14 }}>
              <InstrumentsPlane workstations={workstations} />
              <RoomsPlane rooms={rooms} workstations={workstations} />
              <CorrectionsPlane displays={displays} />
              <WorkstationsPlane {...{ workstations, rooms }} />
            </div>
            {adding && <AddDisplay onClose={() => setAdding(false)} workstations={workstations} />}
          </div>
        )}
      </Loaded>
    </>
  )
}

function DisplaysTable({
  displays,
  workstations,
  rooms,
}: {
  displays: DisplaySummary[]
  workstations: Workstation[]
  rooms: Room[]
}) {
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  const stationOf = (d: DisplaySummary) => workstations.find((w) => w.id === d.workstationId)
  const roomOf = (d: DisplaySummary) => rooms.find((r) => r.id === d.roomId)?.name ?? ''
  const shown = displays.filter((d) =>
    `${d.name} ${d.maker} ${d.model} ${d.serial} ${roomOf(d)} ${stationOf(d)?.name}`
      .toLowerCase()
      .includes(typed.trim().toLowerCase()),
  )
  return (
    <Plane title="Displays" aside={`${shown.length} of ${displays.length}`}>
      <div style={{ padding: '0 12px 8px' }}>
        <Input
          allowClear
          aria-label="Find a display"
          placeholder="Find by name, model, serial, room or workstation"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </div>
      <Table<DisplaySummary>
        size="small"
        rowKey="id"
        dataSource={shown}
        pagination={shown.length > 50 ? { pageSize: 50, showSizeChanger: false } : false}
        locale={{ emptyText: typed ? `No display fits “${typed}”.` : 'No display is in the register yet.' }}
        onRow={(d) => ({
          className: 'goes',
          tabIndex: 0,
          onClick: () => void navigate(`/register/${d.id}`),
          onKeyDown: (e) => e.key === 'Enter' && void navigate(`/register/${d.id}`),
        })}
        columns={[
          {
            title: 'Display',
            dataIndex: 'name',
            render: (name: string, d) => (
              <>
                <b style={{ fontWeight: 500 }}>{name}</b>
                <br />
                <span className="small quiet">{roomOf(d)}</span>
              </>
            ),
          },
          {
            title: 'Maker and model',
            render: (_, d) => (
              <>
                {d.maker} {d.model}
                <br />
                <span className="small quiet">{panelKinds[d.panelKind]}</span>
              </>
            ),
          },
          {
            title: 'Serial, firmware',
            render: (_, d) => (
              <>
                <span className="fig">{d.serial}</span>
                <br />
                <span className="fig quiet">{d.firmware}</span>
              </>
            ),
          },
          {
            title: 'Workstation',
            render: (_, d) => {
              const w = stationOf(d)
              return (
                <>
                  {w?.name}
                  <br />
                  <span className="small quiet">
                    {w && operatingSystems[w.operatingSystem].label} {w?.systemVersion}
                  </span>
                </>
              )
            },
          },
          {
            title: 'Verdict',
            render: (_, d) => (
              <>
                <VerdictLabel verdict={d.verdict} />
                <br />
                <span className={`small ${d.dueState === 'overdue' ? 'asks' : 'quiet'}`}>{formatDue(d.dueAt)}</span>
              </>
            ),
          },
        ]}
      />
    </Plane>
  )
}

function InstrumentsPlane({ workstations }: { workstations: Workstation[] }) {
  const instruments = useInstruments().data ?? []
  return (
    <Plane title="Instruments" aside={String(instruments.length)}>
      {instruments.length ? (
        <table className="figures">
          <tbody>
            {instruments.map((i) => (
              <tr key={i.id}>
                <td>
                  {i.model}
                  <br />
                  <span className="fig quiet">{i.serial}</span>
                </td>
                <td className="second">
                  {i.workstationId
                    ? `on ${workstations.find((w) => w.id === i.workstationId)?.name}`
                    : 'not plugged in'}
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
    </Plane>
  )
}

function WorkstationsPlane({ workstations, rooms }: { workstations: Workstation[]; rooms: Room[] }) {
  return (
    <Plane
      title="Workstations"
      aside={`${workstations.filter((w) => w.courierOnline).length} of ${workstations.length} online`}
    >
      <table className="figures">
        <tbody>
          {workstations.map((w) => (
            <tr key={w.id}>
              <td>
                {w.name}
                <br />
                <span className="small quiet">{rooms.find((r) => r.id === w.roomId)?.name}</span>
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
    </Plane>
  )
}
