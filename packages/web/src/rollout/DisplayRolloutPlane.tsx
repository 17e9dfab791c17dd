import { Button } from 'antd'
import { Link } from 'react-router'
import { operatingSystems } from '@bichroma/core/register'
import { roleCovers, type DisplayRollout } from '@bichroma/contract'
import { ask } from '../api/client'
import { useDisplayRollout, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { WorkstationPicker } from '../parts/Picker'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { PlacementSteps } from './PlacementSteps'
import { RolloutHistory } from './RolloutHistory'
import './rollout.css'
import { answerWords, mendWords, nameOfPath, originWords, rulesInWords, stateTone } from './words'

/** One display: what is wanted, what was found, which policy holds, and how it came about. */
export function DisplayRolloutPlane({ id, title }: { id: number; title?: string }) {
  return (
    <Loaded query={useDisplayRollout(id)}>
      {(of) => (
        <Plane
          title={
            <>
              {title ?? <Link to={`/register/${id}`}>{of.row.displayName}</Link>} on {of.row.workstationName}
            </>
          }
          aside={
            of.row.placement && <span className={stateTone[of.row.placement.state]}>{of.row.placement.state}</span>
          }
        >
          <div style={{ padding: '0 12px 12px' }}>
            <DisplayRolloutFacts of={of} />
          </div>
        </Plane>
      )}
    </Loaded>
  )
}

function DisplayRolloutFacts({ of }: { of: DisplayRollout }) {
  const role = useSession().data?.account?.role ?? 'viewer'
  const place = useSend((runId: number) => ask('POST', '/placements', { runId }))
  const verify = useSend((id: number) => ask('POST', `/placements/${id}/verify`))
  const { row, policy } = of
  const { placement, wanted, found, mend } = row
  const may = roleCovers(role, 'technician')
  const placeable =
    wanted?.kind === 'profile' &&
    !(placement?.state === 'waiting' && placement.profileHash === wanted.profileHash) &&
    (row.differs || placement?.state === 'overridden' || placement?.state === 'missing')
  return (
    <>
      <dl className="facts">
        <dt>Wanted</dt>
        <dd>
          {wanted?.kind === 'profile'
            ? `${wanted.description}, of ${formatDay(wanted.filedAt!)}`
            : wanted?.kind === 'none'
              ? 'no profile of ours'
              : wanted
                ? `the profile of slot ${wanted.slot}, which has none yet`
                : 'not worked out yet'}
          <span className="small quiet">
            {' '}
            {answerWords('profile', policy.rules.profile)}, by {originWords[policy.origins.profile]}
          </span>
        </dd>
        <dt>Found</dt>
        <dd style={{ overflowWrap: 'anywhere' }}>
          {!found ? (
            'never read back'
          ) : found.path === null ? (
            'nothing is bound'
          ) : (
            <>
              {nameOfPath(found.path)}{' '}
              <span className="small quiet">
                {found.ours ? 'ours' : 'another’s'}
                {found.by && !found.ours && `, put there by ${found.by}`}
              </span>
            </>
          )}
          {found && (
            <span className="small quiet">
              {' '}
              since {formatMoment(found.since)}, {found.told === 'hand' ? 'told by hand' : 'read'}{' '}
              {formatMoment(found.readAt)}
            </span>
          )}
        </dd>
      </dl>
      {placement?.message && (
        <p className={stateTone[placement.state] === 'asks' || placement.fault ? 'asks' : 'second'}>
          {placement.message}
        </p>
      )}
      {mend && mend !== 'decision' && !placement?.message && <p className="second">{mendWords[mend].explains}</p>}
      {placement && <PlacementSteps placement={placement} />}
      {placement?.state === 'in force' && (
        <p className="second small" style={{ marginTop: 4 }}>
          {operatingSystems[row.operatingSystem].afterPlacing}
        </p>
      )}
      <Programs of={of} />
      {role === 'administrator' && <Links of={of} />}
      {may && (
        <div style={{ display: 'flex', gap: 8, margin: '10px 0', flexWrap: 'wrap' }}>
          {placeable && (
            <Button type="primary" loading={place.isPending} onClick={() => place.mutate(wanted.runId!)}>
              {placement?.profileHash === wanted.profileHash ? 'Place it again' : 'Place what is wanted'}
            </Button>
          )}
          {placement && (
            <Button loading={verify.isPending} onClick={() => verify.mutate(placement.id)}>
              Read back now
            </Button>
          )}
        </div>
      )}
      <details>
        <summary>Which policy holds</summary>
        <dl className="facts small">
          {Object.entries(rulesInWords).map(([name, { asks }]) => (
            <div key={name} style={{ display: 'contents' }}>
              <dt>{asks}</dt>
              <dd>
                {answerWords(name as 'scope', policy.rules[name as 'scope'])}{' '}
                <span className="quiet">{originWords[policy.origins[name as 'scope']]}</span>
              </dd>
            </div>
          ))}
        </dl>
      </details>
      <RolloutHistory of={of} />
    </>
  )
}

/** “Everything right but the browser”: switches that keep the profile from doing its work. */
function Programs({ of: { programs, programsRead, curves } }: { of: DisplayRollout }) {
  return (
    <>
      {curves !== null && curves !== 'on' && (
        <p className="asks">
          {curves === 'lost'
            ? 'The video card has lost the curves of the slot.'
            : 'The loader of the video card’s curves is off.'}
        </p>
      )}
      {programs.length > 0 && (
        <div className="programs">
          <p className="asks">
            Everything right but{' '}
            {[...new Set(programs.map((p) => (p.kind === 'browser' ? 'the browser' : `the ${p.kind}`)))].join(' and ')}:
          </p>
          <ul>
            {programs.map((p) => (
              <li key={`${p.program} ${p.switch}`}>
                {p.program}: {p.switch === 'version4' ? 'profiles of version 4' : 'colour management'}{' '}
                {p.found ?? 'not told'}, should be {p.wanted}. <span className="quiet">{p.where}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {programs.length === 0 && programsRead > 0 && (
        <p className="second small">
          {programsRead === 1
            ? 'The program that was read there leaves colour to the profile.'
            : `The ${programsRead} programs that were read there leave colour to the profile.`}
        </p>
      )}
    </>
  )
}

/** Other workstations that reach the display, by a switch or a second cable: each has a placement of its own. */
function Links({ of: { row, links } }: { of: DisplayRollout }) {
  const add = useSend((workstationId: number) => ask('POST', `/displays/${row.displayId}/links`, { workstationId }))
  const remove = useSend((workstationId: number) => ask('DELETE', `/displays/${row.displayId}/links/${workstationId}`))
  return (
    <details open={links.length > 0}>
      <summary>Also reached from {links.length === 0 ? 'no other workstation' : `${links.length} more`}</summary>
      <ul className="links">
        {links.map((l) => (
          <li key={l.workstationId}>
            {l.workstationName}{' '}
            <span className={l.state ? stateTone[l.state] : 'quiet'}>{l.state ?? 'none placed'}</span>
            <Button size="small" loading={remove.isPending} onClick={() => remove.mutate(l.workstationId)}>
              Remove {l.workstationName}
            </Button>
          </li>
        ))}
      </ul>
      <WorkstationPicker
        style={{ width: '100%' }}
        placeholder="Add a workstation that reaches it"
        value={undefined}
        disabled={add.isPending}
        onChange={(id) => add.mutate(id)}
      />
    </details>
  )
}
