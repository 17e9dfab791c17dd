import type { FormInstance } from 'antd'
import { InvalidInput, validate, type yup } from '@bichroma/contract'
import type { ApiProblem } from '../api/client'

/** A problem's field as Ant Design names it. */
const nameOf = (field: string): (string | number)[] =>
  field
    .replace(/\[(\d+)\]/g, '.$1')
    .split('.')
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part))

/** Checks a form by the same schema as the server; puts each sentence at its field. Null when something is off. */
export function checked<S extends yup.AnySchema>(
  form: FormInstance,
  schema: S,
  value: unknown,
): yup.InferType<S> | null {
  // What was wrong before is told no more.
  form.setFields(
    form
      .getFieldsError()
      .filter(({ errors }) => errors.length)
      .map(({ name }) => ({ name, errors: [] })),
  )
  try {
    return validate(schema, value)
  } catch (error) {
    if (!(error instanceof InvalidInput)) throw error
    for (const { field, sentence } of [...error.all].reverse()) showAt(form, field, sentence)
    return null
  }
}

/** Shows the server's refusal at the field at fault. */
export const showProblem = (form: FormInstance, { problem }: ApiProblem): void =>
  showAt(form, problem.field, problem.detail)

type FieldName = readonly (string | number)[]
const begins = (name: FieldName, by: FieldName) => by.every((part, i) => name[i] === part)

/**
 * The field at which a problem is shown: the one at fault; of a whole group (a white outside the locus, primaries on one
 * line) its first figure, else what it begins with; of what has no field, the one that it belongs to, else the first.
 */
function fieldFor(form: FormInstance, at: FieldName): FieldName {
  const fields = form.getFieldsError().map(({ name }) => name as FieldName)
  const same = (name: FieldName) => fields.find((f) => f.length === name.length && begins(f, name))
  return (
    same(at) ??
    same([...at, 'x']) ??
    fields.find((f) => begins(f, at)) ??
    [...fields].sort((a, b) => b.length - a.length).find((f) => begins(at, f)) ??
    fields[0] ??
    at
  )
}

function showAt(form: FormInstance, field: string | undefined, sentence: string) {
  const target = [...fieldFor(form, field ? nameOf(field) : [])]
  form.setFields([{ name: target, errors: [sentence] }])
  form.scrollToField(target, { block: 'center' })
}
