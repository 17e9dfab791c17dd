import { Button, Form, Input, InputNumber, Popconfirm, Select } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { standardPrimaries, standardWhites } from '@bichroma/core/color'
import { peerFigures, usualPeerLimits, type PeerFigure } from '@bichroma/core/peers'
import { mostPeers, savePeerSetSchema, type PeerSetDetail, type SavePeerSet } from '@bichroma/contract'
import { ask } from '../api/client'
import { usePeerSet, useSend } from '../api/queries'
import { DisplayPicker } from '../parts/Picker'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { useSchemaForm } from '../parts/useSchemaForm'
import './peers.css'

const startingWith: SavePeerSet = {
  name: '',
  members: [],
  reference: null,
  white: { kind: 'standard', name: 'D65' },
  toneResponse: { kind: 'power', exponent: 2.2 },
  standard: 'Display P3',
  share: 0.98,
  headroom: 0.03,
  black: 'own',
  limits: usualPeerLimits,
}
const whites = {
  standard: { kind: 'standard', name: 'D65' },
  xy: { kind: 'xy', x: 0.3127, y: 0.329 },
  temperature: { kind: 'temperature', kelvin: 6500 },
} as const
const tones = {
  power: { kind: 'power', exponent: 2.2 },
  sRGB: { kind: 'sRGB' },
  'L*': { kind: 'L*' },
  'BT.1886': { kind: 'BT.1886' },
} as const
const limitWords: Readonly<Record<PeerFigure, { label: string; step: number }>> = {
  average: { label: 'Average of all patches, ΔE2000', step: 0.1 },
  white: { label: 'White, Δu′v′', step: 0.0005 },
  luminance: { label: 'Luminance of white, %', step: 0.5 },
}
const percent = {
  formatter: (v: number | undefined) => (v === undefined ? '' : `${Math.round(v * 1000) / 10} %`),
  parser: (text: string | undefined) => Number((text ?? '').replace(/[^0-9.,-]/g, '').replace(',', '.')) / 100,
}

/** A new set. */
export function AddPeerSet() {
  return <EditorOf stored={null} />
}

/** A set as it was made, to be changed. */
export function EditPeerSet() {
  const id = Number(useParams().id)
  return <Loaded query={usePeerSet(id)}>{(set) => <EditorOf key={set.id} stored={set} />}</Loaded>
}

const valuesOf = (set: PeerSetDetail): SavePeerSet => {
  const { name, members, reference, white, toneResponse, standard, share, headroom, black, limits } = set
  return {
    ...{ name, reference, white, toneResponse, standard, share, headroom, black, limits },
    members: members.map(({ displayId, slot }) => ({ displayId, slot })),
  }
}

function EditorOf({ stored }: { stored: PeerSetDetail | null }) {
  const navigate = useNavigate()
  const [tried, setTried] = useState(false)
  const { form, submit, pending } = useSchemaForm<SavePeerSet>(
    savePeerSetSchema,
    async (input) => {
      if (stored) await ask('PUT', `/peer-sets/${stored.id}`, input)
      const id = stored?.id ?? (await ask<{ id: number }>('POST', '/peer-sets', input)).id
      void navigate(`/peers/${id}`)
    },
    (values) => ({ ...values, reference: values.reference ?? null, standard: values.standard ?? null }),
  )
  const whiteKind = Form.useWatch(['white', 'kind'], form) ?? stored?.white.kind ?? 'standard'
  const toneKind = Form.useWatch(['toneResponse', 'kind'], form) ?? stored?.toneResponse.kind ?? 'power'
  const members: SavePeerSet['members'] = Form.useWatch('members', form) ?? []
  const nameOf = (id: number) => stored?.members.find((m) => m.displayId === id)
  return (
    <>
      <div className="top">
        <div>
          <h1>{stored ? `Edit ${stored.name}` : 'Add a peer set'}</h1>
          <p>
            <Link to="/peers">Peer sets</Link> · displays that somebody sees side by side
          </p>
        </div>
      </div>
      <Form
        form={form}
        layout="vertical"
        className="peereditor"
        initialValues={stored ? valuesOf(stored) : startingWith}
        onFinish={() => {
          setTried(true)
          submit()
        }}
      >
        <Plane title="Members">
          <div className="fields">
            <Form.Item label="Name" name="name">
              <Input placeholder="Where they stand side by side" />
            </Form.Item>
            <Form.List name="members">
              {(fields, { add, remove }) => (
                <>
                  {fields.map((field) => (
                    <div className="peerrow" key={field.key}>
                      <Form.Item name={[field.name, 'displayId']}>
                        <MemberPicker label={`Member ${field.name + 1}`} known={nameOf} />
                      </Form.Item>
                      <Form.Item name={[field.name, 'slot']}>
                        <Select
                          aria-label={`Slot of member ${field.name + 1}`}
                          options={Array.from({ length: 8 }, (_, i) => ({ value: i + 1, label: `slot ${i + 1}` }))}
                        />
                      </Form.Item>
                      <Button onClick={() => remove(field.name)} aria-label={`Remove member ${field.name + 1}`}>
                        Remove
                      </Button>
                    </div>
                  ))}
                  {fields.length < 2 && (
                    <p className={tried ? 'small asks' : 'small quiet'} style={{ marginBottom: 8 }}>
                      A set has two members at least, and {mostPeers} at most.
                    </p>
                  )}
                  <Button
                    onClick={() => add({ slot: 1 })}
                    disabled={fields.length >= mostPeers}
                    style={{ marginBottom: 12 }}
                  >
                    Add member
                  </Button>
                </>
              )}
            </Form.List>
            <Form.Item
              label="Held against"
              name="reference"
              extra="One that the others are to look like, or each other."
            >
              <Select
                allowClear
                placeholder="each other"
                options={members.flatMap((m, i) =>
                  m?.displayId ? [{ value: m.displayId, label: nameOf(m.displayId)?.name ?? `Member ${i + 1}` }] : [],
                )}
              />
            </Form.Item>
          </div>
        </Plane>
        <div className="side">
          <Plane title="What they shall have in common">
            <div className="fields">
              <div className="row">
                <Form.Item label="White" name={['white', 'kind']}>
                  <Select
                    options={[
                      { value: 'standard', label: 'Standard' },
                      { value: 'xy', label: 'xy by hand' },
                      { value: 'temperature', label: 'Temperature' },
                    ]}
                    onChange={(kind: keyof typeof whites) => form.setFieldValue('white', whites[kind])}
                  />
                </Form.Item>
                {whiteKind === 'standard' && (
                  <Form.Item label="Which" name={['white', 'name']}>
                    <Select options={Object.keys(standardWhites).map((value) => ({ value, label: value }))} />
                  </Form.Item>
                )}
                {whiteKind === 'temperature' && (
                  <Form.Item label="Temperature, K" name={['white', 'kelvin']}>
                    <InputNumber step={100} />
                  </Form.Item>
                )}
                {whiteKind === 'xy' && (
                  <div className="row">
                    <Form.Item label="White x" name={['white', 'x']}>
                      <InputNumber step={0.001} />
                    </Form.Item>
                    <Form.Item label="White y" name={['white', 'y']}>
                      <InputNumber step={0.001} />
                    </Form.Item>
                  </div>
                )}
              </div>
              <div className="row">
                <Form.Item label="Tone response" name={['toneResponse', 'kind']}>
                  <Select
                    options={Object.keys(tones).map((value) => ({ value, label: value === 'power' ? 'Power' : value }))}
                    onChange={(kind: keyof typeof tones) => form.setFieldValue('toneResponse', tones[kind])}
                  />
                </Form.Item>
                {toneKind === 'power' && (
                  <Form.Item label="Exponent" name={['toneResponse', 'exponent']}>
                    <InputNumber step={0.1} />
                  </Form.Item>
                )}
              </div>
              <div className="row">
                <Form.Item label="Gamut, where all cover it" name="standard">
                  <Select
                    allowClear
                    placeholder="the largest that all share"
                    options={Object.keys(standardPrimaries).map((value) => ({ value, label: value }))}
                  />
                </Form.Item>
                <Form.Item label="Covered by each to" name="share">
                  <InputNumber step={0.01} {...percent} />
                </Form.Item>
              </div>
              <div className="row">
                <Form.Item label="Light kept in hand" name="headroom">
                  <InputNumber step={0.01} {...percent} />
                </Form.Item>
                <Form.Item label="Black" name="black">
                  <Select
                    options={[
                      { value: 'own', label: 'Each keeps its own' },
                      { value: 'common', label: 'All lifted to the highest' },
                    ]}
                  />
                </Form.Item>
              </div>
            </div>
          </Plane>
          <Plane title="How far two may be apart">
            <div className="fields">
              <div className="edges small second" aria-hidden>
                <span />
                <span>Near edge</span>
                <span>Hard edge</span>
              </div>
              {peerFigures.map((figure) => (
                <div className="edges" key={figure}>
                  <span>{limitWords[figure].label}</span>
                  <Form.Item name={['limits', figure, 'near']}>
                    <InputNumber aria-label={`Near edge, ${limitWords[figure].label}`} step={limitWords[figure].step} />
                  </Form.Item>
                  <Form.Item name={['limits', figure, 'hard']}>
                    <InputNumber aria-label={`Hard edge, ${limitWords[figure].label}`} step={limitWords[figure].step} />
                  </Form.Item>
                </div>
              ))}
              <span style={{ display: 'flex', gap: 8 }}>
                <Button type="primary" htmlType="submit" loading={pending}>
                  Save set
                </Button>
                <Button onClick={() => void navigate(stored ? `/peers/${stored.id}` : '/peers')}>Cancel</Button>
                {stored && <RemoveSet set={stored} />}
              </span>
            </div>
          </Plane>
        </div>
      </Form>
    </>
  )
}

function RemoveSet({ set }: { set: PeerSetDetail }) {
  const navigate = useNavigate()
  const remove = useSend(async () => {
    await ask('DELETE', `/peer-sets/${set.id}`)
    void navigate('/peers')
  })
  return (
    <Popconfirm
      title={`Take ${set.name} away?`}
      description="Its displays, slots and aim stay as they are."
      okText="Take it away"
      onConfirm={() => remove.mutate(undefined)}
    >
      <Button type="text" style={{ marginLeft: 'auto' }} loading={remove.isPending}>
        Remove set
      </Button>
    </Popconfirm>
  )
}

function MemberPicker({
  value,
  onChange,
  label,
  known,
}: {
  value?: number
  onChange?: (value: number) => void
  label: string
  known: (id: number) => PeerSetDetail['members'][number] | undefined
}) {
  const member = value === undefined ? undefined : known(value)
  return (
    <DisplayPicker
      label={label}
      value={value}
      onChange={(v) => onChange?.(v)}
      placeholder="Choose a display"
      known={member ? { value: member.displayId, label: `${member.name}, ${member.room}` } : null}
    />
  )
}
