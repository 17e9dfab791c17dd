import { Button, Form, Input, InputNumber, Select } from 'antd'
import { changeDisplaySchema, type ChangeDisplay, type DisplayDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useLimits } from '../api/queries'
import { Plane } from '../parts/Plane'
import { useSchemaForm } from '../parts/useSchemaForm'

/** What the studio decides about a display: its name, by which limits it is judged, and how often. */
export function DisplayCare({ display }: { display: DisplayDetail }) {
  const limits = useLimits().data ?? []
  const { form, submit, pending } = useSchemaForm<ChangeDisplay>(changeDisplaySchema, (input) =>
    ask('PUT', `/displays/${display.id}`, input),
  )
  const { name, limitsId, checkEveryDays } = display
  return (
    <Plane title="Care">
      <Form
        form={form}
        layout="vertical"
        initialValues={{ name, limitsId, checkEveryDays }}
        onFinish={submit}
        style={{ padding: '0 12px 12px' }}
      >
        <Form.Item label="Name in the studio" name="name">
          <Input />
        </Form.Item>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 12 }}>
          <Form.Item label="Limits" name="limitsId">
            <Select options={limits.map((l) => ({ value: l.id, label: l.name }))} />
          </Form.Item>
          <Form.Item label="Days between checks" name="checkEveryDays">
            <InputNumber style={{ width: '100%' }} />
          </Form.Item>
        </div>
        <Button htmlType="submit" loading={pending}>
          Save care
        </Button>
      </Form>
    </Plane>
  )
}
