import { Form, InputNumber, Segmented } from 'antd'
import { samplingNames, type Budget, type Sampling } from '@bichroma/core/runs'

/** How much a full run takes on: a sampling, or what it may take at most. */
export interface Effort {
  readonly sampling: Sampling
  readonly budget: Budget | null
}

/** What a budget starts from when its kind is chosen. */
const starts: Readonly<Record<Budget['kind'], Budget>> = {
  readings: { kind: 'readings', most: 160 },
  minutes: { kind: 'minutes', most: 10 },
}
const kinds = Object.keys(starts) as Budget['kind'][]

/** Chooses a sampling, or a budget in readings or minutes. */
export function HowMuch({ sampling, budget, onChange }: Effort & { onChange: (effort: Effort) => void }) {
  return (
    <Form.Item label="Sampling" extra={budget && 'Baseline, Level and Prove are taken off; Shape has what is left.'}>
      <Segmented
        block
        aria-label="Sampling"
        value={budget ? 'budget' : sampling}
        onChange={(value) =>
          onChange(
            value === 'budget' ? { sampling, budget: starts.minutes } : { sampling: value as Sampling, budget: null },
          )
        }
        options={[...samplingNames.map((value) => ({ value, label: value })), { value: 'budget', label: 'a budget' }]}
      />
      {budget && (
        <div style={{ display: 'flex', gap: 8, marginTop: 6 }}>
          <InputNumber
            aria-label="Budget"
            value={budget.most}
            min={1}
            onChange={(most) => onChange({ sampling, budget: { ...budget, most: most ?? starts[budget.kind].most } })}
          />
          <Segmented
            aria-label="Unit of the budget"
            value={budget.kind}
            onChange={(kind) => onChange({ sampling, budget: starts[kind] })}
            options={kinds}
          />
        </div>
      )}
    </Form.Item>
  )
}
