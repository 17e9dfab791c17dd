import { Button, Checkbox, Form, Input, InputNumber, Select } from 'antd'
import { useMemo, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { verdictNames, verdictWords } from '@bichroma/core/aims'
import { operatingSystemNames, operatingSystems } from '@bichroma/core/register'
import { startWaveSchema, type PreviewRow, type Selection, type StartWave, type WavePreview } from '@bichroma/contract'
import { ask } from '../api/client'
import { useAims, useModels, useRooms, useWavePreview } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { useAddress } from '../parts/useAddress'
import { useSchemaForm } from '../parts/useSchemaForm'
import { TakeAlong } from './ByHand'
import { mendWords, nameOfPath } from './words'
import './rollout.css'

const fields = ['displays', 'rooms', 'aims', 'systems', 'models', 'verdicts', 'differs'] as const
type Asked = Readonly<Record<(typeof fields)[number], string>>

/** Several values in one part of an address; names may hold anything but this. */
const joint = '|'

/** What an address chooses. */
export function selectionOf(asked: Asked): Selection {
  const words = (text: string) => text.split(joint).filter(Boolean)
  const numbers = (text: string, by: string) =>
    text
      .split(by)
      .map(Number)
      .filter((n) => Number.isSafeInteger(n) && n > 0)
  return {
    ...(asked.displays && { displays: numbers(asked.displays, '.') }),
    ...(asked.rooms && { rooms: numbers(asked.rooms, joint) }),
    ...(asked.aims && { aims: words(asked.aims) }),
    ...(asked.systems && { systems: words(asked.systems) as Selection['systems'] }),
    ...(asked.models && { models: words(asked.models) }),
    ...(asked.verdicts && { verdicts: words(asked.verdicts) as Selection['verdicts'] }),
    ...(asked.differs === 'yes' && { differs: true }),
  }
}

/** A wave before anybody agrees: which displays, what would be done to each, and in which steps. */
export function PrepareWave() {
  const [asked, askFor] = useAddress(fields)
  const selection = useMemo(() => selectionOf(asked), [asked])
  const preview = useWavePreview(selection)
  return (
    <>
      <div className="top">
        <div>
          <h1>Prepare a wave</h1>
          <p>
            <Link to="/rollout">Rollout</Link> · nothing is sent before you start it
          </p>
        </div>
      </div>
      <div className="wave">
        <div className="side">
          <Plane title="Which displays">
            <Choose asked={asked} onAsk={askFor} />
          </Plane>
          {preview.data && <Steps preview={preview.data} selection={selection} />}
        </div>
        <Loaded query={preview}>{(p) => <WouldDo preview={p} />}</Loaded>
      </div>
    </>
  )
}

function Choose({ asked, onAsk }: { asked: Asked; onAsk: (change: Partial<Asked>) => void }) {
  const rooms = useRooms().data ?? []
  const aims = useAims().data ?? []
  const models = useModels().data ?? []
  const several = (
    name: (typeof fields)[number],
    label: string,
    options: readonly { value: string; label: string }[],
  ) => (
    <label className="choose">
      <span className="small second">{label}</span>
      <Select
        mode="multiple"
        aria-label={label}
        placeholder="any"
        value={asked[name].split(joint).filter(Boolean)}
        onChange={(value: string[]) => onAsk({ [name]: value.join(joint) })}
        options={[...options]}
        optionFilterProp="label"
        maxTagCount="responsive"
      />
    </label>
  )
  const byHand = asked.displays.split('.').filter(Boolean).length
  return (
    <div style={{ padding: '2px 12px 12px', display: 'grid', gap: 8 }}>
      {byHand > 0 && (
        <p className="second">
          {byHand === 1 ? 'One display' : `${byHand} displays`} marked by hand{' '}
          <Button size="small" type="link" onClick={() => onAsk({ displays: '', differs: 'yes' })}>
            choose by other things
          </Button>
        </p>
      )}
      <Checkbox checked={asked.differs === 'yes'} onChange={(e) => onAsk({ differs: e.target.checked ? 'yes' : '' })}>
        Only what differs
      </Checkbox>
      {several(
        'rooms',
        'Rooms',
        rooms.map((r) => ({ value: String(r.id), label: r.name })),
      )}
      {several(
        'aims',
        'Aims of the slot on show',
        aims.map((a) => ({ value: a.name, label: a.name })),
      )}
      {several(
        'models',
        'Models',
        models.map((m) => ({ value: `${m.maker} ${m.model}`, label: `${m.maker} ${m.model}` })),
      )}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        {several(
          'systems',
          'Systems',
          operatingSystemNames.map((s) => ({ value: s, label: operatingSystems[s].label })),
        )}
        {several(
          'verdicts',
          'Verdicts',
          verdictNames.map((v) => ({ value: v, label: verdictWords[v] })),
        )}
      </div>
    </div>
  )
}

function Steps({ preview, selection }: { preview: WavePreview; selection: Selection }) {
  const navigate = useNavigate()
  const { form, submit, pending } = useSchemaForm<StartWave>(
    startWaveSchema,
    async (input) => {
      const { id } = await ask<{ id: number }>('POST', '/waves', input)
      void navigate(`/rollout/waves/${id}`)
    },
    ({ stopShare, ...values }) => ({ ...values, stopShare: stopShare / 100, selection, digest: preview.digest }),
  )
  const [first, setFirst] = useState(3)
  const none = preview.does === 0
  const [day] = useState(() => new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long' }))
  return (
    <Plane title="In which steps">
      <Form
        form={form}
        layout="vertical"
        style={{ padding: '2px 12px 12px' }}
        initialValues={{ name: `Wave of ${day}`, first: 3, gate: 'read-back', stopShare: 20, days: 14 }}
        onValuesChange={(change: Partial<StartWave>) => change.first !== undefined && setFirst(change.first ?? 0)}
      >
        <Form.Item label="Name" name="name">
          <Input />
        </Form.Item>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', alignItems: 'end', gap: 8 }}>
          <Form.Item label="First few" name="first">
            <InputNumber min={0} style={{ width: '100%' }} />
          </Form.Item>
          <Form.Item label="Stop at failed, %" name="stopShare">
            <InputNumber min={0} max={100} style={{ width: '100%' }} />
          </Form.Item>
          <Form.Item label="Runs out after days" name="days">
            <InputNumber min={1} max={90} style={{ width: '100%' }} />
          </Form.Item>
        </div>
        <Form.Item label="The rest goes once" name="gate" hidden={!first}>
          <Select
            options={[
              { value: 'read-back', label: 'the first few were read back' },
              { value: 'check', label: 'a check run of each of them was within limits' },
              { value: 'word', label: 'they were read back and somebody says so' },
            ]}
          />
        </Form.Item>
        <Button type="primary" block disabled={none} loading={pending} onClick={submit}>
          {none
            ? 'Nothing would be done'
            : preview.does === 1
              ? 'Start wave with one display'
              : `Start wave with ${preview.does} displays`}
        </Button>
        <div style={{ marginTop: 8 }}>
          <TakeAlong selection={selection} disabled={none} />
        </div>
      </Form>
    </Plane>
  )
}

const notWords = {
  'already so': 'as wanted already',
  'no profile': 'without a profile for the slot on show',
  'nothing wanted': 'with no profile of ours wanted',
  'under way': 'under way already',
} as const

/** What the wave would do, display by display. */
function WouldDo({ preview }: { preview: WavePreview }) {
  const { does, chosen, waits, not, rows } = preview
  const waiting = Object.entries(waits) as [keyof typeof mendWords, number][]
  return (
    <Plane title="What it would do" aside={`${does} of ${chosen} chosen`}>
      <div style={{ padding: '0 12px 8px' }}>
        <p className="second">
          {does === 0
            ? 'Nothing would be sent.'
            : `${does === 1 ? 'One display gets' : `${does} displays get`} what is wanted.`}
          {waiting.map(([mend, n]) => ` ${n} will wait for ${mendWords[mend].title}.`)}
          {Object.entries(not).map(
            ([why, n]) => ` ${n} ${n === 1 ? 'is' : 'are'} left out, ${notWords[why as keyof typeof notWords]}.`,
          )}
        </p>
      </div>
      <div className="sideways">
        <table className="figures people top-aligned">
          <thead>
            <tr>
              <th style={{ width: 150 }}>Display</th>
              <th>Gets</th>
              <th>In place of</th>
              <th style={{ width: 90 }}>Bound for</th>
              <th style={{ width: 110 }}>Will wait for</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <Row key={`${r.displayId} ${r.workstationId}`} row={r} />
            ))}
          </tbody>
        </table>
      </div>
      {rows.length < chosen && <p className="none">and {chosen - rows.length} more</p>}
      {chosen === 0 && <p className="none">No display fits what is chosen.</p>}
    </Plane>
  )
}

function Row({ row }: { row: PreviewRow }) {
  const { action, not, fileName, slot, inPlaceOf, ours, scope, waits } = row
  return (
    <tr className={action ? '' : 'quiet'}>
      <td>
        {row.displayName}
        <br />
        <span className="small quiet">
          {row.workstationName}, {operatingSystems[row.operatingSystem].label}
        </span>
      </td>
      <td style={{ overflowWrap: 'anywhere' }}>
        {not ? notWords[not] : action === 'release' ? 'ours is taken away' : fileName}
        {action === 'place' && <span className="small quiet"> slot {slot}</span>}
      </td>
      <td style={{ overflowWrap: 'anywhere' }} className="small">
        {inPlaceOf === null ? <span className="quiet">nothing</span> : nameOfPath(inPlaceOf)}
        {inPlaceOf !== null && !ours && <span className="asks"> another’s</span>}
      </td>
      <td className="small">{action === 'place' && (scope === 'machine' ? 'the machine' : 'the user')}</td>
      <td className="small">{waits.map((w) => mendWords[w].title).join(', then ')}</td>
    </tr>
  )
}
