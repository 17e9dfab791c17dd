import { Button, Form, Input, Popconfirm, Select } from 'antd'
import { useNavigate } from 'react-router'
import { decisions, namedLimits, type Decision, type Limits } from '@bichroma/core/aims'
import { differenceFormulas, differenceLabels, type DifferenceFormula } from '@bichroma/core/color'
import { saveLimitsSchema, type SaveLimits, type StoredLimits } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { checked, showProblem } from '../parts/useYupForm'
import { OtherEdges } from './OtherEdges'
import { RuleRows } from './RuleRows'

/** Empty parts of a rule are left out, as they stand for the usual. */
function tidy({ name, limits }: SaveLimits): SaveLimits {
  const rules = limits.rules.map(({ reason, levels, weight, ...rule }) => ({
    ...rule,
    ...(reason?.trim() && { reason }),
    ...(levels && { levels }),
    ...(weight && weight !== 'decides' && { weight }),
  }))
  const formula = limits.formula ?? 'de2000'
  const others = Object.fromEntries(
    Object.entries(limits.others ?? {}).filter(([f, edges]) => f !== formula && edges && edges.length > 0),
  )
  const { decision } = limits
  return {
    name,
    limits: {
      formula,
      ...(decision === 'simple' && { decision }),
      rules,
      ...(Object.keys(others).length && { others }),
    },
  }
}

const decisionWords: Readonly<Record<Decision, string>> = {
  guarded: 'it cannot be told',
  simple: 'the figure decides as it was seen',
}

/** Limits, to read or to change: the formula they judge by, each rule with its edges, weight and reason. */
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
  const formula = Form.useWatch<DifferenceFormula | undefined>(['limits', 'formula'], form) ?? 'de2000'
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
    const input = checked(form, saveLimitsSchema, tidy(form.getFieldsValue(true) as SaveLimits))
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
        initialValues={{ name: stored?.name ?? '', limits: { formula: 'de2000', decision: 'guarded', ...initial } }}
        disabled={!mayEdit}
        onFinish={submit}
      >
        {!stored && (
          <Form.Item label="Begin with">
            <Select
              aria-label="Begin with"
              placeholder="rules of your own, or a named set"
              options={namedLimits.map((n) => ({ value: n.name, label: `${n.name}: ${n.for}` }))}
              onChange={(name: string) =>
                form.setFieldsValue({
                  limits: { decision: 'guarded', ...namedLimits.find((n) => n.name === name)!.limits } as never,
                })
              }
            />
          </Form.Item>
        )}
        <div className="row">
          <Form.Item label="Name" name="name">
            <Input />
          </Form.Item>
          <Form.Item label="Colour differences by" name={['limits', 'formula']}>
            <Select options={differenceFormulas.map((value) => ({ value, label: differenceLabels[value] }))} />
          </Form.Item>
        </div>
        <Form.Item
          label="Where doubt about the instrument covers a hard edge"
          name={['limits', 'decision']}
          extra="What is not known of an instrument, its correction and its certificate is reckoned into every figure."
        >
          <Select options={decisions.map((value) => ({ value, label: decisionWords[value] }))} />
        </Form.Item>
        <RuleRows formula={formula} mayEdit={mayEdit} />
        <OtherEdges formula={formula} />
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
