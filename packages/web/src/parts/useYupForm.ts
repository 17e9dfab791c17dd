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
export function checked<T>(form: FormInstance, schema: yup.Schema<T>, value: unknown): T | null {
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

function showAt(form: FormInstance, field: string | undefined, sentence: string) {
  const fields = Object.keys(form.getFieldsValue(true) as object)
  const name = field ? nameOf(field) : [fields[0]]
  // A whole group at fault (a white outside the locus) is told at its nearest field.
  const target =
    form.getFieldInstance(name) === undefined && form.getFieldInstance([...name, 'x']) !== undefined
      ? [...name, 'x']
      : name
  form.setFields([{ name: target, errors: [sentence] }])
  form.scrollToField(target, { block: 'center' })
}
