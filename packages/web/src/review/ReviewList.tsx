import { Button } from 'antd'
import { useNavigate } from 'react-router'
import { judgedVerdicts, verdictWords } from '@bichroma/core/aims'
import type { RunSummary } from '@bichroma/contract'
import { useList } from '../api/lists'
import { ListTools } from '../parts/ListTools'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { runLabel } from '../parts/runWords'
import { FleetReports } from './FleetReports'
import { ImportReadings } from './ImportReadings'
import { formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel, verdictWidth } from '../parts/VerdictSign'

/** Every judgement, newest first, each with the sentence that explains it. */
export function ReviewList() {
  const navigate = useNavigate()
  const [asked, askFor] = useAddress(['search', 'room', 'verdict'])
  const list = useList<RunSummary>('/runs', { of: 'judged', ...asked })
  return (
    <>
      <div className="top">
        <div>
          <h1>Review</h1>
          <p>What runs achieved, newest first</p>
        </div>
        <div className="acts">
          <Button onClick={() => void navigate('/review/profiles')}>Look into a profile</Button>
          <Button onClick={() => void navigate('/review/compare')}>Compare two</Button>
          <FleetReports />
          <ImportReadings />
        </div>
      </div>
      <Plane title="Newest first" aside={countWords(list)}>
        <ListTools
          label="Find validations"
          by="display, model, room or workstation"
          asked={asked}
          onAsk={askFor}
          filters={[
            {
              name: 'verdict',
              label: 'Verdict',
              all: 'every verdict',
              options: judgedVerdicts.map((value) => ({ value, label: verdictWords[value] })),
            },
          ]}
        />
        <LongTable
          label="Validations"
          list={list}
          keyOf={(r) => r.id}
          rowHeight={41}
          onOpen={(r) => void navigate(`/review/${r.id}`)}
          none={
            Object.values(asked).some(Boolean) ? 'No validation fits.' : 'Nothing has been judged yet. Start a run.'
          }
          columns={[
            { title: 'Read', width: 128, show: (r) => <span className="fig">{formatMoment(r.judged!.at)}</span> },
            {
              title: 'Display',
              width: 108,
              show: (r) => <b style={{ fontWeight: 500, whiteSpace: 'nowrap' }}>{r.displayName}</b>,
            },
            {
              title: 'Slot',
              width: 136,
              show: (r) => (
                <span style={{ whiteSpace: 'nowrap' }}>
                  <span className="fig">{r.slot}</span> {r.label}
                </span>
              ),
            },
            {
              title: 'Run',
              width: 118,
              show: (r) => <span style={{ whiteSpace: 'nowrap' }}>{runLabel(r)}</span>,
            },
            {
              title: 'Verdict',
              width: verdictWidth,
              show: (r) =>
                r.withdrawn ? <span className="quiet">withdrawn</span> : <VerdictLabel verdict={r.judged!.verdict} />,
            },
            {
              title: 'Average',
              width: 78,
              right: true,
              show: (r) => <span className="fig">{r.judged!.averageDeltaE.toFixed(2)}</span>,
            },
            {
              title: 'Worst',
              width: 70,
              right: true,
              show: (r) => <span className="fig">{r.judged!.worstDeltaE.toFixed(2)}</span>,
            },
            {
              title: 'Why',
              width: '34%',
              show: (r) => <span className="small second">{r.withdrawn?.reason ?? r.judged!.sentence}</span>,
            },
          ]}
        />
      </Plane>
    </>
  )
}
