import { Button } from 'antd'
import { useNavigate } from 'react-router'
import { runKindNames, runKinds, runStates, type RunState } from '@bichroma/core/runs'
import { roleCovers, type RunSummary } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useSession } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel, verdictWidth } from '../parts/VerdictSign'
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
  const [asked, askFor] = useAddress(['search', 'room', 'kind', 'state'])
  // What was measured elsewhere was no work of ours; it stands in Review.
  const list = useList<RunSummary>('/runs', { of: 'work', ...asked })
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
      <Plane title="Newest first" aside={countWords(list)}>
        <ListTools
          label="Find runs"
          by="display, model, room or workstation"
          asked={asked}
          onAsk={askFor}
          filters={[
            {
              name: 'kind',
              label: 'Kind',
              all: 'every kind',
              options: runKindNames.map((value) => ({ value, label: runKinds[value].label })),
            },
            {
              name: 'state',
              label: 'State',
              all: 'every state',
              options: runStates.map((value) => ({ value, label: stateWords[value] })),
            },
          ]}
        />
        <LongTable
          label="Runs"
          list={list}
          keyOf={(r) => r.id}
          rowHeight={29}
          onOpen={(r) => void navigate(`/runs/${r.id}`)}
          none={Object.values(asked).some(Boolean) ? 'No run fits.' : 'No run has been made yet.'}
          columns={[
            { title: 'Started', width: 128, show: (r) => <span className="fig">{formatMoment(r.startedAt)}</span> },
            { title: 'Run', width: 118, show: (r) => runKinds[r.kind].label },
            { title: 'Display', show: (r) => <b style={{ fontWeight: 500 }}>{r.displayName}</b> },
            {
              title: 'Slot',
              show: (r) => (
                <>
                  <span className="fig">{r.slot}</span> {r.label}
                </>
              ),
            },
            {
              title: 'State',
              width: 112,
              show: (r) => (
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
            {
              title: 'Verdict',
              width: verdictWidth,
              show: (r) => r.judged && <VerdictLabel verdict={r.judged.verdict} />,
            },
            {
              title: 'Average',
              width: 78,
              right: true,
              show: (r) => r.judged && <span className="fig">{r.judged.averageDeltaE.toFixed(2)}</span>,
            },
            {
              title: 'Worst ΔE',
              width: 88,
              right: true,
              show: (r) => r.judged && <span className="fig">{r.judged.worstDeltaE.toFixed(2)}</span>,
            },
            { title: 'Readings', width: 88, right: true, show: (r) => <span className="fig">{r.readings}</span> },
            { title: 'By', show: (r) => <span className="second">{r.startedBy}</span> },
          ]}
        />
      </Plane>
    </>
  )
}
