import { Alert, Button, Popconfirm } from 'antd'
import { Link, useNavigate, useParams } from 'react-router'
import { whiteChromaticity, describeAim } from '@bichroma/core/aims'
import { convertXyzToChromaticity } from '@bichroma/core/color'
import { heldStates, runKinds } from '@bichroma/core/runs'
import { roleCovers, type RunDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useRun, useSend, useSession } from '../api/queries'
import { AimRing } from '../parts/AimRing'
import { LayBack } from '../parts/LightNotice'
import { Loaded } from '../parts/Loaded'
import { formatLeft } from '../parts/times'
import { toLookAt } from './Confirmations'
import { asksHands, HandsNow } from './HandsNow'
import { LevelGauge } from './LevelGauge'
import { LivePatch } from './LivePatch'
import { ReadingsLog } from './ReadingsLog'
import { PlacesNow } from './PlacesNow'
import { ResidualChart } from './ResidualChart'
import { Stages } from './Stages'
import { WarmUpChart } from './WarmUpChart'
import { WhiteTarget } from './WhiteTarget'
import { stateWords } from './RunsPage'
import '../parts/sheet.css'
import './runs.css'

/** One run: its stages with their evidence, and what happens now beside them. */
export function RunSheet() {
  const id = Number(useParams().id)
  return <Loaded query={useRun(id)}>{(run) => <RunSheetOf run={run} />}</Loaded>
}

function RunSheetOf({ run }: { run: RunDetail }) {
  const aimWhite = run.resolvedAim
    ? convertXyzToChromaticity(run.resolvedAim.white)
    : run.aim.white.kind === 'panel'
      ? null
      : whiteChromaticity(run.aim.white, { x: 0, y: 0 })
  const hands = asksHands(run)
  const lastWhite = [...run.log].reverse().find(({ role }) => role === 'white')
  return (
    <div className="sheetpage">
      <header>
        <AimRing
          aim={aimWhite}
          measured={lastWhite ? convertXyzToChromaticity(lastWhite.xyz) : null}
          verdict={run.judged?.verdict ?? (lastWhite ? 'within' : 'unproven')}
          size={44}
        />
        <div style={{ minWidth: 0 }}>
          <h1>
            {runKinds[run.kind].label},{' '}
            <Link to={`/register/${run.displayId}`} style={{ textDecoration: 'none' }}>
              {run.displayName}
            </Link>
            , slot {run.slot}
          </h1>
          <p className="second">
            Aim <b style={{ fontWeight: 500, color: 'var(--text)' }}>{run.label}</b>: {describeAim(run.aim)} ·{' '}
            {run.instrument} · {run.startedBy}
          </p>
        </div>
        <RunActs run={run} />
      </header>
      {run.message && !hands && (
        <Alert
          className="wholerow"
          type={run.state === 'stopped' || run.state === 'done' ? 'info' : 'warning'}
          title={run.message}
          role="alert"
        />
      )}
      {run.endedAt !== null && <LayBack instrument={run.instrument} />}
      <Stages run={run} />
      {hands && run.stage === 'ready' ? (
        <HandsNow run={run}>
          {run.stages.some((s) => s.stage === 'ready' && s.warmUp?.length) && <NowChart run={run} />}
        </HandsNow>
      ) : (
        <>
          <div className="live">
            {hands ? (
              <HandsNow run={run} />
            ) : (
              <div className="pair">
                <LivePatch run={run} />
                <WhiteTarget run={run} aimWhite={aimWhite} />
              </div>
            )}
            <NowChart run={run} />
          </div>
          <ReadingsLog log={run.log} />
        </>
      )}
    </div>
  )
}

/** What people watch now: the warmth while it is waited for, the gauge while hands turn, else the residual falling. */
function NowChart({ run }: { run: RunDetail }) {
  const { warmUp, gauge } = run.stages.find((s) => s.stage === run.stage) ?? {}
  const going = heldStates.includes(run.state)
  if (run.kind === 'uniformity' && run.stage !== 'ready') return <PlacesNow run={run} />
  if (going && run.stage === 'ready' && warmUp?.length) return <WarmUpChart warmUp={warmUp} />
  if (going && run.stage === 'level' && gauge) return <LevelGauge gauge={gauge} display={run.displayName} />
  return <ResidualChart run={run} />
}

function RunActs({ run }: { run: RunDetail }) {
  const navigate = useNavigate()
  const role = useSession().data?.account?.role ?? 'viewer'
  const stop = useSend((letGo: boolean) => ask('POST', `/runs/${run.id}/stop`, { letGo }))
  const resume = useSend(() => ask('POST', `/runs/${run.id}/resume`))
  const putBack = useSend(() => ask('POST', `/runs/${run.id}/put-back`))
  const held = heldStates.includes(run.state)
  const { restoring } = run
  const may = roleCovers(role, 'technician')
  return (
    <div className="acts">
      {run.state === 'running' && (
        <span className="second" data-testid="time-left">
          <span className="fig">{formatLeft(run.progress.secondsLeft)}</span> left, from{' '}
          <span className="fig">{run.progress.basis}</span> readings so far
        </span>
      )}
      {run.state !== 'running' && <span className={held ? 'asks' : 'second'}>{stateWords[run.state]}</span>}
      {may && !toLookAt(run).length && (run.state === 'waiting' || (run.state === 'interrupted' && !restoring)) && (
        <Button type="primary" onClick={() => resume.mutate(undefined)} loading={resume.isPending}>
          {run.state === 'waiting' ? 'Go on' : 'Resume run'}
        </Button>
      )}
      {may && held && (!restoring || run.state === 'interrupted') && (
        <Popconfirm
          title="Stop this run?"
          description={
            runKinds[run.kind].writes
              ? 'Its readings are kept; the slot is put back as it was.'
              : 'Its readings are kept; the display is put back as it was.'
          }
          okText="Stop and put back"
          cancelText="Let it run"
          onConfirm={() => stop.mutate(false)}
        >
          <Button>Stop and put back</Button>
        </Popconfirm>
      )}
      {may && run.state === 'waiting' && restoring && (
        <Popconfirm
          title="Let go of this display?"
          description="Its slot stays as it is, and nobody knows in which state."
          okText="Let go"
          cancelText="Wait for it"
          onConfirm={() => stop.mutate(true)}
        >
          <Button>Let go without putting back</Button>
        </Popconfirm>
      )}
      {run.state === 'queued' && may && (
        <Button loading={stop.isPending} onClick={() => stop.mutate(false)}>
          Take out of the queue
        </Button>
      )}
      {run.state === 'done' && may && runKinds[run.kind].writes && !run.takenBack && (
        <Popconfirm
          title={`Take slot ${run.slot} back?`}
          description={`It will hold ${run.overwrote ? `“${run.overwrote}”` : 'nothing'} again, as before this run.`}
          okText="Put it back"
          cancelText="Leave it"
          onConfirm={() => putBack.mutate(undefined)}
        >
          <Button loading={putBack.isPending}>Put back what it overwrote</Button>
        </Popconfirm>
      )}
      {run.state === 'done' && run.kind !== 'uniformity' && (
        <Button type="primary" onClick={() => void navigate(`/review/${run.id}`)}>
          Open review
        </Button>
      )}
      {(run.state === 'failed' || run.state === 'stopped') && may && (
        <Button
          type="primary"
          onClick={() => void navigate(`/runs/new?display=${run.displayId}&slot=${run.slot}&kind=${run.kind}`)}
        >
          Start again
        </Button>
      )}
    </div>
  )
}
