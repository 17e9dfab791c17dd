import { Button, Table } from 'antd'
import { useState } from 'react'
import { operatingSystems } from '@bichroma/core'
import { roleCovers, type PlacementState, type RolloutRow, type Workstation } from '@bichroma/contract'
import { ask } from '../api/client'
import { useRollout, useSend, useSession, useSettings, useWorkstations } from '../api/queries'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { PlacementSteps } from './PlacementSteps'
import { Policies } from './Policies'

const tone: Readonly<Record<PlacementState, string>> = {
  queued: 'runs',
  placed: 'runs',
  'in force': '',
  overridden: 'asks',
  missing: 'asks',
  withdrawn: 'quiet',
}

/** Which profile is in force on which workstation, as the couriers read it back. */
export function RolloutPage() {
  const [deciding, setDeciding] = useState(false)
  const settings = useSettings().data
  const admin = useSession().data?.account?.role === 'administrator'
  return (
    <>
      <div className="top">
        <div>
          <h1>Rollout</h1>
          <p>
            Profiles on workstations, for the whole machine where the courier may. “In force” is what a courier has read
            back, by hash and binding.
          </p>
        </div>
        <div className="acts">
          {admin && settings && <Button onClick={() => setDeciding(true)}>Policies…</Button>}
          {deciding && settings && <Policies settings={settings} onClose={() => setDeciding(false)} />}
        </div>
      </div>
      <Loaded query={allOf(useRollout(), useWorkstations())}>
        {([rows, workstations]) => <RolloutOf {...{ rows, workstations }} />}
      </Loaded>
    </>
  )
}

function RolloutOf({ rows, workstations }: { rows: RolloutRow[]; workstations: Workstation[] }) {
  const newestMove = rows.reduce<RolloutRow | null>(
    (a, b) => ((b.placement?.requestedAt ?? 0) > (a?.placement?.requestedAt ?? 0) ? b : a),
    null,
  )
  const [chosenId, setChosenId] = useState<number | null>(null)
  const chosen = rows.find((r) => r.displayId === chosenId) ?? newestMove ?? rows[0]
  if (!chosen) return <div className="none">No display is in the register yet.</div>
  const choose = (r: RolloutRow) => setChosenId(r.displayId)
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0,1fr) 340px' }}>
      <Plane>
        <Table<RolloutRow>
          size="small"
          rowKey="displayId"
          dataSource={rows}
          pagination={rows.length > 20 ? { pageSize: 20, showSizeChanger: false } : false}
          onRow={(r) => ({
            className: `goes ${r.displayId === chosen.displayId ? 'chosen' : ''}`,
            tabIndex: 0,
            onClick: () => choose(r),
            onKeyDown: (e) => e.key === 'Enter' && choose(r),
          })}
          columns={[
            { title: 'Display', render: (_, r) => <b style={{ fontWeight: 500 }}>{r.displayName}</b> },
            {
              title: 'Workstation',
              render: (_, r) => {
                const w = workstations.find((s) => s.id === r.workstationId)
                return (
                  <>
                    {r.workstationName}
                    <br />
                    <span className="small quiet">
                      {w && operatingSystems[w.operatingSystem].label}, courier {r.courierOnline ? 'online' : 'away'}
                    </span>
                  </>
                )
              },
            },
            {
              title: 'Profile placed',
              render: (_, r) =>
                r.placement ? (
                  <>
                    {r.placement.description}
                    <br />
                    <span className="fig quiet">{r.placement.profileHash.slice(0, 12)}</span>
                  </>
                ) : (
                  <span className="quiet">none</span>
                ),
            },
            {
              title: 'State',
              render: (_, r) =>
                r.placement ? (
                  <span className={tone[r.placement.state]}>{r.placement.state}</span>
                ) : (
                  <span className="quiet">–</span>
                ),
            },
            {
              title: 'Verified',
              render: (_, r) => (
                <span className="fig">{r.placement?.verifiedAt ? formatMoment(r.placement.verifiedAt) : '–'}</span>
              ),
            },
            {
              title: 'Newest filed',
              render: (_, r) =>
                !r.newest ? (
                  <span className="quiet">none</span>
                ) : r.newest.runId === r.placement?.runId ? (
                  <span className="quiet">this one</span>
                ) : r.newest.filedAt > (r.placement?.requestedAt ?? 0) ? (
                  <span className="asks">newer, {formatDay(r.newest.filedAt)}</span>
                ) : (
                  <span className="quiet">
                    slot {r.newest.slot}, {formatDay(r.newest.filedAt)}
                  </span>
                ),
            },
          ]}
        />
      </Plane>
      <RolloutDetail row={chosen} workstation={workstations.find((w) => w.id === chosen.workstationId)} />
    </div>
  )
}

function RolloutDetail({ row, workstation }: { row: RolloutRow; workstation: Workstation | undefined }) {
  const role = useSession().data?.account?.role ?? 'viewer'
  const place = useSend((runId: number) => ask('POST', '/placements', { runId }))
  const verify = useSend((id: number) => ask('POST', `/placements/${id}/verify`))
  const { placement, newest } = row
  const may = roleCovers(role, 'technician')
  const stale = newest && placement && newest.runId !== placement.runId && newest.filedAt > placement.requestedAt
  return (
    <Plane
      title={`${row.displayName} on ${row.workstationName}`}
      aside={row.placement?.scope === 'user' ? 'for the person signed in' : 'whole machine'}
    >
      <div style={{ padding: '0 12px 14px' }}>
        {placement ? (
          <>
            <p style={{ overflowWrap: 'anywhere' }}>{placement.fileName}</p>
            <p className="small quiet" style={{ marginBottom: 12 }}>
              asked for by {placement.requestedBy}
            </p>
            <PlacementSteps placement={placement} />
            {placement.message && (
              <p className={placement.state === 'overridden' || placement.state === 'missing' ? 'asks' : 'second'}>
                {placement.message}
              </p>
            )}
            {placement.state === 'in force' && workstation && (
              <p className="second small" style={{ marginTop: 6 }}>
                {operatingSystems[workstation.operatingSystem].afterPlacing}
              </p>
            )}
          </>
        ) : (
          <p className="second">No profile has been placed for this display.</p>
        )}
        {may && (
          <div style={{ display: 'flex', gap: 8, marginTop: 14, flexWrap: 'wrap' }}>
            {newest && (!placement || stale || placement.state === 'overridden' || placement.state === 'missing') && (
              <Button
                type="primary"
                loading={place.isPending}
                onClick={() => place.mutate(stale || !placement ? newest.runId : placement.runId)}
              >
                {stale || !placement ? `Place profile of ${formatDay(newest.filedAt)}` : 'Place profile again'}
              </Button>
            )}
            {placement && (
              <Button loading={verify.isPending} onClick={() => verify.mutate(placement.id)}>
                Verify now
              </Button>
            )}
          </div>
        )}
      </div>
    </Plane>
  )
}
