import { ThingLedger } from '../ledger/ThingLedger'
import { whereNearest } from './nearestInstrument'
import { beside } from '../parts/beside'
import { Button } from 'antd'
import { Link, useNavigate, useParams } from 'react-router'
import { verdictWords } from '@bichroma/core/aims'
import { operatingSystems, panelKinds } from '@bichroma/core/register'
import { runKinds } from '@bichroma/core/runs'
import { pipelineKinds } from '@bichroma/core/tables'
import { roleCovers, type DisplayDetail, type RunSummary } from '@bichroma/contract'
import { useDisplay, useInstruments, useSession } from '../api/queries'
import { CheckHistory } from '../charts/CheckHistory'
import { AimRing } from '../parts/AimRing'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { runLabel, runPath } from '../parts/runWords'
import { formatAgo, formatDay, formatDueBy, formatDueLine } from '../parts/times'
import { VerdictSign } from '../parts/VerdictSign'
import { AchievedTable } from '../review/AchievedTable'
import { useReview } from '../api/queries'
import { DisplayRolloutPlane } from '../rollout/DisplayRolloutPlane'
import { DisplayCare } from './DisplayCare'
import { DisplayRest } from './DisplayRest'
import { DisplayPlace } from './DisplayPlace'
import { InSets } from './InSets'
import { Rack } from './Rack'
import { ShowName } from './ShowName'

/** One display: what it is, what its slots hold, what was done to it. */
export function DisplayPage() {
  const id = Number(useParams().id)
  return <Loaded query={useDisplay(id)}>{(display) => <DisplayOf display={display} />}</Loaded>
}

function DisplayOf({ display }: { display: DisplayDetail }) {
  const role = useSession().data?.account?.role ?? 'viewer'
  const navigate = useNavigate()
  const active = display.slots.find((s) => s.active)
  const judged = active?.judged ?? null
  const instruments = useInstruments().data
  const fetchFirst = display.live && !display.runId && instruments ? whereNearest(display, instruments) : null
  return (
    <>
      <div className="top whole" style={{ alignItems: 'center', flexWrap: 'nowrap' }}>
        <AimRing aim={judged?.aimWhite ?? null} measured={judged?.white ?? null} verdict={display.verdict} size={60} />
        <div style={{ minWidth: 0 }}>
          <h1>
            {display.name}{' '}
            <span style={{ fontSize: 13, fontWeight: 400 }} className="second">
              <VerdictSign verdict={display.verdict} alone={false} /> {verdictSentence(display)}
            </span>
          </h1>
          <p>
            {display.maker} {display.model} · serial <span className="fig">{display.serial}</span> · firmware{' '}
            <span className="fig">{display.firmware}</span> · {panelKinds[display.panelKind]}
          </p>
          <p>
            {display.kept === 'in use' ? placeLine(display) : awayLine(display)}
            <InSets displayId={display.id} />
          </p>
          {fetchFirst && <p className="asks">{fetchFirst}</p>}
        </div>
        <div className="acts">
          {display.runId ? (
            <Button type="primary" onClick={() => void navigate(`/runs/${display.runId}`)}>
              Open the run
            </Button>
          ) : (
            roleCovers(role, 'technician') &&
            display.kept === 'in use' && (
              <>
                <ShowName id={display.id} name={display.name} live={display.live} />
                <Button
                  disabled={!active?.label}
                  onClick={() =>
                    void navigate(`/runs/new?display=${display.id}&slot=${active?.number ?? 1}&kind=check`)
                  }
                >
                  Start check run
                </Button>
                <Button
                  type="primary"
                  onClick={() => void navigate(`/runs/new?display=${display.id}&slot=${active?.number ?? 1}&kind=full`)}
                >
                  Start full run
                </Button>
              </>
            )
          )}
        </div>
      </div>
      <div className="split" style={beside(326)}>
        <div style={{ display: 'grid', gap: 14 }}>
          <Plane title="Rack" aside={rackCaption(display)}>
            <Rack slots={display.slots} />
          </Plane>
          <Plane
            title={`Slot ${active?.number ?? 1} since it was first written`}
            aside="ΔE2000, average bold, worst thin"
          >
            <CheckHistory
              runs={display.runs.filter((r) => r.slot === active?.number && r.judged && runKinds[r.kind].settles)}
            />
          </Plane>
          {display.kept === 'in use' && <DisplayRolloutPlane id={display.id} title="Profile" />}
        </div>
        <div style={{ display: 'grid', gap: 14 }}>
          {judged && <LastJudged runId={judged.runId} slot={active!.number} at={judged.at} />}
          <PastRuns runs={display.runs} />
          <ThingLedger thing="display" id={display.id} />
          {role === 'administrator' && (
            <>
              <DisplayPlace display={display} />
              {display.kept === 'in use' && <DisplayCare display={display} />}
              {display.kept === 'in use' && <DisplayRest display={display} />}
            </>
          )}
        </div>
      </div>
    </>
  )
}

function verdictSentence(display: DisplayDetail): string {
  const judged = display.slots.find((s) => s.active)?.judged
  if (!judged) return 'never read'
  return `${verdictWords[display.verdict]}, read ${formatAgo(judged.at)}`
}

function awayLine({ kept, keptSince, keptWhy, workstation, room }: DisplayDetail) {
  return (
    <>
      <span className="asks">
        {kept === 'stored' ? 'Stored' : 'Retired'}
        {keptSince !== null && ` since ${formatDay(keptSince)}`}
      </span>
      , stood at {workstation.name}, {room.name}
      {keptWhy && <> · {keptWhy}</>}
    </>
  )
}

function placeLine(display: DisplayDetail) {
  const { room, workstation, rollout } = display
  const placement = rollout?.placement
  return (
    <>
      {room.name}, on workstation <b style={{ fontWeight: 500, color: 'var(--text)' }}>{workstation.name}</b>{' '}
      {`(${operatingSystems[workstation.operatingSystem].label} ${workstation.systemVersion}, courier ${workstation.courierOnline ? 'online' : 'away'})`}{' '}
      ·{' '}
      <Link to={`/rollout?display=${display.id}`}>
        {placement ? `profile ${placement.state}` : 'no profile placed'}
      </Link>{' '}
      · <span className={display.dueState === 'overdue' ? 'asks' : ''}>due line {formatDueLine(display)}</span>{' '}
      {formatDueBy(display)}
    </>
  )
}

function LastJudged({ runId, slot, at }: { runId: number; slot: number; at: number }) {
  const review = useReview(runId)
  return (
    <Plane
      title={`Slot ${slot}, last judged`}
      aside={<Link to={`/review/${runId}`}>{formatDay(at)}, open review</Link>}
    >
      <Loaded query={review}>{(r) => <AchievedTable metrics={r.metrics} judgement={r.judgement} brief />}</Loaded>
    </Plane>
  )
}

function PastRuns({ runs }: { runs: readonly RunSummary[] }) {
  return (
    <Plane title="Runs" aside={String(runs.length)}>
      {runs.length ? (
        <table className="figures">
          <tbody>
            {runs.slice(0, 8).map((run) => (
              <tr key={run.id}>
                <td className="fig quiet">{formatDay(run.startedAt)}</td>
                <td style={{ textAlign: 'left' }}>
                  <Link to={runPath(run)}>{runLabel(run)}</Link>, slot {run.slot}
                  <br />
                  <span className="small quiet">
                    {run.judged
                      ? `${run.judged.averageDeltaE.toFixed(2)} average, worst ${run.judged.worstPatch}`
                      : run.state}
                  </span>
                </td>
                <td>{run.judged && <VerdictSign verdict={run.judged.verdict} />}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="none">Nothing has been done to this display yet.</p>
      )}
    </Plane>
  )
}

/** How many slots there are, and what each holds where that is known. */
function rackCaption({ slots, holds }: DisplayDetail): string {
  const count = slots.length === 1 ? 'one slot' : `${slots.length} slots`
  return holds ? `${count}${slots.length === 1 ? '' : ', each'} for ${pipelineKinds[holds]}` : count
}
