import { Button, Form, Input, InputNumber, Modal, Segmented } from 'antd'
import { profileDescription } from '@bichroma/core/profiles'
import { studioSettingsSchema, type SaveStudioSettings, type StudioSettings } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { checked, showProblem } from '../parts/useYupForm'

/** A profile as its name would be made. */
const example = { display: 'Sedge 2', slot: 1, aim: 'Atlas web', luminance: 120, at: Date.UTC(2026, 10, 24) }

/** What the studio decided about its profiles and about the night; read by everybody, changed by administrators. */
export function NamesAndNights({ settings, onClose }: { settings: StudioSettings; onClose: () => void }) {
  const [form] = Form.useForm<StudioSettings>()
  const template = Form.useWatch('profileName', form) ?? settings.profileName
  const save = useSend(
    async (value: SaveStudioSettings) => {
      await ask('PUT', '/settings', value)
      onClose()
    },
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const value = checked(form, studioSettingsSchema, form.getFieldsValue(true))
    if (value) save.mutate(value)
  }
  return (
    <Modal
      open
      title="Names and nights"
      onCancel={onClose}
      footer={[
        <Button key="not" onClick={onClose}>
          Leave as it is
        </Button>,
        <Button key="save" type="primary" loading={save.isPending} onClick={submit}>
          Save names and nights
        </Button>,
      ]}
    >
      <Form form={form} layout="vertical" initialValues={settings}>
        <Form.Item
          label="Names of profiles"
          name="profileName"
          extra={<>As in “{profileDescription(template, example)}”. In braces: display, slot, aim, luminance, date.</>}
        >
          <Input />
        </Form.Item>
        <Form.Item label="A new profile of a slot" name="placing">
          <Segmented
            block
            options={[
              { value: 'keep', label: 'stands beside the old, with its date' },
              { value: 'overwrite', label: 'takes the old one’s place' },
            ]}
          />
        </Form.Item>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 12 }}>
          <Form.Item label="Version, unless chosen otherwise" name={['profile', 'version']}>
            <Segmented block options={[4, 2]} />
          </Form.Item>
          <Form.Item label="Kind" name={['profile', 'kind']}>
            <Segmented block options={['matrix', 'table']} />
          </Form.Item>
          <Form.Item label="Night begins" name={['night', 'from']}>
            <Input />
          </Form.Item>
          <Form.Item label="Night ends" name={['night', 'to']}>
            <Input />
          </Form.Item>
        </div>
        <Form.Item
          label="Minutes that a workstation must have been left alone"
          name={['night', 'idleMinutes']}
          extra="By the clock of the server."
        >
          <InputNumber />
        </Form.Item>
      </Form>
    </Modal>
  )
}
