import { Button, Table } from 'antd'
import { Link, useNavigate } from 'react-router'
import type { RunSummary } from '@bichroma/contract'
import { useDisplays, useRuns } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { runLabel } from '../parts/runWords'
import { FleetReports } from './FleetReports'
import { ImportReadings } from './ImportReadings'
import { formatMoment } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'

/** Every judgement, newest first, each with the sentence that explains it. */
export function ReviewList() {
  const navigate = useNavigate()
  const names = new Map((useDisplays().data ?? []).map((d) => [d.id, d.name]))
  return (
    <>
      <div className="top">
        <div>
          <h1>Review</h1>
          <p>What runs achieved, newest first</p>
        </div>
        <div className="acts">
          <Link to="/review/profiles">Look into a profile</Link>
          <Button onClick={() => void navigate('/review/compare')}>Compare two</Button>
          <FleetReports />
          <ImportReadings />
        </div>
      </div>
      <Loaded query={useRuns()}>
        {(runs) => {
          const judged = runs.filter((r) => r.judged)
          return (
            <Plane>
              <Table<RunSummary>
                size="small"
                rowKey="id"
                dataSource={judged}
                pagination={judged.length > 18 ? { pageSize: 18, showSizeChanger: false } : false}
                locale={{ emptyText: 'Nothing has been judged yet. Start a run.' }}
                onRow={(run) => ({
                  className: 'goes',
                  tabIndex: 0,
                  onClick: () => void navigate(`/review/${run.id}`),
                  onKeyDown: (e) => e.key === 'Enter' && void navigate(`/review/${run.id}`),
                })}
                columns={[
                  { title: 'Read', render: (_, r) => <span className="fig">{formatMoment(r.judged!.at)}</span> },
                  {
                    title: 'Display',
                    render: (_, r) => <b style={{ fontWeight: 500, whiteSpace: 'nowrap' }}>{names.get(r.displayId)}</b>,
                  },
                  {
                    title: 'Slot',
                    render: (_, r) => (
                      <span style={{ whiteSpace: 'nowrap' }}>
                        <span className="fig">{r.slot}</span> {r.label}
                      </span>
                    ),
                  },
                  {
                    title: 'Run',
                    render: (_, r) => <span style={{ whiteSpace: 'nowrap' }}>{runLabel(r)}</span>,
                  },
                  {
                    title: 'Verdict',
                    render: (_, r) =>
                      r.withdrawn ? (
                        <span className="quiet">withdrawn</span>
                      ) : (
                        <VerdictLabel verdict={r.judged!.verdict} />
                      ),
                  },
                  {
                    title: 'Average',
                    align: 'right',
                    render: (_, r) => <span className="fig">{r.judged!.averageDeltaE.toFixed(2)}</span>,
                  },
                  {
                    title: 'Worst',
                    align: 'right',
                    render: (_, r) => <span className="fig">{r.judged!.worstDeltaE.toFixed(2)}</span>,
                  },
                  {
                    title: 'Why',
                    render: (_, r) => <span className="small second">{r.withdrawn?.reason ?? r.judged!.sentence}</span>,
                  },
                ]}
              />
            </Plane>
          )
        }}
      </Loaded>
    </>
  )
}
