import {
  baselinePatchesOf,
  checkPlans,
  heldStates,
  provePatchesOf,
  runKinds,
  stageLabels,
  type Stage,
} from '@bichroma/core/runs'
import type { RunDetail, StageRecord } from '@bichroma/contract'
import { formatDuration, formatLeft, formatMoment } from '../parts/times'
import { Confirmations, toLookAt } from './Confirmations'

/** What a stage will do, while it has not begun. */
const ahead: Readonly<Record<Stage, (run: RunDetail) => string>> = {
  ready: () => 'Courier, data link, instrument, warmth, host',
  baseline: ({ kind }) => `${baselinePatchesOf(kind).length} readings of the panel, tables bypassed`,
  level: () => 'Brightness to the aim, with headroom for the white',
  shape: ({ kind, sampling }) =>
    kind === 'refresh' ? 'What changed since the last full run' : `Greys in rounds and colours, ${sampling}`,
  load: () => 'Tables to the slot, read back, compared',
  prove: ({ kind, patches }) =>
    patches
      ? `${patches.kind === 'plan' ? checkPlans[patches.name].patches.length : patches.patches.length} patches${patches.kind === 'own' ? ` from ${patches.fileName}` : ''}`
      : `${provePatchesOf(kind).length} patches that shaping did not use`,
  file: ({ kind }) => (runKinds[kind].writes ? 'Profile, report, next due line' : 'Report'),
}

/** The stages in one column, each with its evidence. */
export function Stages({ run }: { run: RunDetail }) {
  const held = heldStates.includes(run.state)
  const open = toLookAt(run)
  return (
    <ol className="sheet" aria-label="Run sheet">
      {runKinds[run.kind].stages.map((stage) => {
        const record = run.stages.find((s) => s.stage === stage)
        const now = run.stage === stage && held
        const broke = run.stage === stage && (run.state === 'failed' || run.state === 'stopped')
        const className = now ? 'now' : broke ? 'broke' : record?.endedAt ? 'done' : 'later'
        return (
          <li key={stage} className={`stage ${className}`} aria-current={now ? 'step' : undefined}>
            <i />
            <h2>
              {stageLabels[stage]}
              <span className="fig">{record ? formatDuration(record.tookMs) : ''}</span>
            </h2>
            {record?.evidence.length ? (
              record.evidence.map((line) => <p key={line}>{line}</p>)
            ) : (
              <p>{ahead[stage](run)}</p>
            )}
            {stage === 'load' && now && run.loading && (
              <p>
                <span className="bar" style={{ width: 120, display: 'inline-block', verticalAlign: 'middle' }}>
                  <i style={{ width: `${run.loading.done * 100}%` }} />
                </span>{' '}
                <span className="fig">{Math.round(run.loading.done * 100)} %</span>,{' '}
                {formatLeft(run.loading.secondsLeft)} at the pace of its link
              </p>
            )}
            {stage === 'ready' && open.length > 0 && <Confirmations runId={run.id} open={open} />}
            {record?.conditions && <Conditions record={record} />}
          </li>
        )
      })}
      <li className="small quiet" style={{ listStyle: 'none', marginTop: 6 }}>
        <span className="bar" style={{ width: '100%' }}>
          <i style={{ width: `${run.progress.done * 100}%` }} />
        </span>
        <span className="fig" data-testid="percent">
          {Math.round(run.progress.done * 100)} %
        </span>{' '}
        of the run. Times at real pace.
      </li>
    </ol>
  )
}

function Conditions({ record }: { record: StageRecord }) {
  return (
    <details>
      <summary className="small">All {record.conditions!.length} conditions</summary>
      <ul>
        {record.conditions!.map((c) => (
          <li key={c.id} className={c.ok ? 'small quiet' : 'small asks'}>
            {typeof c.confirm === 'object' && `Looked at by ${c.confirm.by}, ${formatMoment(c.confirm.at)}: `}
            {c.ok ? '' : c.confirm === 'needed' ? 'To look at: ' : c.advisory ? 'Advice: ' : 'Not met: '}
            {c.label}: {c.found}
          </li>
        ))}
      </ul>
    </details>
  )
}
