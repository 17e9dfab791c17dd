import { Button, Select } from 'antd'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { clockIn, dayWords, daysAfter } from '@bichroma/core/rounds'
import { stageLabels, type Stage } from '@bichroma/core/runs'
import { roleCovers, type Tour, type Visit } from '@bichroma/contract'
import { usePulse, useSession, useTour } from '../api/queries'
import { AimRing } from '../parts/AimRing'
import { LightNotice } from '../parts/LightNotice'
import { Loaded } from '../parts/Loaded'
import { formatLeft } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel } from '../parts/VerdictSign'
import { NotPossible } from './NotPossible'
import { RoundsNav } from './RoundsNav'
import { useTapped } from './useTapped'
import { useTourNotices } from './useTourNotices'
import { doesWords } from './words'
import './tour.css'

/** One person's tour: one desk at a time, what to bring, what goes on where, and what comes next. */
export function TourPage() {
  const [asked, askFor] = useAddress(['person', 'date'])
  const query = useTour(asked.person, asked.date)
  return <Loaded query={query}>{(tour) => <TourView tour={tour} askFor={askFor} />}</Loaded>
}

/** Wall time between two tries to send what was tapped, ms. */
const againMs = 4000

function TourView({ tour, askFor }: { tour: Tour; askFor: (change: { person?: string; date?: string }) => void }) {
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'technician')
  const client = useQueryClient()
  const { waiting, refused, tap, send, read } = useTapped()
  const [looked, look] = useState<number | null>(null)
  const notices = useTourNotices(tour)
  useEffect(() => {
    if (!waiting.length) return
    let gone = false
    const go = () =>
      void send().then(() => {
        if (!gone) void client.invalidateQueries({ queryKey: ['rounds'] })
      })
    go()
    const timer = setInterval(go, againMs)
    window.addEventListener('online', go)
    return () => {
      gone = true
      clearInterval(timer)
      window.removeEventListener('online', go)
    }
  }, [waiting.length, send, client])

  const isTapped = (v: Visit) => waiting.find((t) => t.visitId === v.id)
  const ahead = tour.visits.filter((v) => v.state === 'planned')
  const going = tour.visits.filter((v) => v.state === 'begun')
  const over = tour.visits.filter((v) => v.state === 'done' || v.state === 'blocked' || v.state === 'missed')
  const current = ahead.find((v) => v.id === looked) ?? ahead.find((v) => !isTapped(v)) ?? ahead[0]
  const place = current ? ahead.indexOf(current) : -1
  return (
    <div className="tour">
      <div className="tourhead">
        <div>
          <h1>{dayWords(tour.date)}</h1>
          <p className="second">
            {tour.visits.length
              ? `${over.length} of ${tour.visits.length} done`
              : tour.people.some((p) => p.id === tour.person.id)
                ? 'Nothing is planned.'
                : 'You go to no displays yourself.'}
          </p>
          <p className="small">
            <RoundsNav />
          </p>
        </div>
        <div className="tourwho">
          <Select
            aria-label="Whose tour"
            value={tour.person.id}
            onChange={(id) => askFor({ person: String(id) })}
            options={[
              ...(tour.people.some((p) => p.id === tour.person.id)
                ? []
                : [{ value: tour.person.id, label: tour.person.name }]),
              ...tour.people.map((p) => ({ value: p.id, label: p.name })),
            ]}
          />
          <span>
            <Button aria-label="The day before" onClick={() => askFor({ date: daysAfter(tour.date, -1) })}>
              ←
            </Button>{' '}
            <Button aria-label="The day after" onClick={() => askFor({ date: daysAfter(tour.date, 1) })}>
              →
            </Button>
          </span>
        </div>
      </div>

      {waiting.length > 0 && (
        <p className="tournote asks" role="status">
          {waiting.length === 1 ? 'One tap waits' : `${waiting.length} taps wait`} for the server. It is sent as soon as
          it answers.
        </p>
      )}
      {refused.map((r) => (
        <p key={`${r.visitId} ${r.sentence}`} className="tournote asks" role="alert">
          {tour.visits.find((v) => v.id === r.visitId)?.display.name ?? 'A visit'}: {r.sentence}{' '}
          <Button size="small" onClick={read}>
            Read
          </Button>
        </p>
      ))}

      <Going visits={going} />

      {current ? (
        <section className="desk" aria-label="This desk">
          <p className="second">
            {clockIn(current.at!, tour.zone)}–{clockIn(current.endsAt!, tour.zone)}
            <span className="quiet">
              {' '}
              · {place + 1} of {ahead.length}
            </span>
          </p>
          <AimRing
            aim={current.display.aimWhite}
            measured={current.display.white}
            verdict={current.display.verdict}
            size={148}
          />
          <h2>{current.display.name}</h2>
          <p className="large">
            {current.display.room}, {current.display.workstation}
          </p>
          <dl className="visitfacts bring">
            <dt>Bring</dt>
            <dd>{tour.instruments.find((i) => i.id === current.instrumentId)?.name ?? 'nothing'}</dd>
            <dt>Do</dt>
            <dd>
              Seat it, then start the {doesWords(current)}
              {current.label ? ` of ${current.label}` : ''}. {current.attended ? 'Stay with it.' : 'It runs alone.'}
            </dd>
          </dl>
          {current.wokenAt !== null && (
            <p className="second">Woken at {clockIn(current.wokenAt, tour.zone)}, so that it is warm.</p>
          )}
          <LightNotice roomId={current.display.roomId} />
          {current.reason && (
            <p className="asks" role="alert">
              {current.reason}
            </p>
          )}
          {may && (
            <div className="tap">
              <Button
                type="primary"
                size="large"
                block
                disabled={isTapped(current) !== undefined}
                onClick={() => tap({ visitId: current.id, does: 'begin' })}
              >
                {isTapped(current)?.does === 'begin' ? 'Is being started' : `Start ${doesWords(current)}`}
              </Button>
              <NotPossible
                key={current.id}
                disabled={isTapped(current) !== undefined}
                onSaid={(why) => tap({ visitId: current.id, does: 'block', why })}
              />
            </div>
          )}
          <div className="tap pair">
            <Button size="large" disabled={place <= 0} onClick={() => look(ahead[place - 1].id)}>
              ← The desk before
            </Button>
            <Button size="large" disabled={place >= ahead.length - 1} onClick={() => look(ahead[place + 1].id)}>
              The next desk →
            </Button>
          </div>
        </section>
      ) : (
        <p className="none">
          {going.length
            ? 'No other desk is left; what goes on is above.'
            : over.length
              ? 'The tour is done.'
              : 'There is nobody to go to.'}
        </p>
      )}
      {notices.may === 'default' && (
        <p className="tournote">
          <Button size="small" onClick={notices.ask}>
            Tell me of changes
          </Button>{' '}
          <span className="small quiet">while this page is out of sight</span>
        </p>
      )}
      {over.length > 0 && (
        <section aria-label="Done">
          {over.map((v) => (
            <p key={v.id} className="over">
              <span>{v.display.name}</span>
              {v.state === 'done' ? (
                <Link to={`/runs/${v.runId}`}>
                  <VerdictLabel verdict={v.display.verdict} />
                </Link>
              ) : (
                <span className="quiet">{v.state === 'blocked' ? `not possible: ${v.reason}` : 'missed'}</span>
              )}
            </p>
          ))}
        </section>
      )}
    </div>
  )
}

/** What runs where at this moment, and what of it asks for hands. */
function Going({ visits }: { visits: readonly Visit[] }) {
  const pulse = usePulse().data
  if (!visits.length) return null
  return (
    <section className="going" aria-label="Going on">
      {visits.map((v) => {
        const run = pulse?.running.find((r) => r.runId === v.runId)
        const asks = run?.state === 'waiting' || run?.state === 'interrupted'
        return (
          <Link key={v.id} to={`/runs/${v.runId}`} className={asks ? 'asks' : ''}>
            <AimRing aim={v.display.aimWhite} measured={v.display.white} verdict={v.display.verdict} size={28} />
            <span>
              {v.display.name}
              <br />
              <span className="small">
                {!run
                  ? 'has ended'
                  : asks
                    ? 'waits for hands'
                    : `${stageLabels[run.stage as Stage] ?? run.stage}, ${formatLeft(run.secondsLeft)} left`}
              </span>
            </span>
            {run && (
              <span className="bar" aria-hidden>
                <i style={{ width: `${100 * run.done}%` }} />
              </span>
            )}
          </Link>
        )
      })}
    </section>
  )
}
