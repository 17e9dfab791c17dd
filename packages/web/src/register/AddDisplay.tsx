import { App, Form, Input, InputNumber, Modal, Select } from 'antd'
import { panelKinds } from '@bichroma/core/register'
import { saveDisplaySchema, type FoundDisplay, type SaveDisplay } from '@bichroma/contract'
import { ask } from '../api/client'
import { useLimits, useSend } from '../api/queries'
import { ChooseFile } from '../parts/ChooseFile'
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
  const { message } = App.useApp()
  const limits = useLimits().data ?? []
  const add = useSend(
    (input: SaveDisplay) =>
      ask('POST', '/displays', input).then(() => {
        onClose()
        onAdded(input.name)
      }),
    (problem) => showProblem(form, problem),
  )
  const fill = async (file: File) => {
    try {
      const { maker, name, serialText, serialNumber } = await edidOf(file)
      form.setFieldsValue({ maker, model: name, serial: serialText || String(serialNumber ?? '') })
    } catch (error) {
      void message.error(`${file.name}: ${(error as Error).message}`)
    }
  }
  const submit = () => {
    const input = checked(form, saveDisplaySchema, form.getFieldsValue())
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
      {!found && (
        <p className="second" style={{ marginBottom: 10, display: 'flex', gap: 10, alignItems: 'center' }}>
          <ChooseFile
            label="EDID file"
            accept=".bin,.edid,application/octet-stream"
            onChoose={(file) => void fill(file)}
          >
            Read an EDID file
          </ChooseFile>
          What the display says of itself, as its system keeps it.
        </p>
      )}
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

/** No EDID is longer. */
const longestEdid = 32_768

/** What an EDID file says. Throws an error with a sentence. */
async function edidOf(file: File) {
  if (file.size > longestEdid) throw new Error('This is larger than an EDID is.')
  // Nobody needs it before a file is chosen.
  const { readEdid } = await import('@bichroma/core/formats')
  return readEdid(new Uint8Array(await file.arrayBuffer())).edid
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
