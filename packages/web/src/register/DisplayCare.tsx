import { Button, Form, Input, InputNumber, Select } from 'antd'
import { changeDisplaySchema, type ChangeDisplay, type DaysFrom, type DisplayDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useLimits, useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { useSchemaForm } from '../parts/useSchemaForm'

/** Whose rule gives the days. */
const daysFromWords: Readonly<Record<DaysFrom, string>> = {
  room: 'by its room’s rule',
  aim: 'by its aim’s rule',
  limits: 'by its limits’ rule',
  panel: 'by its panel’s rule',
  studio: 'by the studio’s rule',
  usual: 'as is usual for its panel',
}

/** What the studio decides about a display: its name, by which limits it is judged, and how often. */
export function DisplayCare({ display }: { display: DisplayDetail }) {
  const limits = useLimits().data ?? []
  const { form, submit, pending } = useSchemaForm<ChangeDisplay>(changeDisplaySchema, (input) =>
    ask('PUT', `/displays/${display.id}`, input),
  )
  const { name, limitsId, checkEveryDays, daysFrom } = display
  const byRule = useSend(() => ask('PUT', '/due-rules', { level: 'display', of: display.id, everyDays: null }))
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
          <Form.Item
            label="Days between checks"
            name="checkEveryDays"
            extra={daysFrom ? daysFromWords[daysFrom] : undefined}
          >
            <InputNumber style={{ width: '100%' }} />
          </Form.Item>
        </div>
        <Button htmlType="submit" loading={pending}>
          Save care
        </Button>{' '}
        {daysFrom === null && (
          <Button loading={byRule.isPending} onClick={() => byRule.mutate(undefined)}>
            Let a rule give the days
          </Button>
        )}
      </Form>
    </Plane>
  )
}
