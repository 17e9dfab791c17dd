import { shapeFault } from './messageShape'
import { yup } from './sentences'

/** What is wrong with one field. */
export interface FieldFault {
  readonly sentence: string
  readonly field: string | undefined
}

/** A value that did not fit its schema: the first sentence with the field it is about, and one for every other field. */
export class InvalidInput extends Error {
  constructor(
    readonly sentence: string,
    readonly field: string | undefined,
    readonly all: readonly FieldFault[] = [{ sentence, field }],
  ) {
    super(sentence)
    this.name = 'InvalidInput'
  }
}

/** Yup's error as ours: the first sentence of each field, fields in the order of their schema. */
function invalid(error: yup.ValidationError): InvalidInput {
  const each = error.inner.length ? error.inner : [error]
  const all = each
    .map(({ message, path }): FieldFault => ({ sentence: message, field: path || undefined }))
    .filter((fault, i, list) => list.findIndex((f) => f.field === fault.field) === i)
  return new InvalidInput(all[0].sentence, all[0].field, all)
}

/** Characters of JSON from which a message is told of its first fault only: looking for every one takes too long. */
const longMessage = 20_000

/** What is wrong with a value, of which the first fault is known. */
function everyFault(schema: yup.AnySchema, value: unknown, first: yup.ValidationError): InvalidInput {
  if (JSON.stringify(value).length > longMessage) return invalid(first)
  try {
    schema.validateSync(value, { abortEarly: false, stripUnknown: false })
  } catch (error) {
    if (error instanceof yup.ValidationError) return invalid(error)
    throw error
  }
  return invalid(first)
}

/** The value as its schema wants it (strings trimmed). Throws {@link InvalidInput} naming the first field at fault. */
export function validate<S extends yup.AnySchema>(schema: S, value: unknown): yup.InferType<S> {
  try {
    // Strict about types first: “12” is not a number, and a list is not a text.
    if (value === null || typeof value !== 'object' || Array.isArray(value))
      throw new InvalidInput('The message must be a group of fields (a JSON object).', undefined)
    const fault = shapeFault(value)
    if (fault) throw new InvalidInput(fault.sentence, fault.field)
    return schema.validateSync(value, { abortEarly: true, stripUnknown: false }) as yup.InferType<S>
  } catch (error) {
    if (error instanceof yup.ValidationError) throw everyFault(schema, value, error)
    throw error
  }
}

/** Whether a value is what its schema wants. */
export function fits<S extends yup.AnySchema>(schema: S, value: unknown): value is yup.InferType<S> {
  try {
    validate(schema, value)
    return true
  } catch (error) {
    if (error instanceof InvalidInput) return false
    throw error
  }
}
