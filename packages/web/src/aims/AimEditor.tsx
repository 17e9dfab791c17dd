import { Button, Checkbox, Form, Input, InputNumber, Popconfirm, Select } from 'antd'
import { useNavigate } from 'react-router'
import { describeAim, type Aim } from '@bichroma/core/aims'
import { locusNote, standardPrimaries, standardWhites } from '@bichroma/core/color'
import { saveAimSchema, type SaveAim, type StoredAim } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { FromRoom } from './FromRoom'
import { Plane } from '../parts/Plane'
import { checked, showProblem } from '../parts/useYupForm'

const whiteKinds = [
  { value: 'standard', label: 'Standard' },
  { value: 'xy', label: 'xy by hand' },
  { value: 'temperature', label: 'Temperature' },
  { value: 'panel', label: 'Panel’s own' },
  // It comes from two displays side by side, and from nowhere else.
  { value: 'by eye', label: 'By eye', disabled: true },
]
const toneKinds = [
  { value: 'power', label: 'Power' },
  { value: 'sRGB', label: 'sRGB' },
  { value: 'L*', label: 'L*' },
  { value: 'BT.1886', label: 'BT.1886, with the measured black' },
  // These come with aims made elsewhere; they are kept and shown. Full runs cannot make the first two yet.
  { value: 'PQ', label: 'PQ, absolute', disabled: true },
  { value: 'HLG', label: 'HLG, with the system gamma', disabled: true },
  { value: 'curve', label: 'A curve of its own', disabled: true },
]
const blackKinds = [
  { value: 'panel', label: 'The panel’s own' },
  { value: 'relative', label: 'Lifted, relative to it' },
  { value: 'fixed', label: 'Lifted, to a luminance' },
]
const primariesKinds = [
  { value: 'standard', label: 'Standard' },
  { value: 'panel', label: 'Panel’s own, the largest' },
  { value: 'xy', label: 'xy by hand' },
]

/** What each kind starts from when it is chosen, so that the form never holds half of one. */
const starts = {
  white: {
    standard: { kind: 'standard', name: 'D65' },
    xy: { kind: 'xy', x: 0.3127, y: 0.329 },
    temperature: { kind: 'temperature', kelvin: 6500 },
    panel: { kind: 'panel' },
  },
  toneResponse: {
    power: { kind: 'power', exponent: 2.2 },
    sRGB: { kind: 'sRGB' },
    'L*': { kind: 'L*' },
    'BT.1886': { kind: 'BT.1886' },
  },
  black: {
    panel: { kind: 'panel' },
    relative: { kind: 'relative', factor: 1.5 },
    fixed: { kind: 'fixed', luminance: 0.2 },
  },
  primaries: {
    standard: { kind: 'standard', name: 'sRGB' },
    panel: { kind: 'panel' },
    xy: { kind: 'xy', ...standardPrimaries.sRGB },
  },
} as const

/** An aim, to read or to change. */
export function AimEditor({ stored, initial, mayEdit }: { stored: StoredAim | null; initial: Aim; mayEdit: boolean }) {
  const [form] = Form.useForm<SaveAim>()
  const navigate = useNavigate()
  const whiteKind = Form.useWatch(['aim', 'white', 'kind'], form) ?? initial.white.kind
  const kelvin: unknown = Form.useWatch(['aim', 'white', 'kelvin'], form)
  const toneKind = Form.useWatch(['aim', 'toneResponse', 'kind'], form) ?? initial.toneResponse.kind
  const primariesKind = Form.useWatch(['aim', 'primaries', 'kind'], form) ?? initial.primaries.kind
  const blackKind = Form.useWatch(['aim', 'black', 'kind'], form) ?? initial.black?.kind ?? 'panel'
  const asBright = Form.useWatch(['aim', 'asBright'], form) ?? initial.asBright ?? false
  const fromRoom = Form.useWatch(['aim', 'fromRoom'], form) ?? initial.fromRoom ?? false
  const save = useSend(
    async (input: SaveAim) => {
      if (stored) await ask('PUT', `/aims/${stored.id}`, input)
      else void navigate(`/aims/aims/${(await ask<{ id: number }>('POST', '/aims', input)).id}`)
    },
    (problem) => showProblem(form, problem),
  )
  const remove = useSend(async () => {
    await ask('DELETE', `/aims/${stored!.id}`)
    void navigate('/aims/aims')
  })
  const submit = () => {
    const input = checked(form, saveAimSchema, form.getFieldsValue(true))
    if (input) save.mutate(input)
  }
  const restart = (part: keyof typeof starts) => (kind: string) =>
    form.setFieldValue(['aim', part as 'white'], (starts[part] as Record<string, Aim['white']>)[kind])
  return (
    <Plane
      title={stored ? stored.name : 'A new aim'}
      aside={mayEdit ? undefined : 'only an administrator can change it'}
    >
      <Form
        form={form}
        layout="vertical"
        className="editor"
        initialValues={{ name: stored?.name ?? '', aim: initial }}
        disabled={!mayEdit}
        onFinish={submit}
      >
        <Form.Item label="Name" name="name">
          <Input placeholder="What slots with this aim are called" />
        </Form.Item>
        <div className="row">
          <Form.Item label="White" name={['aim', 'white', 'kind']}>
            <Select options={whiteKinds} onChange={restart('white')} />
          </Form.Item>
          {whiteKind === 'standard' && (
            <Form.Item label="Which" name={['aim', 'white', 'name']}>
              <Select options={Object.keys(standardWhites).map((value) => ({ value, label: value }))} />
            </Form.Item>
          )}
          {whiteKind === 'temperature' && (
            <Form.Item label="Temperature, K" name={['aim', 'white', 'kelvin']}>
              <InputNumber step={100} />
            </Form.Item>
          )}
        </div>
        {whiteKind === 'temperature' && locusNote(Number(kelvin)) && (
          <p className="small asks" style={{ marginBottom: 8 }}>
            {locusNote(Number(kelvin))}
          </p>
        )}
        {whiteKind === 'by eye' && (
          <>
            <div className="row">
              <Form.Item label="Moved in u′" name={['aim', 'white', 'u']}>
                <InputNumber step={0.0005} />
              </Form.Item>
              <Form.Item label="Moved in v′" name={['aim', 'white', 'v']}>
                <InputNumber step={0.0005} />
              </Form.Item>
            </div>
            <p className="small second" style={{ marginBottom: 8 }}>
              A white that was found by eye beside another display: {describeAim(initial).split(' · ')[1]}.
            </p>
          </>
        )}
        {whiteKind === 'xy' && (
          <div className="row">
            <Form.Item label="White x" name={['aim', 'white', 'x']}>
              <InputNumber step={0.001} />
            </Form.Item>
            <Form.Item label="White y" name={['aim', 'white', 'y']}>
              <InputNumber step={0.001} />
            </Form.Item>
          </div>
        )}
        <Form.Item name={['aim', 'asBright']} valuePropName="checked" style={{ marginBottom: 4 }}>
          <Checkbox disabled={fromRoom}>As bright as the display goes at its white</Checkbox>
        </Form.Item>
        <Form.Item name={['aim', 'fromRoom']} valuePropName="checked" style={{ marginBottom: 12 }}>
          <Checkbox disabled={asBright}>As bright as paper under the light agreed on for the display’s room</Checkbox>
        </Form.Item>
        <div className="row">
          <Form.Item
            label={asBright || fromRoom ? 'At least, cd/m²' : 'Luminance, cd/m²'}
            name={['aim', 'luminance']}
            extra={
              mayEdit && !fromRoom && <FromRoom onChoose={(value) => form.setFieldValue(['aim', 'luminance'], value)} />
            }
          >
            <InputNumber step={5} />
          </Form.Item>
          <Form.Item label="Black" name={['aim', 'black', 'kind']}>
            <Select options={blackKinds} onChange={restart('black')} placeholder="The panel’s own" />
          </Form.Item>
        </div>
        {blackKind === 'relative' && (
          <Form.Item
            label="Times the panel’s own"
            name={['aim', 'black', 'factor']}
            extra="Only displays with a 3D table can lift their black."
          >
            <InputNumber step={0.1} />
          </Form.Item>
        )}
        {blackKind === 'fixed' && (
          <Form.Item
            label="Black, cd/m²"
            name={['aim', 'black', 'luminance']}
            extra="Less than the panel has cannot be met; then it stays the panel’s own. Only displays with a 3D table can lift it."
          >
            <InputNumber step={0.05} />
          </Form.Item>
        )}
        <div className="row">
          <Form.Item label="Tone response" name={['aim', 'toneResponse', 'kind']}>
            <Select options={toneKinds} onChange={restart('toneResponse')} popupMatchSelectWidth={false} />
          </Form.Item>
          {toneKind === 'power' && (
            <Form.Item label="Exponent" name={['aim', 'toneResponse', 'exponent']}>
              <InputNumber step={0.1} />
            </Form.Item>
          )}
        </div>
        <div className="row">
          <Form.Item label="Primaries" name={['aim', 'primaries', 'kind']}>
            <Select options={primariesKinds} onChange={restart('primaries')} />
          </Form.Item>
          {primariesKind === 'standard' && (
            <Form.Item label="Which" name={['aim', 'primaries', 'name']}>
              <Select options={Object.keys(standardPrimaries).map((value) => ({ value, label: value }))} />
            </Form.Item>
          )}
        </div>
        {primariesKind === 'xy' &&
          (['red', 'green', 'blue'] as const).map((hue) => (
            <div className="row" key={hue}>
              <Form.Item label={`${hue[0].toUpperCase()}${hue.slice(1)} x`} name={['aim', 'primaries', hue, 'x']}>
                <InputNumber step={0.001} />
              </Form.Item>
              <Form.Item label={`${hue[0].toUpperCase()}${hue.slice(1)} y`} name={['aim', 'primaries', hue, 'y']}>
                <InputNumber step={0.001} />
              </Form.Item>
            </div>
          ))}
        {mayEdit && (
          <div style={{ display: 'flex', gap: 8, marginTop: 4 }}>
            <Button type="primary" htmlType="submit" loading={save.isPending}>
              {stored ? 'Save aim' : 'Add aim'}
            </Button>
            {stored && (
              <Popconfirm
                title={`Delete “${stored.name}”?`}
                description="Slots and runs that used it keep their own copy."
                okText="Delete aim"
                cancelText="Keep it"
                onConfirm={() => remove.mutate(undefined)}
              >
                <Button>Delete aim</Button>
              </Popconfirm>
            )}
          </div>
        )}
      </Form>
    </Plane>
  )
}
