import { Button, Input, InputNumber, Segmented, Select } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { panelKindNames, panelKinds } from '@bichroma/core/register'
import { dayLevels, type DayLevel, type DueLevel, type DueRules } from '@bichroma/contract'
import { ask } from '../api/client'
import { useAims, useDueRules, useLimits, useRooms, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { DisplayPicker } from '../parts/Picker'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { HouseForm } from './HouseForm'
import { RoundsNav } from './RoundsNav'
import './house.css'

const levelWords: Readonly<Record<DueLevel, string>> = {
  display: 'display',
  room: 'room',
  aim: 'aim',
  limits: 'limits',
  panel: 'kind of panel',
  studio: 'the studio',
}

/** When displays fall due: rules of days, days that matter, and what rests. */
export function DueRulesPage() {
  return <Loaded query={useDueRules()}>{(rules) => <Rules rules={rules} />}</Loaded>
}

function Rules({ rules: { rules, usual, own, days, resting } }: { rules: DueRules }) {
  const admin = useSession().data?.account?.role === 'administrator'
  const [adding, add] = useState<'rule' | 'day' | null>(null)
  const remove = useSend((path: string) => ask('DELETE', path))
  const removeRule = useSend((r: DueRules['rules'][number]) =>
    ask('PUT', '/due-rules', {
      level: r.level,
      everyDays: null,
      ...(r.level === 'panel' ? { panel: r.subject } : r.level !== 'studio' && { of: Number(r.subject) }),
    }),
  )
  return (
    <>
      <div className="top">
        <div>
          <h1>Rules and days</h1>
          <p>
            <RoundsNav />
          </p>
        </div>
      </div>
      <div className="house">
        <div>
          <Plane
            title="Days between checks"
            aside={
              admin && (
                <Button size="small" onClick={() => add('rule')}>
                  Add a rule
                </Button>
              )
            }
          >
            <p className="second" style={{ padding: '0 12px 8px' }}>
              The nearest holds: a display’s own, then its room’s, its aim’s, its limits’, its panel’s, the studio’s,
              and last what is usual. {own} {own === 1 ? 'display has' : 'displays have'} days of{' '}
              {own === 1 ? 'its' : 'their'} own.
            </p>
            <table className="figures">
              <thead>
                <tr>
                  <th>For</th>
                  <th>days</th>
                  <th>displays</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {rules.map((r) => (
                  <tr key={`${r.level} ${r.subject}`}>
                    <td>
                      {r.level === 'studio' ? 'the studio' : `${levelWords[r.level]} ${r.name}`}
                      <br />
                      <span className="small quiet">
                        {formatDay(r.changedAt)}, {r.changedBy}
                      </span>
                    </td>
                    <td className="fig">{r.everyDays}</td>
                    <td className="fig">{r.displays}</td>
                    <td>
                      {admin && (
                        <Button size="small" onClick={() => removeRule.mutate(r)}>
                          Remove rule
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
                {usual.map((u) => (
                  <tr key={u.panel}>
                    <td>
                      {panelKinds[u.panel]} <span className="small quiet">as is usual. {u.why}</span>
                    </td>
                    <td className="fig quiet">{u.days}</td>
                    <td className="fig quiet">{u.displays}</td>
                    <td />
                  </tr>
                ))}
              </tbody>
            </table>
          </Plane>
        </div>
        <div>
          <Plane
            title="Days that matter"
            aside={
              admin && (
                <Button size="small" onClick={() => add('day')}>
                  Add a day
                </Button>
              )
            }
          >
            <ul className="waylist">
              {days.map((d) => (
                <li key={d.id}>
                  <span>
                    {d.name}, {formatDay(dayjs(d.date).valueOf())}
                    <br />
                    <span className={d.lacking ? 'small asks' : 'small quiet'}>
                      {d.ofName}:{' '}
                      {d.lacking
                        ? `${d.lacking} of ${d.displays} to be proven in the ${d.freshDays} days before`
                        : `all ${d.displays} are proven freshly enough`}
                    </span>
                  </span>
                  {admin && (
                    <Button size="small" onClick={() => remove.mutate(`/due-days/${d.id}`)}>
                      Remove day
                    </Button>
                  )}
                </li>
              ))}
              {!days.length && (
                <li className="quiet">
                  None: a delivery, a grading session, an exhibition that displays must be proven for.
                </li>
              )}
            </ul>
          </Plane>
          <Plane title="At rest" aside={resting.length || undefined} style={{ marginTop: 14 }}>
            <ul className="waylist">
              {resting.map((r) => (
                <li key={r.id}>
                  <span>
                    <Link to={`/register/${r.id}`}>{r.name}</Link> <span className="small quiet">{r.room}</span>
                    <br />
                    <span className="small quiet">
                      {r.kind}
                      {r.until && ` until ${r.until}`}, said {r.by}: {r.why}
                    </span>
                  </span>
                </li>
              ))}
              {!resting.length && <li className="quiet">None. A display is let rest on its own page.</li>}
            </ul>
          </Plane>
        </div>
      </div>
      {adding === 'rule' && <AddRule onClose={() => add(null)} />}
      {adding === 'day' && <AddDay onClose={() => add(null)} />}
    </>
  )
}

/** Sends something and closes; a refusal stands in the form. */
function useForm(method: 'POST' | 'PUT', path: string, onClose: () => void) {
  const [refused, setRefused] = useState<string | null>(null)
  const send = useSend(
    async (body: object) => {
      await ask(method, path, body)
      onClose()
    },
    (problem) => setRefused(problem.message),
  )
  return { refused, pending: send.isPending, send: (body: object) => send.mutate(body) }
}

/** What something is for: chosen among what there is of it. */
function Subject({
  level,
  value,
  onChange,
}: {
  level: DueLevel
  value: number | string | null
  onChange: (value: number | string) => void
}) {
  const rooms = useRooms().data ?? []
  const aims = useAims().data ?? []
  const limits = useLimits().data ?? []
  if (level === 'studio') return null
  if (level === 'display')
    return (
      <DisplayPicker placeholder="Which display" value={(value as number | null) ?? undefined} onChange={onChange} />
    )
  const options =
    level === 'panel'
      ? panelKindNames.map((panel) => ({ value: panel as string, label: panelKinds[panel] as string }))
      : (level === 'room' ? rooms : level === 'aim' ? aims : limits).map((t) => ({ value: t.id, label: t.name }))
  return (
    <Select<number | string>
      aria-label={levelWords[level]}
      placeholder={`Which ${levelWords[level]}`}
      value={value}
      onChange={onChange}
      showSearch={{ optionFilterProp: 'label' }}
      options={options as { value: number | string; label: string }[]}
    />
  )
}

function AddRule({ onClose }: { onClose: () => void }) {
  const [level, setLevel] = useState<DueLevel>('room')
  const [of, setOf] = useState<number | string | null>(null)
  const [everyDays, setDays] = useState(30)
  const { send, pending, refused } = useForm('PUT', '/due-rules', onClose)
  return (
    <HouseForm
      title="Days between checks"
      save="Save rule"
      pending={pending}
      refused={refused}
      mayNot={level !== 'studio' && of === null}
      onClose={onClose}
      onSave={() => send({ level, everyDays, ...(level === 'panel' ? { panel: of } : level !== 'studio' && { of }) })}
    >
      <Segmented
        block
        value={level}
        onChange={(value) => {
          setLevel(value)
          setOf(null)
        }}
        options={(['room', 'aim', 'limits', 'panel', 'studio'] as const).map((value) => ({
          value: value as DueLevel,
          label: levelWords[value],
        }))}
      />
      <Subject level={level} value={of} onChange={setOf} />
      <label>
        <span className="small second">Days</span>
        <InputNumber aria-label="Days" value={everyDays} onChange={(v) => setDays(v ?? 0)} />
      </label>
    </HouseForm>
  )
}

function AddDay({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState('')
  const [date, setDate] = useState('')
  const [level, setLevel] = useState<DayLevel>('room')
  const [of, setOf] = useState<number | string | null>(null)
  const [freshDays, setFresh] = useState(7)
  const { send, pending, refused } = useForm('POST', '/due-days', onClose)
  return (
    <HouseForm
      title="A day that matters"
      save="Add day"
      pending={pending}
      refused={refused}
      mayNot={!name.trim() || !date || (level !== 'studio' && of === null)}
      onClose={onClose}
      onSave={() => send({ name, date, level, freshDays, ...(level !== 'studio' && { of }) })}
    >
      <label>
        <span className="small second">What it is</span>
        <Input
          aria-label="Name"
          value={name}
          placeholder="Grading of the loop"
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <label>
        <span className="small second">The day</span>
        <Input aria-label="Day" type="date" value={date} onChange={(e) => setDate(e.target.value)} />
      </label>
      <Segmented
        block
        value={level}
        onChange={(value) => {
          setLevel(value)
          setOf(null)
        }}
        options={dayLevels.map((value) => ({ value, label: levelWords[value] }))}
      />
      <Subject level={level} value={of} onChange={setOf} />
      <label>
        <span className="small second">Proven no longer than so many days before</span>
        <InputNumber aria-label="Days before" value={freshDays} onChange={(v) => setFresh(v ?? 0)} />
      </label>
    </HouseForm>
  )
}
