import dayjs from 'dayjs'
import { Segmented } from 'antd'
import { Link } from 'react-router'
import type { DueState } from '@bichroma/core/rounds'
import { roleCovers, type DisplayListing } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useFloor, useSession } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { Loaded } from '../parts/Loaded'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatAgo, formatDay, formatDueBy, formatDueLine } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel, verdictWidth } from '../parts/VerdictSign'
import { AcceptedChance } from './AcceptedChance'
import { InstrumentsDuePlane } from './InstrumentsDuePlane'
import { DueScale, DueStrip } from './DueStrip'
import { QueueChecks } from './QueueChecks'
import { RoundsTop } from './RoundsTop'

const shown: readonly { value: DueState | ''; label: string }[] = [
  { value: '', label: 'all' },
  { value: 'overdue', label: 'overdue' },
  { value: 'this week', label: 'this week' },
  { value: 'rests', label: 'at rest' },
]

/** When displays fall due: what is overdue, what this week brings, and every due line on one scale. */
export function RoundsPage() {
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'technician')
  const [asked, askFor] = useAddress(['search', 'room', 'due'])
  const list = useList<DisplayListing>('/displays', { ...asked, sort: 'due' })
  const overdue = list.items.filter((d) => d.dueState === 'overdue')
  return (
    <>
      <RoundsTop
        title={
          <Loaded query={useFloor()}>
            {({ overdue: late, dueThisWeek }) => (
              <h1>
                {late
                  ? `${late.toLocaleString('en')} ${late === 1 ? 'display is' : 'displays are'} overdue`
                  : 'Nothing is overdue'}
                , {dueThisWeek.toLocaleString('en')} more due this week
              </h1>
            )}
          </Loaded>
        }
        more={
          <>
            Until {dayjs().add(7, 'day').format('dddd D MMMM')}. A display falls due by its own calendar, or sooner,
            when the chance that it has left its limits exceeds <AcceptedChance />.
          </>
        }
      >
        {may && <QueueChecks displays={overdue} />}
      </RoundsTop>
      <InstrumentsDuePlane />
      <Plane title="Due lines, the latest first" aside={countWords(list)}>
        <ListTools label="Find a display" by="name, model, room or workstation" asked={asked} onAsk={askFor}>
          <Segmented
            aria-label="Which"
            value={asked.due as DueState | ''}
            onChange={(due) => askFor({ due })}
            options={[...shown]}
          />
        </ListTools>
        <LongTable
          label="Due lines"
          list={list}
          keyOf={(d) => d.id}
          rowHeight={45}
          none={asked.search || asked.room ? 'No display fits.' : 'Nothing falls due.'}
          columns={[
            {
              title: 'Display',
              width: '19%',
              show: (d) => (
                <>
                  <Link to={`/register/${d.id}`} style={{ fontWeight: 500 }}>
                    {d.name}
                  </Link>
                  <br />
                  <span className="small quiet">{d.room}</span>
                </>
              ),
            },
            {
              title: 'Last judged',
              width: 112,
              show: (d) =>
                d.judged ? (
                  <>
                    {formatDay(d.judged.at)}
                    <br />
                    <span className="small quiet">{formatAgo(d.judged.at)}</span>
                  </>
                ) : (
                  <span className="quiet">never</span>
                ),
            },
            { title: 'Verdict', width: verdictWidth, show: (d) => <VerdictLabel verdict={d.verdict} /> },
            { title: <DueScale />, show: (d) => <DueStrip display={d} /> },
            {
              title: 'Due line',
              width: 194,
              show: (d) => (
                <>
                  <span className={d.dueState === 'overdue' ? 'asks' : ''}>{formatDueLine(d)}</span>
                  <br />
                  <span className="small quiet">{formatDueBy(d)}</span>
                </>
              ),
            },
            {
              title: '',
              width: 138,
              right: true,
              show: (d) =>
                d.runId ? (
                  <Link to={`/runs/${d.runId}`} className="runs">
                    in a run
                  </Link>
                ) : (
                  may &&
                  !d.rests && (
                    <Link
                      className="act"
                      to={`/runs/new?display=${d.id}&kind=${d.label ? 'check' : 'full'}&slot=${d.slot}`}
                    >
                      Start {d.label ? 'check' : 'full'} run
                    </Link>
                  )
                ),
            },
          ]}
        />
      </Plane>
    </>
  )
}
