import { Button, Popconfirm } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { describeAim } from '@bichroma/core/aims'
import { aimOfGround, roundedLight } from '@bichroma/core/peers'
import type { PeerSetDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { usePeerSet, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'
import { GroundPlane } from './GroundPlane'
import { LooksPlane } from './LooksPlane'
import { PairPlane } from './PairPlane'
import { PairTriangle, type Pair } from './PairTriangle'
import { StartTogether } from './StartTogether'
import { MatchFigures } from './Matches'
import { aimNameFor, asksOther, firstApart, headSentence, listed, moveWords } from './words'
import './peers.css'

/** One set: what its members have in common, and how alike they are. */
export function PeerSetPage() {
  const id = Number(useParams().id)
  return <Loaded query={usePeerSet(id)}>{(set) => <SetOf key={set.id} set={set} />}</Loaded>
}

function SetOf({ set }: { set: PeerSetDetail }) {
  const alike = set.standing?.alike ?? null
  const [asked, choose] = useState<Pair | null>(null)
  const [starting, setStarting] = useState(false)
  const navigate = useNavigate()
  const account = useSession().data?.account
  const mayRun = account?.role === 'administrator' || account?.role === 'technician'
  const pairs = alike?.pairs.map((p) => p.pair) ?? []
  // One that is not there any more gives way to the worst.
  const chosen = pairs.find((p) => asked && p.join() === asked.join()) ?? alike?.verdict.worst.pair ?? null
  const first = alike && firstApart(alike, set.members)
  return (
    <>
      <div className="top">
        <div>
          <h1>
            {set.name}{' '}
            <span style={{ fontSize: 13, fontWeight: 400 }}>
              <VerdictLabel verdict={alike?.verdict.verdict ?? 'unproven'} />
            </span>
          </h1>
          <p>
            <Link to="/peers">Peer sets</Link> · {headSentence(set)}
          </p>
        </div>
        <div className="acts">
          {account?.role === 'administrator' && <Acts set={set} />}
          {mayRun && set.members.length > 1 && (
            <Button onClick={() => void navigate(`/peers/${set.id}/eye`)}>Match by eye</Button>
          )}
          {mayRun && (
            <Button
              type={set.aim ? 'primary' : 'default'}
              onClick={() => setStarting(!starting)}
              aria-expanded={starting}
            >
              Start runs of all
            </Button>
          )}
        </div>
      </div>
      <GroundMoved set={set} />
      <div className="peerset">
        <GroundPlane set={set} />
        <div className="alike">
          <Plane title="Differences" aside={alike ? readWords(alike) : undefined}>
            {alike && chosen ? (
              <>
                <PairTriangle set={set} alike={alike} chosen={chosen} onChoose={choose} />
                <OddOne set={set} />
                {first && (
                  <p className="small second" style={{ padding: '0 12px 8px' }}>
                    Told apart first, if all go on as they have: {first}.
                  </p>
                )}
              </>
            ) : (
              <p className="none">{headSentence(set)}.</p>
            )}
          </Plane>
          {alike && chosen && <PairPlane set={set} alike={alike} chosen={chosen} />}
          <div className="side">
            {starting && <StartTogether set={set} onClose={() => setStarting(false)} />}
            <AimPlane set={set} />
            <LooksPlane set={set} />
          </div>
        </div>
      </div>
    </>
  )
}

type Alike = NonNullable<NonNullable<PeerSetDetail['standing']>['alike']>

/** By what and within which time members were read. */
function readWords({ from, to, oneInstrument }: Alike): string {
  const hours = (to - from) / 3_600_000
  const span =
    hours < 1
      ? `${Math.max(1, Math.round(hours * 60))} min`
      : hours < 48
        ? `${Math.round(hours)} h`
        : `${Math.round(hours / 24)} days`
  return `${oneInstrument ? 'one instrument' : 'several instruments'}, within ${span}, ${formatMoment(to)}`
}

function OddOne({ set }: { set: PeerSetDetail }) {
  const odd = set.standing?.alike?.odd
  if (!odd) return null
  const name = set.members.find((m) => m.displayId === odd.id)?.name ?? `display ${odd.id}`
  return (
    <p className="small" style={{ padding: '4px 12px 8px' }}>
      <span className="asks">{name} stands apart:</span> <span className="fig">{odd.average.toFixed(2)}</span> ΔE from
      the others, who are <span className="fig">{odd.others.toFixed(2)}</span> from each other.
    </p>
  )
}

/** What has changed since the ground was adopted. */
function GroundMoved({ set }: { set: PeerSetDetail }) {
  const moved = set.standing?.moved ?? []
  if (!set.adopted) return null
  return (
    <>
      {moved.length > 0 && (
        <p className="groundmoved" role="status">
          <span className="asks">The ground has moved</span> since {formatMoment(set.adopted.at)}:{' '}
          {listed(moved.map((m) => moveWords[m]))}.
        </p>
      )}
      {asksOther(set) && (
        <p className="groundmoved" role="status">
          <span className="asks">The set asks for something else</span> than its aim has: adopt its common ground again,
          or change one of them.
        </p>
      )}
    </>
  )
}

function Acts({ set }: { set: PeerSetDetail }) {
  const navigate = useNavigate()
  const ground = set.standing?.ground ?? null
  const adopt = useSend(() => ask('POST', `/peer-sets/${set.id}/aim`, { luminance: roundedLight(ground!.luminance) }))
  const aim = ground && aimOfGround({ ...ground, black: set.black === 'common' ? ground.black : null }, set)
  const isNews = !set.aim || (set.standing?.moved.length ?? 0) > 0 || asksOther(set)
  return (
    <>
      <Button onClick={() => void navigate(`/peers/${set.id}/edit`)}>Edit set</Button>
      {aim && isNews && (
        <Popconfirm
          title={set.aim ? `Change the aim “${set.aim.name}”?` : 'Make an aim of the common ground?'}
          description={`${describeAim(aim)}. Slots change with the next runs.`}
          okText="Adopt ground"
          onConfirm={() => adopt.mutate(undefined)}
        >
          <Button type={set.aim ? 'default' : 'primary'} loading={adopt.isPending}>
            Adopt common ground
          </Button>
        </Popconfirm>
      )}
    </>
  )
}

/** The aim that was made of the ground. */
function AimPlane({ set }: { set: PeerSetDetail }) {
  const { aim, adopted, members } = set
  const without = aim ? members.filter((m) => m.label !== aimNameFor(set, m.displayId)) : []
  return (
    <Plane title="Aim of the set">
      <div style={{ padding: '0 12px 10px' }}>
        {aim ? (
          <>
            <p>
              <Link to={`/aims/aims/${aim.id}`}>{aim.name}</Link>
            </p>
            <p className="small second">{describeAim(aim.aim)}</p>
            {adopted && (
              <p className="small quiet">
                adopted {formatMoment(adopted.at)} by {adopted.by}
              </p>
            )}
            {without.length > 0 && (
              <p className="small asks">
                {without.length === members.length
                  ? 'No slot holds it yet'
                  : `Not in the ${without.length === 1 ? 'slot' : 'slots'} of ${listed(without.map((m) => m.name))}`}
              </p>
            )}
          </>
        ) : (
          <p className="second">None yet. Adopt the common ground, then start runs of all members.</p>
        )}
        {set.matches
          .filter((m) => m.state === 'in force')
          .map((m) => (
            <p key={m.id} style={{ marginTop: 6 }}>
              {m.aim ? <Link to={`/aims/aims/${m.aim.id}`}>{m.name}, by eye</Link> : `${m.name}, by eye`}
              <br />
              <MatchFigures match={m} />
            </p>
          ))}
      </div>
    </Plane>
  )
}
