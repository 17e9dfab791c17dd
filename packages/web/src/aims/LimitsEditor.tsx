import { CloseOutlined } from '@ant-design/icons'
import { Button, Form, Input, InputNumber, Popconfirm, Select } from 'antd'
import { useNavigate } from 'react-router'
import { limitedMetricNames, limitedMetrics, type Limits } from '@bichroma/core'
import { saveLimitsSchema, type SaveLimits, type StoredLimits, type yup } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { checked, showProblem } from '../parts/useYupForm'

/** A figure's name, with its unit and, where more is better, a word on it. */
function metricLabel(metric: (typeof limitedMetricNames)[number]): string {
  const { label, unit, atLeast } = limitedMetrics[metric]
  return `${label}${unit && `, ${unit}`}${atLeast ? ', at least' : ''}`
}

/** Limits, to read or to change: each rule with its near and hard edge. */
export function LimitsEditor({
  stored,
  initial,
  mayEdit,
}: {
  stored: StoredLimits | null
  initial: Limits
  mayEdit: boolean
}) {
  const [form] = Form.useForm<SaveLimits>()
  const navigate = useNavigate()
  const save = useSend(
    async (input: SaveLimits) => {
      if (stored) await ask('PUT', `/limits/${stored.id}`, input)
      else void navigate(`/aims/limits/${(await ask<{ id: number }>('POST', '/limits', input)).id}`)
    },
    (problem) => showProblem(form, problem),
  )
  const remove = useSend(async () => {
    await ask('DELETE', `/limits/${stored!.id}`)
    void navigate('/aims/limits')
  })
  const submit = () => {
    const input = checked(form, saveLimitsSchema as unknown as yup.Schema<SaveLimits>, form.getFieldsValue(true))
    if (input) save.mutate(input)
  }
  return (
    <Plane
      title={stored ? stored.name : 'New limits'}
      aside={mayEdit ? undefined : 'only an administrator can change them'}
    >
      <Form
        form={form}
        layout="vertical"
        className="editor"
        initialValues={{ name: stored?.name ?? '', limits: initial }}
        disabled={!mayEdit}
        onFinish={submit}
      >
        <Form.Item label="Name" name="name">
          <Input />
        </Form.Item>
        <div className="edges second small" style={{ marginBottom: 2 }}>
          <span>Figure</span>
          <span>Near edge</span>
          <span>Hard edge</span>
        </div>
        <Form.List name={['limits', 'rules']}>
          {(rules, { add, remove: drop }) => (
            <>
              {rules.map(({ key, name }) => (
                <div className="edges" key={key}>
                  <Form.Item name={[name, 'metric']} style={{ marginBottom: 8 }}>
                    <Select
                      aria-label="Figure"
                      options={limitedMetricNames.map((value) => ({ value, label: metricLabel(value) }))}
                    />
                  </Form.Item>
                  <Form.Item name={[name, 'near']} style={{ marginBottom: 8 }}>
                    <InputNumber aria-label="Near edge" />
                  </Form.Item>
                  <Form.Item name={[name, 'hard']} style={{ marginBottom: 8 }}>
                    <InputNumber aria-label="Hard edge" />
                  </Form.Item>
                  {mayEdit && (
                    <Button
                      type="text"
                      aria-label="Remove this rule"
                      icon={<CloseOutlined />}
                      onClick={() => drop(name)}
                    />
                  )}
                </div>
              ))}
              {mayEdit && rules.length < limitedMetricNames.length && (
                <Button
                  style={{ marginBottom: 12 }}
                  onClick={() => {
                    const used = (form.getFieldValue(['limits', 'rules']) as Limits['rules']).map((r) => r?.metric)
                    const metric = limitedMetricNames.find((m) => !used.includes(m))!
                    add({ metric, ...limitedMetrics[metric].start })
                  }}
                >
                  Add rule
                </Button>
              )}
            </>
          )}
        </Form.List>
        {mayEdit && (
          <div style={{ display: 'flex', gap: 8, marginTop: 4 }}>
            <Button type="primary" htmlType="submit" loading={save.isPending}>
              {stored ? 'Save limits' : 'Add limits'}
            </Button>
            {stored && (
              <Popconfirm
                title={`Delete “${stored.name}”?`}
                description="Past judgements keep theirs."
                okText="Delete limits"
                cancelText="Keep them"
                onConfirm={() => remove.mutate(undefined)}
              >
                <Button>Delete limits</Button>
              </Popconfirm>
            )}
          </div>
        )}
      </Form>
    </Plane>
  )
}
