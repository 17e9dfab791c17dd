import { beside } from '../parts/beside'
import { Button } from 'antd'
import { useState } from 'react'
import { operatingSystems } from '@bichroma/core/register'
import {
  roleCovers,
  rolloutStandings,
  type PlacementState,
  type RolloutRow,
  type RolloutStanding,
} from '@bichroma/contract'
import { ask } from '../api/client'
import { useList } from '../api/lists'
import { useDisplay, useSend, useSession, useSettings } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
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
      <RolloutOf />
    </>
  )
}

const standingWords: Readonly<Record<RolloutStanding, string>> = {
  astray: 'overridden or missing',
  newer: 'a newer one filed',
  none: 'none placed',
  queued: 'queued',
  placed: 'placed',
  'in force': 'in force',
  overridden: 'overridden',
  missing: 'missing',
}

function RolloutOf() {
  const [address, askFor] = useAddress(['search', 'room', 'standing', 'sort', 'display'])
  const { display, ...asked } = address
  const list = useList<RolloutRow>('/rollout', asked)
  // Unless somebody chose one: the one that was placed last.
  const newest = useList<RolloutRow>('/rollout', { sort: 'newest', limit: 1 }).items[0]
  const chosenId = /^[1-9][0-9]{0,9}$/.test(display) ? Number(display) : (newest?.displayId ?? null)
  const listed = list.items.find((r) => r.displayId === chosenId)
  const chosen = useDisplay(listed ? null : chosenId).data?.rollout ?? listed
  return (
    <div className="split" style={beside(340)}>
      <Plane title="Displays" aside={countWords(list)}>
        <ListTools
          label="Find a display"
          by="name, model, room or workstation"
          asked={address}
          onAsk={askFor}
          filters={[
            {
              name: 'standing',
              label: 'State',
              all: 'every state',
              options: rolloutStandings.map((value) => ({ value, label: standingWords[value] })),
            },
          ]}
        />
        <LongTable
          label="Rollout"
          list={list}
          keyOf={(r) => r.displayId}
          rowHeight={41}
          sort={asked.sort}
          onSort={(sort) => askFor({ sort })}
          onOpen={(r) => askFor({ display: String(r.displayId) })}
          chosen={(r) => r.displayId === chosenId}
          none={
            asked.search || asked.room || asked.standing ? 'No display fits.' : 'No display is in the register yet.'
          }
          columns={[
            { title: 'Display', sort: 'name', show: (r) => <b style={{ fontWeight: 500 }}>{r.displayName}</b> },
            {
              title: 'Workstation',
              width: '20%',
              show: (r) => (
                <>
                  {r.workstationName}
                  <br />
                  <span className="small quiet">
                    {operatingSystems[r.operatingSystem].label}, courier {r.courierOnline ? 'online' : 'away'}
                  </span>
                </>
              ),
            },
            {
              title: 'Profile placed',
              sort: 'newest',
              width: '26%',
              show: (r) =>
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
              width: 86,
              show: (r) =>
                r.placement ? (
                  <span className={tone[r.placement.state]}>{r.placement.state}</span>
                ) : (
                  <span className="quiet">–</span>
                ),
            },
            {
              title: 'Verified',
              width: 126,
              show: (r) => (
                <span className="fig">{r.placement?.verifiedAt ? formatMoment(r.placement.verifiedAt) : '–'}</span>
              ),
            },
            {
              title: 'Newest filed',
              width: 104,
              show: (r) =>
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
      {chosen && <RolloutDetail row={chosen} />}
    </div>
  )
}

function RolloutDetail({ row }: { row: RolloutRow }) {
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
            {placement.state === 'in force' && (
              <p className="second small" style={{ marginTop: 6 }}>
                {operatingSystems[row.operatingSystem].afterPlacing}
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
