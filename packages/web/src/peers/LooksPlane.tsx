import { Link } from 'react-router'
import type { PeerAhead, PeerLook, PeerRunKind, PeerSetDetail } from '@bichroma/contract'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { VerdictSign } from '../parts/VerdictSign'
import { lookWords, nameIn } from './words'

const kindWords: Readonly<Record<PeerRunKind, string>> = { full: 'Full runs', check: 'Checks', baseline: 'Baselines' }

/** Runs of all members together, the newest first, each with its one verdict. */
export function LooksPlane({ set }: { set: PeerSetDetail }) {
  return (
    <Plane title="Runs together" className="sidescrolls">
      {set.ahead && (
        <p className="small second" style={{ padding: '0 12px 6px' }}>
          {aheadWords(set.ahead)}
        </p>
      )}
      {set.looks.length ? (
        <ul className="looks sidescroll">
          {set.looks.map((look) => (
            <li key={look.id}>
              <span>
                {kindWords[look.kind]}{' '}
                <span className={look.state === 'under way' ? 'runs' : look.state === 'judged' ? 'second' : 'asks'}>
                  {look.verdict ? <VerdictSign verdict={look.verdict} size={11} /> : null}{' '}
                  {look.kind === 'baseline' && look.state === 'judged' ? 'read' : lookWords[look.state]}
                  {look.furthest && (
                    <>
                      , <span className="fig">{look.furthest.average.toFixed(2)}</span> ΔE
                    </>
                  )}
                </span>
              </span>
              <span className="small quiet">
                {formatMoment(look.startedAt)}, {look.by}
              </span>
              {look.state !== 'judged' && <Runs look={look} set={set} />}
            </li>
          ))}
        </ul>
      ) : (
        <p className="none" style={{ padding: '8px 12px 14px' }}>
          Its members were never run together.
        </p>
      )}
    </Plane>
  )
}

/** When Rounds reads members of a set next. */
function aheadWords({ from, to, members, instrument }: PeerAhead): string {
  const when =
    formatDay(from) === formatDay(to) ? `on ${formatDay(from)}` : `from ${formatDay(from)} to ${formatDay(to)}`
  return `Rounds reads ${members} ${when}, with ${instrument ?? 'several instruments'}.`
}

function Runs({ look, set }: { look: PeerLook; set: PeerSetDetail }) {
  return (
    <span className="small second">
      {look.runs.map((r, i) => (
        <span key={r.runId}>
          {i > 0 && ', '}
          <Link to={`/runs/${r.runId}`}>{nameIn(set.members, r.displayId)}</Link> {r.state}
        </span>
      ))}
    </span>
  )
}
