import { App, Button, Popconfirm, Segmented, Select } from 'antd'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import { matchSides, matchStart, settleMatch, type MatchRepeat } from '@bichroma/core/peers'
import type { PeerMatch, PeerSetDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { usePeerSet, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { nameIn } from './words'
import './peers.css'

/** Repetitions that are asked for before a match is kept. */
const usualRepeats = 3
/** How far one press moves a white, Δu′v′: to find it, and to settle it. */
const steps = { coarse: 0.002, fine: 0.0005 } as const
/** Beyond this nobody is near any more. */
const furthest = 0.03

interface Uv {
  readonly u: number
  readonly v: number
}

/** Matching the white of a member by eye: displays of different light can measure alike and not look it. */
export function ByEyePage() {
  const id = Number(useParams().id)
  return <Loaded query={usePeerSet(id)}>{(set) => <MatchOf key={set.id} set={set} />}</Loaded>
}

function MatchOf({ set }: { set: PeerSetDetail }) {
  const members = set.members.filter((m) => m.kept === 'in use')
  const [besideId, setBeside] = useState(set.reference ?? members[0]?.displayId ?? null)
  const [displayId, setDisplay] = useState(members.find((m) => m.displayId !== besideId)?.displayId ?? null)
  const [begun, setBegun] = useState(false)
  const role = useSession().data?.account?.role
  const mayMatch = role === 'administrator' || role === 'technician'
  const options = members.map((m) => ({ value: m.displayId, label: m.name }))
  return (
    <>
      <div className="top">
        <div>
          <h1>Match by eye</h1>
          <p>
            <Link to="/peers">Peer sets</Link> · <Link to={`/peers/${set.id}`}>{set.name}</Link> · whites that measure
            alike and do not look it
          </p>
        </div>
      </div>
      <div className="rings">
        {mayMatch && begun && displayId !== null && besideId !== null ? (
          <Matching
            {...{ set, displayId, besideId }}
            names={[nameIn(set.members, displayId), nameIn(set.members, besideId)]}
            onStop={() => setBegun(false)}
          />
        ) : (
          <Plane title="Two members side by side">
            {mayMatch ? (
              <div className="ringform matchform">
                <label>
                  <span className="small second">The white that is moved</span>
                  <Select
                    aria-label="The white that is moved"
                    options={options}
                    value={displayId}
                    onChange={setDisplay}
                  />
                </label>
                <label>
                  <span className="small second">until it looks like that of</span>
                  <Select
                    aria-label="Until it looks like that of"
                    options={options}
                    value={besideId}
                    onChange={setBeside}
                  />
                </label>
                <ul className="small second matchrules">
                  <li>Both are warm, in the slots in which they belong to the set, and side by side.</li>
                  <li>
                    The room is as it is at work; nothing coloured is in sight. Wait two minutes until eyes have
                    settled.
                  </li>
                  <li>Look from the front, at both, and away in between. Let whoever judges pictures here do it.</li>
                </ul>
                <Button
                  type="primary"
                  disabled={displayId === null || besideId === null || displayId === besideId}
                  onClick={() => setBegun(true)}
                  style={{ justifySelf: 'start' }}
                >
                  Begin
                </Button>
              </div>
            ) : (
              <p className="none">Technicians and administrators match members by eye.</p>
            )}
          </Plane>
        )}
        <Matches set={set} mayTakeBack={role === 'administrator'} />
      </div>
    </>
  )
}

const lengthOf = ({ u, v }: Uv) => Math.hypot(u, v)
/** Whole steps leave no dust behind. */
const moved = (from: Uv, du: number, dv: number): Uv => ({
  u: Math.round((from.u + du) * 1e5) / 1e5,
  v: Math.round((from.v + dv) * 1e5) / 1e5,
})

/** One press in a direction, as eyes name it. */
const directions = [
  { word: 'Yellower', du: 0, dv: 1, area: 'up', key: 'ArrowUp' },
  { word: 'Greener', du: -1, dv: 0, area: 'left', key: 'ArrowLeft' },
  { word: 'Redder', du: 1, dv: 0, area: 'right', key: 'ArrowRight' },
  { word: 'Bluer', du: 0, dv: -1, area: 'down', key: 'ArrowDown' },
] as const

function Matching({
  set,
  displayId,
  besideId,
  names,
  onStop,
}: {
  set: PeerSetDetail
  displayId: number
  besideId: number
  names: readonly [string, string]
  onStop: () => void
}) {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const [repeats, setRepeats] = useState<readonly MatchRepeat[]>([])
  const [at, setAt] = useState<Uv | null>(null)
  const [isSending, setSending] = useState(false)
  const [step, setStep] = useState<keyof typeof steps>('coarse')
  const [more, setMore] = useState(false)
  const settled = repeats.length > 1 ? settleMatch(repeats) : null
  const isDone = repeats.length >= usualRepeats && !more
  const keep = useSend(async () => {
    await ask('POST', `/peer-sets/${set.id}/matches`, { displayId, besideId, repeats })
    void navigate(`/peers/${set.id}`)
  })

  const show = async (next: Uv) => {
    if (isSending) return
    setSending(true)
    try {
      await ask('POST', `/peer-sets/${set.id}/match`, { displayId, besideId, ...next })
      setAt(next)
    } catch (error) {
      // What is shown stays as it was.
      void message.error((error as Error).message)
    } finally {
      setSending(false)
    }
  }
  const begin = (side: number) => void show(matchStart(side))
  const press = ({ du, dv }: Uv2) => {
    const next = at && moved(at, du * steps[step], dv * steps[step])
    if (next && lengthOf(next) <= furthest) void show(next)
  }
  const settle = () => {
    if (!at || isSending) return
    const all = [...repeats, { side: repeats.length, u: at.u, v: at.v }]
    setRepeats(all)
    setMore(false)
    setAt(null)
    setStep('coarse')
    if (all.length < usualRepeats) begin(all.length)
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const found = directions.find((d) => d.key === event.key)
      if (!found || (event.target as HTMLElement).closest('.ant-select, .ant-segmented, input')) return
      event.preventDefault()
      press(found)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
  const [name, beside] = names
  return (
    <Plane
      title={`${name} beside ${beside}`}
      aside={
        isDone
          ? `${repeats.length} repetitions`
          : `repetition ${repeats.length + 1} of ${Math.max(usualRepeats, repeats.length + 1)}`
      }
    >
      {isDone && settled ? (
        <div className="matched">
          <MatchDiagram repeats={repeats} />
          <div style={{ display: 'grid', gap: 8, alignContent: 'start' }}>
            <p>
              They look alike where {name} is moved by u′ <span className="fig">{formatSigned(settled.u, 4)}</span>, v′{' '}
              <span className="fig">{formatSigned(settled.v, 4)}</span>.
            </p>
            <p className="second">
              Repetitions scatter by <span className="fig">{settled.scatter.toFixed(4)}</span>, so that their mean is
              known to <span className="fig">± {(2 * settled.doubt).toFixed(4)}</span>.
            </p>
            {lengthOf(settled) < 2 * settled.doubt && (
              <p className="asks">That is no more than chance: these two look as alike as they measure.</p>
            )}
            <p className="small quiet">
              {set.aim
                ? `Keeping it makes ${name} an aim of its own, the set’s with this white; its next run calibrates to it.`
                : `Once common ground is adopted, ${name} gets an aim of its own from it.`}
            </p>
            <span style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
              <Button type="primary" loading={keep.isPending} onClick={() => keep.mutate(undefined)}>
                Keep this match
              </Button>
              {repeats.length < matchSides && (
                <Button
                  onClick={() => {
                    setMore(true)
                    begin(repeats.length)
                  }}
                >
                  Once more
                </Button>
              )}
              <Button onClick={onStop}>Throw it away</Button>
            </span>
          </div>
        </div>
      ) : (
        <div className="matchform ringform">
          {at ? (
            <>
              <p>
                Both show white. Move that of <b style={{ fontWeight: 500 }}>{name}</b> until nobody could say which is
                which.
              </p>
              <div className="matchpad" role="group" aria-label={`Move the white of ${name}`}>
                {directions.map((d) => (
                  <Button key={d.word} style={{ gridArea: d.area }} size="large" onClick={() => press(d)}>
                    {d.word}
                  </Button>
                ))}
                <Segmented
                  aria-label="Step"
                  style={{ gridArea: 'middle', justifySelf: 'center' }}
                  value={step}
                  onChange={setStep}
                  options={[
                    { value: 'coarse', label: 'Coarse' },
                    { value: 'fine', label: 'Fine' },
                  ]}
                />
              </div>
              <p className="small quiet">
                Arrow keys do the same. Figures are not shown until a repetition is done, and each begins from another
                side.
              </p>
              <span style={{ display: 'flex', gap: 8 }}>
                <Button type="primary" onClick={settle} disabled={isSending}>
                  They look alike
                </Button>
                <Button onClick={onStop}>Stop</Button>
              </span>
            </>
          ) : (
            <>
              <p>
                {name} and {beside} will show white over the whole screen, one of them moved off to a side.
              </p>
              <span style={{ display: 'flex', gap: 8 }}>
                <Button type="primary" loading={isSending} onClick={() => begin(repeats.length)}>
                  Show both whites
                </Button>
                <Button onClick={onStop}>Stop</Button>
              </span>
            </>
          )}
        </div>
      )}
    </Plane>
  )
}

interface Uv2 {
  readonly du: number
  readonly dv: number
}

const size = 250
const reach = 0.012

/** Where repetitions began and ended, in u′v′ around what is measured alike. */
function MatchDiagram({ repeats }: { repeats: readonly MatchRepeat[] }) {
  const scale = Math.max(reach, ...repeats.map((r) => 1.15 * lengthOf(r)))
  const x = (u: number) => size / 2 + (u / scale) * (size / 2 - 14)
  const y = (v: number) => size / 2 - (v / scale) * (size / 2 - 14)
  const mean = settleMatch(repeats)
  return (
    <svg
      viewBox={`0 0 ${size} ${size}`}
      className="matchdiagram"
      role="img"
      aria-label={`Repetitions in u′v′: mean ${formatSigned(mean.u, 4)}, ${formatSigned(mean.v, 4)}`}
    >
      <path d={`M8 ${size / 2}H${size - 8}M${size / 2} 8V${size - 8}`} className="axis" />
      {[0.005, 0.01].map((r) => (
        <circle key={r} cx={size / 2} cy={size / 2} r={x(r) - x(0)} className="axis" />
      ))}
      {repeats.map((r) => {
        const from = matchStart(r.side)
        return (
          <g key={r.side}>
            <path d={`M${x(from.u)} ${y(from.v)}L${x(r.u)} ${y(r.v)}`} className="way" />
            <circle cx={x(r.u)} cy={y(r.v)} r={4} className="end" />
          </g>
        )
      })}
      <path d={`M${x(mean.u) - 7} ${y(mean.v)}h14M${x(mean.u)} ${y(mean.v) - 7}v14`} className="mean" />
      <text x={size - 8} y={size / 2 - 5} textAnchor="end">
        u′
      </text>
      <text x={size / 2 + 5} y={16}>
        v′
      </text>
      <text x={x(0.005) - 2} y={size / 2 + 12} textAnchor="end">
        0.005
      </text>
    </svg>
  )
}

/** What was matched in a set, by whom and when. */
function Matches({ set, mayTakeBack }: { set: PeerSetDetail; mayTakeBack: boolean }) {
  const takeBack = useSend((id: number) => ask('DELETE', `/peer-matches/${id}`))
  return (
    <Plane title="Matched so far">
      {set.matches.length ? (
        <ul className="looks">
          {set.matches.map((match) => (
            <li key={match.id} className={match.state === 'ended' ? 'quiet' : undefined}>
              <span>
                {match.name} beside {match.besideName}
                {match.state === 'ended' && ', taken back'}
              </span>
              <MatchFigures match={match} />
              <span className="small quiet">
                {formatMoment(match.at)}, {match.by}
              </span>
              {match.aim && match.state === 'in force' && (
                <span className="small">
                  <Link to={`/aims/aims/${match.aim.id}`}>{match.aim.name}</Link>
                </span>
              )}
              {mayTakeBack && match.state === 'in force' && (
                <Popconfirm
                  title={`Take this match of ${match.name} back?`}
                  description="Its slot stays as it is until its next run."
                  okText="Take it back"
                  onConfirm={() => takeBack.mutate(match.id)}
                >
                  <Button size="small" style={{ justifySelf: 'start', marginTop: 4 }}>
                    Take back
                  </Button>
                </Popconfirm>
              )}
            </li>
          ))}
        </ul>
      ) : (
        <p className="none" style={{ padding: '8px 12px 14px' }}>
          No members of this set were matched by eye.
        </p>
      )}
    </Plane>
  )
}

/** An offset by eye in figures. */
export function MatchFigures({ match: { offset, settled, repeats } }: { match: PeerMatch }) {
  return (
    <span className="small second">
      by eye u′ <span className="fig">{formatSigned(offset.u, 4)}</span>, v′{' '}
      <span className="fig">{formatSigned(offset.v, 4)}</span>, scatter{' '}
      <span className="fig">{settled.scatter.toFixed(4)}</span> of {repeats.length}
    </span>
  )
}
