import { Button, Table } from 'antd'
import { useNavigate } from 'react-router'
import { runKinds, type RunState } from '@bichroma/core'
import { roleCovers, type RunSummary } from '@bichroma/contract'
import { useDisplays, useRuns, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'
import { useInterface } from '../theme/useInterface'
import { askToCall, canCall } from '../parts/useCalls'

/** The word for each state of a run. */
export const stateWords: Readonly<Record<RunState, string>> = {
  queued: 'queued',
  running: 'running',
  waiting: 'waits for you',
  interrupted: 'interrupted',
  done: 'done',
  failed: 'failed',
  stopped: 'stopped',
}

/** Every run, newest first. */
export function RunsPage() {
  const navigate = useNavigate()
  const { calls, setCalls } = useInterface()
  const names = new Map((useDisplays().data ?? []).map((d) => [d.id, d.name]))
  const role = useSession().data?.account?.role ?? 'viewer'
  return (
    <>
      <div className="top">
        <div>
          <h1>Runs</h1>
          <p>Work on displays with an instrument, newest first</p>
        </div>
        <div className="acts">
          {canCall() && (
            <Button
              onClick={async () => setCalls(!calls && (await askToCall()))}
              title="A notification of this browser when a run waits for hands"
            >
              {calls ? 'Calls you: on' : 'Calls you: off'}
            </Button>
          )}
          {roleCovers(role, 'technician') && (
            <Button type="primary" onClick={() => void navigate('/runs/new')}>
              Start a run
            </Button>
          )}
        </div>
      </div>
      <Loaded query={useRuns()}>
        {(all) => {
          // What was measured elsewhere was no work of ours; it stands in Review.
          const runs = all.filter((r) => !r.imported)
          return (
            <Plane>
              <Table<RunSummary>
                size="small"
                rowKey="id"
                dataSource={runs}
                pagination={runs.length > 18 ? { pageSize: 18, showSizeChanger: false } : false}
                locale={{ emptyText: 'No run has been made yet.' }}
                onRow={(run) => ({
                  className: 'goes',
                  tabIndex: 0,
                  onClick: () => void navigate(`/runs/${run.id}`),
                  onKeyDown: (e) => e.key === 'Enter' && void navigate(`/runs/${run.id}`),
                })}
                columns={[
                  { title: 'Started', render: (_, r) => <span className="fig">{formatMoment(r.startedAt)}</span> },
                  { title: 'Run', render: (_, r) => runKinds[r.kind].label },
                  { title: 'Display', render: (_, r) => <b style={{ fontWeight: 500 }}>{names.get(r.displayId)}</b> },
                  {
                    title: 'Slot',
                    render: (_, r) => (
                      <>
                        <span className="fig">{r.slot}</span> {r.label}
                      </>
                    ),
                  },
                  {
                    title: 'State',
                    render: (_, r) => (
                      <span
                        className={
                          r.state === 'running'
                            ? 'runs'
                            : r.state === 'waiting' || r.state === 'interrupted'
                              ? 'asks'
                              : 'second'
                        }
                      >
                        {stateWords[r.state]}
                        {r.state === 'queued' && r.message && <div className="small quiet">{r.message}</div>}
                      </span>
                    ),
                  },
                  { title: 'Verdict', render: (_, r) => r.judged && <VerdictLabel verdict={r.judged.verdict} /> },
                  {
                    title: 'Average',
                    align: 'right',
                    render: (_, r) => r.judged && <span className="fig">{r.judged.averageDeltaE.toFixed(2)}</span>,
                  },
                  {
                    title: 'Worst ΔE',
                    align: 'right',
                    render: (_, r) => r.judged && <span className="fig">{r.judged.worstDeltaE.toFixed(2)}</span>,
                  },
                  { title: 'Readings', align: 'right', render: (_, r) => <span className="fig">{r.readings}</span> },
                  { title: 'By', render: (_, r) => <span className="second">{r.startedBy}</span> },
                ]}
              />
            </Plane>
          )
        }}
      </Loaded>
    </>
  )
}
