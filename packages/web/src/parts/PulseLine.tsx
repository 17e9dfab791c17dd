import { Link } from 'react-router'
import { stageLabels } from '@bichroma/core/runs'
import { usePulse, useRun } from '../api/queries'
import { formatLeft } from './times'
import type { Pulse } from '@bichroma/contract'

/** The thin line at the bottom: running work, couriers online, what is due. */
export function PulseLine() {
  const pulse = usePulse().data
  return (
    <footer className="pulse">
      {pulse?.running.length ? (
        pulse.running.slice(0, 2).map((run) => <Running key={run.runId} run={run} />)
      ) : (
        <span>No run is going on</span>
      )}
      {pulse && pulse.running.length > 2 && <span>and {pulse.running.length - 2} more</span>}
      {pulse && (
        <span className="right">
          <span>
            Couriers{' '}
            <span className="fig">
              {pulse.couriersOnline} / {pulse.couriers}
            </span>
          </span>
          <span className="due">
            Due today <span className={`fig ${pulse.dueToday ? 'asks' : ''}`}>{pulse.dueToday}</span>
          </span>
          <span>
            Instruments free{' '}
            <span className="fig">
              {pulse.instrumentsFree} / {pulse.instruments}
            </span>
          </span>
        </span>
      )}
    </footer>
  )
}

function Running({ run }: { run: Pulse['running'][number] }) {
  // The run's own query is fed with every reading; the pulse itself only changes with stages.
  const live = useRun(run.runId).data
  const progress = live?.progress ?? { done: run.done, secondsLeft: run.secondsLeft }
  const state = live?.state ?? run.state
  return (
    <Link to={`/runs/${run.runId}`}>
      <span className={state === 'running' ? 'runs' : 'asks'}>{run.label}</span>
      <span>
        {run.displayName}, slot {run.slot} ·{' '}
        {state === 'running'
          ? live
            ? stageLabels[live.stage]
            : run.stage
          : state === 'waiting'
            ? 'waits for you'
            : state}
      </span>
      <span className="bar">
        <i style={{ width: `${Math.round(progress.done * 100)}%` }} />
      </span>
      <span className="fig">{state === 'running' ? formatLeft(progress.secondsLeft) : ''}</span>
    </Link>
  )
}
