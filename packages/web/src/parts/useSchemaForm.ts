import { Form, type FormInstance } from 'antd'
import type { yup } from '@bichroma/contract'
import { useSend } from '../api/queries'
import { checked, showProblem } from './useYupForm'

/** A form whose values are checked by the schema that the server checks them by; what the server refuses stands at its field. */
export interface SchemaForm<T> {
  readonly form: FormInstance<T>
  readonly submit: () => void
  readonly pending: boolean
}

/** `valueOf`: what is sent, of what the form holds; all of it unless given. */
export function useSchemaForm<T extends object>(
  schema: yup.AnySchema,
  send: (input: T, form: FormInstance<T>) => Promise<unknown>,
  valueOf: (values: T) => unknown = (values) => values,
): SchemaForm<T> {
  const [form] = Form.useForm<T>()
  const sending = useSend(
    (input: T) => send(input, form),
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    // What the form holds is what its schema gives back: its fields are those of T.
    const input = checked(form, schema, valueOf(form.getFieldsValue())) as T | null
    if (input) sending.mutate(input)
  }
  return { form, submit, pending: sending.isPending }
}
