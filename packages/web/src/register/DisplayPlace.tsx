import { Button, Form, Input, InputNumber, Modal, Segmented, Select } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { panelKinds } from '@bichroma/core/register'
import {
  keepDisplaySchema,
  moveDisplaySchema,
  replaceDisplaySchema,
  type DisplayDetail,
  type FoundDisplay,
  type KeepDisplay,
  type ReplaceDisplay,
} from '@bichroma/contract'
import { ask } from '../api/client'
import { WorkstationPicker } from '../parts/Picker'
import { Plane } from '../parts/Plane'
import { useSchemaForm } from '../parts/useSchemaForm'
import { formatDay } from '../parts/times'

type Going = 'move' | 'replace' | 'keep' | 'return'

/** Where a display stands, and where it goes: moved, replaced, stored, retired, and back. */
export function DisplayPlace({ display }: { display: DisplayDetail }) {
  const [going, setGoing] = useState<Going | null>(null)
  const close = () => setGoing(null)
  const { kept, keptSince, keptWhy } = display
  return (
    <Plane title="Place">
      <div style={{ padding: '0 12px 12px', display: 'grid', gap: 10 }}>
        {kept === 'in use' ? (
          <>
            <p className="second">
              {display.workstation.name}, {display.room.name}
            </p>
            <span className="row">
              <Button size="small" onClick={() => setGoing('move')}>
                Move
              </Button>
              <Button size="small" onClick={() => setGoing('replace')}>
                Replace
              </Button>
              <Button size="small" onClick={() => setGoing('keep')}>
                Store or retire
              </Button>
            </span>
          </>
        ) : (
          <>
            <p className="second">
              {kept === 'stored' ? 'Stored' : 'Retired'}
              {keptSince !== null && ` since ${formatDay(keptSince)}`}; stood at {display.workstation.name}.
              {keptWhy && <> {keptWhy}</>}
            </p>
            <span className="row">
              <Button size="small" onClick={() => setGoing('return')}>
                Take back into use
              </Button>
            </span>
          </>
        )}
      </div>
      {going === 'move' && <MoveForm display={display} onClose={close} />}
      {going === 'replace' && <ReplaceForm display={display} onClose={close} />}
      {going === 'keep' && <KeepForm display={display} onClose={close} />}
      {going === 'return' && <ReturnForm display={display} onClose={close} />}
    </Plane>
  )
}

interface Props {
  readonly display: { readonly id: number; readonly name: string }
  readonly onClose: () => void
}

function MoveForm({ display, onClose }: Props) {
  const { form, submit, pending } = useSchemaForm<{ workstationId: number }>(moveDisplaySchema, (input) =>
    ask('POST', `/displays/${display.id}/move`, input).then(onClose),
  )
  return (
    <Modal
      open
      title={`Move ${display.name}`}
      okText="Move it"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={400}
    >
      <p className="second">Its history goes with it; its profile is placed there anew.</p>
      <Form form={form} layout="vertical" onFinish={submit}>
        <Form.Item label="To the workstation" name="workstationId">
          <WorkstationPicker />
        </Form.Item>
      </Form>
    </Modal>
  )
}

function KeepForm({ display, onClose }: Props) {
  const { form, submit, pending } = useSchemaForm<KeepDisplay>(
    keepDisplaySchema,
    (input) => ask('POST', `/displays/${display.id}/keep`, input).then(onClose),
    ({ kept, why }) => ({ kept, ...(why && { why }) }),
  )
  const kept = Form.useWatch('kept', form) ?? 'stored'
  return (
    <Modal
      open
      title={`Store or retire ${display.name}`}
      okText={kept === 'retired' ? 'Retire it' : 'Store it'}
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={420}
    >
      <Form form={form} layout="vertical" initialValues={{ kept: 'stored' }} onFinish={submit}>
        <Form.Item name="kept" label="It is">
          <Segmented
            block
            options={[
              { value: 'stored', label: 'stored, and may come back' },
              { value: 'retired', label: 'retired' },
            ]}
          />
        </Form.Item>
        <Form.Item label="Why" name="why">
          <Input autoFocus maxLength={200} />
        </Form.Item>
      </Form>
      <p className="second">It is not due any more and on no list of what is in use. Its history stays.</p>
    </Modal>
  )
}

function ReturnForm({ display, onClose }: { display: DisplayDetail; onClose: () => void }) {
  const { form, submit, pending } = useSchemaForm<{ workstationId?: number }>(
    keepDisplaySchema,
    (input) => ask('POST', `/displays/${display.id}/keep`, input).then(onClose),
    (values) => ({ ...values, kept: 'in use' }),
  )
  const { id, name } = display.workstation
  return (
    <Modal
      open
      title={`Take ${display.name} back into use`}
      okText="Take it back"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={400}
    >
      <Form form={form} layout="vertical" initialValues={{ workstationId: id }} onFinish={submit}>
        <Form.Item label="At the workstation" name="workstationId">
          <WorkstationPicker known={{ value: id, label: name }} />
        </Form.Item>
      </Form>
    </Modal>
  )
}

/** Another display takes a desk; `found`: the one that a courier sees there. */
export function ReplaceForm({ display, found, onClose }: Props & { found?: FoundDisplay }) {
  const navigate = useNavigate()
  const { form, submit, pending } = useSchemaForm<ReplaceDisplay>(
    replaceDisplaySchema,
    async (input) => {
      const { id } = await ask<{ id: number }>('POST', `/displays/${display.id}/replace`, input)
      onClose()
      void navigate(`/register/${id}`)
    },
    ({ why, ...rest }) => ({ ...rest, ...(why && { why }) }),
  )
  const seen = found && {
    maker: found.maker,
    model: found.model,
    serial: found.serial,
    firmware: found.firmware,
    panelKind: found.panelKind,
    slots: found.slots,
  }
  return (
    <Modal
      open
      title={`Another display at the desk of ${display.name}`}
      okText="Replace it"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={520}
    >
      <p className="second" style={{ marginBottom: 10 }}>
        The new one is called {display.name}, with the same limits and interval. What the old one did stays with its
        serial number.
      </p>
      <Form form={form} layout="vertical" initialValues={{ slots: 3, old: 'retired', ...seen }} onFinish={submit}>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 14px' }}>
          <Form.Item label="Maker" name="maker">
            <Input autoFocus />
          </Form.Item>
          <Form.Item label="Model" name="model">
            <Input />
          </Form.Item>
          <Form.Item label="Serial number" name="serial">
            <Input />
          </Form.Item>
          <Form.Item label="Firmware" name="firmware">
            <Input />
          </Form.Item>
          <Form.Item label="Panel" name="panelKind">
            <Select options={Object.entries(panelKinds).map(([value, label]) => ({ value, label }))} />
          </Form.Item>
          <Form.Item label="Slots" name="slots">
            <InputNumber style={{ width: '100%' }} />
          </Form.Item>
          <Form.Item label="The old one is" name="old">
            <Select
              options={[
                { value: 'retired', label: 'retired' },
                { value: 'stored', label: 'stored' },
              ]}
            />
          </Form.Item>
          <Form.Item label="Why" name="why">
            <Input maxLength={200} />
          </Form.Item>
        </div>
      </Form>
    </Modal>
  )
}
