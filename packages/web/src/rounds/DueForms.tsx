import { Input, InputNumber, Segmented, Select } from 'antd'
import { useState } from 'react'
import { panelKindNames, panelKinds } from '@bichroma/core/register'
import { dayLevels, type DayLevel, type DueLevel } from '@bichroma/contract'
import { ask } from '../api/client'
import { useAims, useLimits, useRooms, useSend } from '../api/queries'
import { DisplayPicker } from '../parts/Picker'
import { HouseForm } from './HouseForm'

export const levelWords: Readonly<Record<DueLevel, string>> = {
  display: 'display',
  room: 'room',
  aim: 'aim',
  limits: 'limits',
  panel: 'kind of panel',
  studio: 'the studio',
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

/** Of what kind something is, and which one. */
function LevelAndSubject<L extends DueLevel>({
  levels,
  level,
  of,
  onChange,
}: {
  levels: readonly L[]
  level: L
  of: number | string | null
  onChange: (level: L, of: number | string | null) => void
}) {
  return (
    <>
      <Segmented<L>
        block
        value={level}
        onChange={(value) => onChange(value, null)}
        options={levels.map((value) => ({ value, label: levelWords[value] }))}
      />
      <Subject level={level} value={of} onChange={(what) => onChange(level, what)} />
    </>
  )
}

/** Days between checks of something. */
export function AddRule({ onClose }: { onClose: () => void }) {
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
      <LevelAndSubject
        levels={['room', 'aim', 'limits', 'panel', 'studio']}
        level={level}
        of={of}
        onChange={(to, what) => {
          setLevel(to)
          setOf(what)
        }}
      />
      <label>
        <span className="small second">Days</span>
        <InputNumber aria-label="Days" value={everyDays} onChange={(v) => setDays(v ?? 0)} />
      </label>
    </HouseForm>
  )
}

/** A day by which displays must be proven freshly. */
export function AddDay({ onClose }: { onClose: () => void }) {
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
      <LevelAndSubject
        levels={dayLevels}
        level={level}
        of={of}
        onChange={(to, what) => {
          setLevel(to)
          setOf(what)
        }}
      />
      <label>
        <span className="small second">Proven no longer than so many days before</span>
        <InputNumber aria-label="Days before" value={freshDays} onChange={(v) => setFresh(v ?? 0)} />
      </label>
    </HouseForm>
  )
}
