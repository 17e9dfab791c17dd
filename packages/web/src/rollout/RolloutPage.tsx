import { Button, Checkbox } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { operatingSystems } from '@bichroma/core/register'
import {
  roleCovers,
  rolloutStandings,
  type Mend,
  type RolloutRow,
  type RolloutStanding,
  type RolloutSummary,
} from '@bichroma/contract'
import { useList } from '../api/lists'
import { useRolloutSummary, useSession } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { Loaded } from '../parts/Loaded'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { ReadBackByHand } from './ByHand'
import { DisplayRolloutPlane } from './DisplayRolloutPlane'
import { WavesPlane } from './WavesPlane'
import { mendOrder, mendWords, nameOfPath, stateTone } from './words'
import './rollout.css'

/** Whether every workstation shows what it should, and what mends what does not. */
export function RolloutPage() {
  const [byHand, setByHand] = useState(false)
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set())
  const role = useSession().data?.account?.role ?? 'viewer'
  const admin = role === 'administrator'
  const technician = roleCovers(role, 'technician')
  const navigate = useNavigate()
  const summary = useRolloutSummary()
  return (
    <>
      <div className="top">
        <div>
          <h1>Does every workstation show what it should?</h1>
          <p>{summary.data ? answer(summary.data) : ' '}</p>
        </div>
        <div className="acts">
          <Button onClick={() => void navigate('/rollout/policies')}>Policies</Button>
          {technician && <Button onClick={() => setByHand(true)}>Read back by hand…</Button>}
          {byHand && <ReadBackByHand onClose={() => setByHand(false)} />}
          {admin && (
            <Button
              type="primary"
              onClick={() =>
                void navigate(
                  marked.size
                    ? `/rollout/waves/new?displays=${[...marked].join('.')}`
                    : '/rollout/waves/new?differs=yes',
                )
              }
            >
              {marked.size === 0
                ? 'Prepare a wave'
                : marked.size === 1
                  ? 'Prepare a wave for one display'
                  : `Prepare a wave for ${marked.size} displays`}
            </Button>
          )}
        </div>
      </div>
      <Loaded query={summary}>
        {(s) => <RolloutOf summary={s} marked={marked} setMarked={setMarked} mayMark={admin} />}
      </Loaded>
    </>
  )
}

function answer({ displays, asWanted, mends, noProfile, waves }: RolloutSummary): string {
  if (displays === 0) return 'No display is in the register yet.'
  const differ = displays - asWanted - noProfile
  const parts = [
    differ === 0
      ? noProfile === 0
        ? `Yes: all ${displays} displays have in force what is wanted.`
        : `Yes, as far as there are profiles: ${asWanted} of ${displays} displays have in force what is wanted.`
      : `Not yet: ${differ === 1 ? 'one of ' : `${differ} of `}${displays} displays ${differ === 1 ? 'differs' : 'differ'} from what is wanted.`,
    mends.decision && `${mends.decision === 1 ? 'One waits' : `${mends.decision} wait`} for a decision.`,
    noProfile > 0 && `${noProfile === 1 ? 'One has' : `${noProfile} have`} no profile for the slot on show.`,
    waves.length > 0 && `${waves.length === 1 ? 'One wave is' : `${waves.length} waves are`} under way.`,
  ]
  return parts.filter(Boolean).join(' ')
}

const standingWords: Readonly<Record<RolloutStanding, string>> = {
  differs: 'differs from what is wanted',
  astray: 'overridden, missing or out of step',
  none: 'none placed',
  queued: 'queued',
  placed: 'placed',
  waiting: 'waiting',
  'in force': 'in force',
  'out of step': 'out of step',
  overridden: 'overridden',
  missing: 'missing',
}

function RolloutOf({
  summary,
  marked,
  setMarked,
  mayMark,
}: {
  summary: RolloutSummary
  marked: ReadonlySet<number>
  setMarked: (marked: ReadonlySet<number>) => void
  mayMark: boolean
}) {
  const [address, askFor] = useAddress(['search', 'room', 'standing', 'mend', 'sort', 'display'])
  const { display, ...asked } = address
  const list = useList<RolloutRow>('/rollout', asked)
  const chosenId = /^[1-9][0-9]{0,9}$/.test(display) ? Number(display) : (list.items[0]?.displayId ?? null)
  const mark = (id: number) => {
    const next = new Set(marked)
    if (!next.delete(id)) next.add(id)
    setMarked(next)
  }
  return (
    <div className="rollout">
      <Mends summary={summary} asked={asked} onAsk={askFor} />
      <Plane title="Displays" aside={marked.size ? `${marked.size} marked of ${countWords(list)}` : countWords(list)}>
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
          onMark={mayMark ? (r) => mark(r.displayId) : undefined}
          chosen={(r) => r.displayId === chosenId}
          none={
            asked.search || asked.room || asked.standing || asked.mend
              ? 'No display fits.'
              : 'No display is in the register yet.'
          }
          columns={[
            ...(mayMark
              ? [
                  {
                    title: '',
                    width: 42,
                    show: (r: RolloutRow) => (
                      <Checkbox
                        tabIndex={-1}
                        aria-label={`Mark ${r.displayName}`}
                        checked={marked.has(r.displayId)}
                        onClick={(e) => e.stopPropagation()}
                        onChange={() => mark(r.displayId)}
                      />
                    ),
                  },
                ]
              : []),
            {
              title: 'Display',
              sort: 'name',
              show: (r) => (
                <>
                  <b style={{ fontWeight: 500 }}>{r.displayName}</b>
                  <br />
                  <span className="small quiet">
                    {r.workstationName}, {operatingSystems[r.operatingSystem].label}
                    {!r.courierOnline && ', courier away'}
                  </span>
                </>
              ),
            },
            { title: 'Wanted', width: '22%', show: (r) => <Wanted row={r} /> },
            { title: 'Found', sort: 'newest', width: '25%', show: (r) => <Found row={r} /> },
            {
              title: 'State',
              width: 148,
              show: (r) => (
                <>
                  {r.placement ? (
                    <span className={stateTone[r.placement.state]}>{r.placement.state}</span>
                  ) : (
                    <span className="quiet">none placed</span>
                  )}
                  {r.mend && (
                    <>
                      <br />
                      <span className="small quiet">waits for {mendWords[r.mend].title}</span>
                    </>
                  )}
                </>
              ),
            },
          ]}
        />
      </Plane>
      <div className="side">
        {chosenId !== null && <DisplayRolloutPlane id={chosenId} />}
        <WavesPlane />
      </div>
    </div>
  )
}

/** What mends the differences, each with how many; chosen, it filters. */
function Mends({
  summary,
  asked,
  onAsk,
}: {
  summary: RolloutSummary
  asked: Readonly<Record<'mend' | 'standing', string>>
  onAsk: (change: { mend?: string; standing?: string }) => void
}) {
  const { mends, asWanted, displays } = summary
  const rows: { key: string; mend?: Mend; standing?: string; title: string; count: number; explains: string }[] = [
    { key: 'all', title: 'all displays', count: displays, explains: 'Whatever their state.' },
    ...mendOrder
      .filter((m) => (mends[m] ?? 0) > 0 && m !== 'run')
      .map((mend) => ({
        key: mend,
        mend,
        title: mendWords[mend].title,
        count: mends[mend]!,
        explains: mendWords[mend].explains,
      })),
    ...(summary.noProfile
      ? [
          {
            key: 'run',
            mend: 'run' as const,
            title: mendWords.run.title,
            count: summary.noProfile,
            explains: mendWords.run.explains,
          },
        ]
      : []),
    { key: 'wanted', standing: 'in force', title: 'nothing: in force', count: asWanted, explains: 'As wanted.' },
  ]
  const now = asked.mend || (asked.standing === 'in force' ? 'wanted' : asked.standing ? '' : 'all')
  return (
    <Plane title="What mends it">
      <ul className="mends">
        {rows.map(({ key, mend, standing, title, count, explains }) => (
          <li key={key}>
            <button
              type="button"
              aria-pressed={now === key}
              title={explains}
              onClick={() => onAsk({ mend: mend ?? '', standing: standing ?? '' })}
            >
              <span>{title}</span>
              <span className="fig">{count}</span>
            </button>
          </li>
        ))}
      </ul>
    </Plane>
  )
}

function Wanted({ row: { wanted } }: { row: RolloutRow }) {
  if (!wanted) return <span className="quiet">–</span>
  if (wanted.kind === 'none') return <span className="quiet">none of ours</span>
  if (wanted.kind === 'no profile') return <span className="quiet">slot {wanted.slot}, which has none yet</span>
  return (
    <>
      {wanted.description}
      <br />
      <span className="small quiet">of {formatDay(wanted.filedAt!)}</span>
    </>
  )
}

function Found({ row: { found, wanted } }: { row: RolloutRow }) {
  if (!found) return <span className="quiet">never read back</span>
  if (found.path === null) return <span className={wanted?.kind === 'profile' ? '' : 'quiet'}>nothing bound</span>
  return (
    <>
      {found.hash !== null && found.hash === wanted?.profileHash ? (
        <>
          as wanted
          <br />
        </>
      ) : (
        <span className="oneline" title={found.path}>
          {nameOfPath(found.path)}
        </span>
      )}
      <span className="small quiet">
        {found.ours
          ? found.hash === wanted?.profileHash
            ? ''
            : 'ours, '
          : found.by
            ? `by ${found.by}, `
            : 'another’s, '}
        since {formatDay(found.since)}
      </span>
    </>
  )
}
