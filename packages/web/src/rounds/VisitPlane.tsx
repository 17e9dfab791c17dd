import { App, Button, Input, Modal, Select, TimePicker } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { useNavigate, Link } from 'react-router'
import { atTime, clockIn, localDate, momentIn, weekHouse, whatBreaks, type VisitMove } from '@bichroma/core/rounds'
import type { Visit, Week } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { doesWords, dueSentence, instrumentSentence, moveSentence, thenSentence, whenWords } from './words'

/** One visit: what, when, with what, and why. */
export function VisitPlane({
  visit,
  week,
  may,
  onMove,
}: {
  visit: Visit | null
  week: Week
  may: { start: boolean; plan: boolean }
  onMove: (visit: Visit, move: VisitMove) => void
}) {
  const navigate = useNavigate()
  const [moving, setMoving] = useState(false)
  const start = useSend(async (id: number) => {
    const run = await ask<{ id: number }>('POST', `/visits/${id}/begin`)
    void navigate(`/runs/${run.id}`)
  })
  const letGo = useSend((id: number) => ask('DELETE', `/visits/${id}/pin`))
  if (!visit)
    return (
      <Plane title="A visit">
        <p className="none">Choose a visit to see why it is then, and to move it.</p>
      </Plane>
    )
  const { zone } = week.hours
  const person = week.people.find((p) => p.id === visit.personId)?.name
  const instrument = week.instruments.find((i) => i.id === visit.instrumentId)?.name
  const lies = visit.state === 'planned'
  return (
    <Plane title={<Link to={`/register/${visit.display.id}`}>{visit.display.name}</Link>} aside={visit.display.room}>
      <div className="inside">
        <dl className="visitfacts">
          <dt>When</dt>
          <dd>
            {whenWords(visit, zone)}
            {visit.state !== 'planned' && <span className="quiet"> · {visit.state}</span>}
            <br />
            <span className="small quiet">
              {lies ? thenSentence(visit) : ''} {dueSentence(visit, zone)}
            </span>
            {visit.reason && (
              <>
                <br />
                <span className="small asks">{visit.reason}</span>
              </>
            )}
          </dd>
          <dt>What</dt>
          <dd>
            {doesWords(visit)}
            {visit.label ? ` of ${visit.label}` : ''}, slot {visit.slot}
            {visit.attended && <span className="quiet"> · somebody stays</span>}
          </dd>
          <dt>Who</dt>
          <dd>{person ?? 'nobody: the instrument hangs there'}</dd>
          <dt>With</dt>
          <dd>
            {instrument ?? '–'}
            <br />
            <span className="small quiet">{instrumentSentence(visit, week.optionSets)}</span>
          </dd>
          {visit.answer && (
            <>
              <dt>Desk</dt>
              <dd>{answerWords[visit.answer]}</dd>
            </>
          )}
          <dt>Told</dt>
          <dd>
            {visit.told === null
              ? 'nobody yet'
              : visit.told.at === visit.at && visit.told.personId === visit.personId
                ? 'as it is'
                : `otherwise: ${momentIn(visit.told.at, zone)}`}
          </dd>
        </dl>
        <div className="visitacts">
          {may.start && lies && (
            <Button type="primary" loading={start.isPending} onClick={() => start.mutate(visit.id)}>
              Start {doesWords(visit)}
            </Button>
          )}
          {visit.runId !== null && <Link to={`/runs/${visit.runId}`}>Its run sheet</Link>}
          {may.plan && lies && <Button onClick={() => setMoving(true)}>Move visit…</Button>}
          {may.plan && visit.pinned && lies && (
            <Button loading={letGo.isPending} onClick={() => letGo.mutate(visit.id)}>
              Let it go
            </Button>
          )}
          {may.start && lies && <EndVisit visit={visit} how="block" />}
          {may.plan && lies && <EndVisit visit={visit} how="drop" />}
        </div>
      </div>
      {moving && (
        <MoveVisit
          visit={visit}
          week={week}
          onClose={() => setMoving(false)}
          onMove={(move) => {
            setMoving(false)
            onMove(visit, move)
          }}
        />
      )}
    </Plane>
  )
}

/** What was said of it at its desk. */
const answerWords: Readonly<Record<NonNullable<Visit['answer']>, string>> = {
  suits: 'said that it suits',
  'another time': 'chose this time',
  later: 'put it off to then',
}

const ends = {
  block: {
    button: 'Not possible…',
    title: 'Why is it not possible?',
    hint: 'It is planned anew from the next day on.',
  },
  drop: {
    button: 'Take out…',
    title: 'Why is it not wanted?',
    hint: 'Its display is left alone until its next due line.',
  },
} as const

/** Ends a visit without a run, with a reason. */
function EndVisit({ visit, how }: { visit: Visit; how: keyof typeof ends }) {
  const { message } = App.useApp()
  const [asking, setAsking] = useState(false)
  const [why, setWhy] = useState('')
  const end = useSend(async () => {
    await ask('POST', `/visits/${visit.id}/${how}`, { why })
    setAsking(false)
    void message.success(ends[how].hint)
  })
  return (
    <>
      <Button onClick={() => setAsking(true)}>{ends[how].button}</Button>
      <Modal
        open={asking}
        title={ends[how].title}
        onCancel={() => setAsking(false)}
        okText={how === 'block' ? 'Say so' : 'Take visit out'}
        okButtonProps={{ disabled: why.trim().length < 3, loading: end.isPending }}
        onOk={() => end.mutate(undefined)}
      >
        <p className="small quiet">{ends[how].hint}</p>
        <Input
          aria-label="Reason"
          value={why}
          maxLength={200}
          onChange={(e) => setWhy(e.target.value)}
          placeholder="A few words"
          style={{ marginTop: 8 }}
        />
      </Modal>
    </>
  )
}

/** Another time, person or instrument, chosen and not dragged; what that breaks is said at once. */
function MoveVisit({
  visit,
  week,
  onClose,
  onMove,
}: {
  visit: Visit
  week: Week
  onClose: () => void
  onMove: (move: VisitMove) => void
}) {
  const { zone } = week.hours
  const [date, setDate] = useState(localDate(visit.at!, zone))
  const [time, setTime] = useState(clockIn(visit.at!, zone))
  const [personId, setPerson] = useState(visit.personId)
  const [instrumentId, setInstrument] = useState(visit.instrumentId!)
  const move = { at: atTime(date, time, zone), personId, instrumentId }
  const house = weekHouse(week)
  const { bar, displaced } = whatBreaks(
    house,
    house.visits.find((v) => v.id === visit.id)!,
    move,
  )
  const person = week.people.find((p) => p.id === personId)?.name ?? null
  const fits = new Set(week.optionSets[visit.optionSet].map((o) => o.instrumentId))
  return (
    <Modal
      open
      title={`Move the visit to ${visit.display.name}`}
      onCancel={onClose}
      okText="Move visit"
      okButtonProps={{ disabled: bar !== null }}
      onOk={() => onMove(move)}
    >
      <div className="moveform">
        <label>
          <span className="small second">Day</span>
          <Select
            aria-label="Day"
            value={date}
            onChange={setDate}
            options={week.days.map((d) => ({ value: d.date, label: `${d.date}${d.desk ? '' : ', closed'}` }))}
          />
        </label>
        <label>
          <span className="small second">Time</span>
          <TimePicker
            aria-label="Time"
            format="HH:mm"
            minuteStep={5}
            allowClear={false}
            needConfirm={false}
            value={dayjs(`${date}T${time}`)}
            onChange={(value) => value && setTime(value.format('HH:mm'))}
          />
        </label>
        <label>
          <span className="small second">Person</span>
          <Select
            aria-label="Person"
            value={personId ?? 0}
            onChange={(id) => setPerson(id || null)}
            options={week.people.map((p) => ({ value: p.id, label: p.name }))}
          />
        </label>
        <label>
          <span className="small second">Instrument</span>
          <Select
            aria-label="Instrument"
            value={instrumentId}
            onChange={setInstrument}
            options={week.instruments.filter((i) => fits.has(i.id)).map((i) => ({ value: i.id, label: i.name }))}
          />
        </label>
      </div>
      <p className={bar ? 'asks' : 'second'} role="status">
        {moveSentence(week, { at: move.at, person, bar, displaced })}
      </p>
    </Modal>
  )
}
