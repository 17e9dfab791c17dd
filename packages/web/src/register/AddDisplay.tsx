import { Form, Input, InputNumber, Modal, Select } from 'antd'
import { panelKinds } from '@bichroma/core/register'
import { saveDisplaySchema, type FoundDisplay, type SaveDisplay, type yup } from '@bichroma/contract'
import { ask } from '../api/client'
import { useLimits, useSend } from '../api/queries'
import { WorkstationPicker } from '../parts/Picker'
import { checked, showProblem } from '../parts/useYupForm'

/** A new display in the register; `found`: what a courier reports of it. */
export function AddDisplay({
  onClose,
  onAdded,
  found,
}: {
  onClose: () => void
  onAdded: (name: string) => void
  found?: FoundDisplay
}) {
  const [form] = Form.useForm<SaveDisplay>()
  const limits = useLimits().data ?? []
  const add = useSend(
    (input: SaveDisplay) =>
      ask('POST', '/displays', input).then(() => {
        onClose()
        onAdded(input.name)
      }),
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const input = checked(form, saveDisplaySchema as yup.Schema<SaveDisplay>, form.getFieldsValue())
    if (input) add.mutate(input)
  }
  return (
    <Modal
      open
      title="Add a display"
      okText="Add display"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={add.isPending}
      width={520}
    >
      <Form
        form={form}
        layout="vertical"
        initialValues={found ? valuesOf(found) : { checkEveryDays: 28, slots: 3 }}
        onFinish={submit}
      >
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 14px' }}>
          <Form.Item label="Name in the studio" name="name">
            <Input autoFocus />
          </Form.Item>
          <Form.Item label="Workstation" name="workstationId">
            <WorkstationPicker known={found && { value: found.workstationId, label: found.workstation }} />
          </Form.Item>
          <Form.Item label="Maker" name="maker">
            <Input />
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
          <Form.Item label="Limits" name="limitsId">
            <Select options={limits.map((l) => ({ value: l.id, label: l.name }))} />
          </Form.Item>
          <Form.Item label="Days between checks" name="checkEveryDays">
            <InputNumber style={{ width: '100%' }} />
          </Form.Item>
        </div>
      </Form>
    </Modal>
  )
}

/** What a courier reports of a display, and how others of its model are looked after, as the form holds it. */
const valuesOf = ({ maker, model, serial, firmware, slots, panelKind, workstationId, like }: FoundDisplay) => ({
  maker,
  model,
  serial,
  firmware,
  slots,
  panelKind,
  workstationId,
  checkEveryDays: like?.checkEveryDays ?? 28,
  ...(like && { limitsId: like.limitsId }),
})
