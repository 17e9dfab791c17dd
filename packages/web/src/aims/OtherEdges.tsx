import { Button, Form } from 'antd'
import { edgesByRatio, formatMetric, metricLabel, type Limits, type LimitRule } from '@bichroma/core/aims'
import { differenceFormulas, differenceLabels, type DifferenceFormula } from '@bichroma/core/color'

/** Edges of colour differences under the formulas that these limits do not judge by: told, never judged by. */
export function OtherEdges({ formula }: { formula: DifferenceFormula }) {
  const form = Form.useFormInstance()
  const others = (Form.useWatch(['limits', 'others'], { form, preserve: true }) ?? {}) as NonNullable<Limits['others']>
  const rules = (Form.useWatch(['limits', 'rules'], { form, preserve: true }) ?? []) as LimitRule[]
  const rest = differenceFormulas.filter((f) => f !== formula)
  const told = rest.filter((f) => others[f]?.length)
  const derivable = formula === 'de2000' && rules.some((r) => r?.metric?.endsWith('DeltaE') && r.near && r.hard)
  return (
    <div className="otheredges">
      <p className="second small">
        {told.length
          ? 'Shown beside, each with edges of its own:'
          : `Only ${differenceLabels[formula]} has edges; figures by other formulas are shown without.`}
      </p>
      {told.map((f) => (
        <p key={f} className="small">
          <b style={{ fontWeight: 500 }}>{differenceLabels[f]}</b>{' '}
          {others[f]!.map(
            (r) =>
              `${metricLabel(r.metric, { formula: f }).replace(` ${differenceLabels[f]}`, '').toLowerCase()} ${formatMetric(r.metric, r.near)} / ${formatMetric(r.metric, r.hard)}`,
          ).join(', ')}
        </p>
      ))}
      {derivable && (
        <Button
          size="small"
          onClick={() =>
            form.setFieldValue(
              ['limits', 'others'],
              Object.fromEntries(
                rest.map((f) => [
                  f,
                  edgesByRatio(
                    rules.filter((r) => r?.metric),
                    f,
                  ),
                ]),
              ),
            )
          }
        >
          {told.length ? 'Work them out anew from the rules above' : 'Work edges for them out from the rules above'}
        </Button>
      )}
    </div>
  )
}
