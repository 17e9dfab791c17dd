import { CloseOutlined, DownOutlined, UpOutlined } from '@ant-design/icons'
import { Button, Form, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { limitedMetricNames, limitedMetrics, metricLabel, weights, type Limits } from '@bichroma/core/aims'
import type { DifferenceFormula } from '@bichroma/core/color'

const weightWords = {
  decides: 'decides the verdict',
  advises: 'brings it to near edge at most',
  told: 'is only told',
} as const
/** Ranges of grey levels that a rule by level can look at. */
const levelRanges = [
  { label: 'all greys', levels: undefined },
  { label: 'dark greys, to 20 %', levels: { from: 0, to: 0.2 } },
  { label: 'middle greys, 20–70 %', levels: { from: 0.2, to: 0.7 } },
  { label: 'light greys, from 70 %', levels: { from: 0.7, to: 1 } },
] as const

/** A figure's name, with its unit and, where more is better, a word on it. */
function metricChoice(metric: (typeof limitedMetricNames)[number], formula: DifferenceFormula): string {
  const { unit, atLeast } = limitedMetrics[metric]
  return `${metricLabel(metric, { formula })}${unit && `, ${unit}`}${atLeast ? ', at least' : ''}`
}

/** The rules of a set of limits: figure and edges in one row; what it counts for, which greys and why below it. */
export function RuleRows({ formula, mayEdit }: { formula: DifferenceFormula; mayEdit: boolean }) {
  const form = Form.useFormInstance()
  const [open, setOpen] = useState<number | null>(null)
  return (
    <>
      <div className="edges second small" style={{ marginBottom: 2 }}>
        <span>Figure</span>
        <span>Near edge</span>
        <span>Hard edge</span>
      </div>
      <Form.List name={['limits', 'rules']}>
        {(rules, { add, remove: drop }) => (
          <>
            {rules.map(({ key, name }) => (
              <div key={key}>
                <div className="edges">
                  <Form.Item name={[name, 'metric']} style={{ marginBottom: 8 }}>
                    <Select
                      aria-label="Figure"
                      options={limitedMetricNames.map((value) => ({ value, label: metricChoice(value, formula) }))}
                    />
                  </Form.Item>
                  <Form.Item name={[name, 'near']} style={{ marginBottom: 8 }}>
                    <InputNumber aria-label="Near edge" />
                  </Form.Item>
                  <Form.Item name={[name, 'hard']} style={{ marginBottom: 8 }}>
                    <InputNumber aria-label="Hard edge" />
                  </Form.Item>
                  <Button
                    type="text"
                    disabled={false}
                    aria-label={open === key ? 'Hide weight and reason' : 'Show weight and reason'}
                    aria-expanded={open === key}
                    icon={open === key ? <UpOutlined /> : <DownOutlined />}
                    onClick={() => setOpen(open === key ? null : key)}
                  />
                  {mayEdit && (
                    <Button
                      type="text"
                      aria-label="Remove this rule"
                      icon={<CloseOutlined />}
                      onClick={() => drop(name)}
                    />
                  )}
                </div>
                {open === key && <RuleMore name={name} />}
              </div>
            ))}
            {mayEdit && (
              <Button
                style={{ marginBottom: 12 }}
                onClick={() => {
                  const used = (form.getFieldValue(['limits', 'rules']) as Limits['rules']).map((r) => r?.metric)
                  const metric = limitedMetricNames.find((m) => !used.includes(m)) ?? 'toneError'
                  add({ metric, ...limitedMetrics[metric].start })
                }}
              >
                Add rule
              </Button>
            )}
          </>
        )}
      </Form.List>
    </>
  )
}

/** What a rule counts for, the greys that it looks at, and why its edges are what they are. */
function RuleMore({ name }: { name: number }) {
  const form = Form.useFormInstance()
  const metric = Form.useWatch(['limits', 'rules', name, 'metric'], form) as keyof typeof limitedMetrics | undefined
  return (
    <div className="rulemore">
      <Form.Item label="Weight" name={[name, 'weight']} initialValue="decides">
        <Select options={weights.map((value) => ({ value, label: weightWords[value] }))} />
      </Form.Item>
      {metric && limitedMetrics[metric]?.byLevel && (
        <Form.Item
          label="Looks at"
          name={[name, 'levels']}
          getValueProps={(levels?: { from: number; to: number }) => ({
            value: Math.max(
              0,
              levelRanges.findIndex((r) => r.levels?.from === levels?.from && r.levels?.to === levels?.to),
            ),
          })}
          getValueFromEvent={(index: number) => levelRanges[index].levels}
        >
          <Select options={levelRanges.map(({ label }, value) => ({ value, label }))} />
        </Form.Item>
      )}
      <Form.Item label="Why these edges" name={[name, 'reason']} className="wide">
        <Input.TextArea autoSize={{ minRows: 1, maxRows: 4 }} />
      </Form.Item>
    </div>
  )
}
