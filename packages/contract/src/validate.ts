import { yup } from './sentences'

/** A value that did not fit its schema: the first sentence and the field it is about. */
export class InvalidInput extends Error {
  constructor(
    readonly sentence: string,
    readonly field: string | undefined,
  ) {
    super(sentence)
    this.name = 'InvalidInput'
  }
}

/** The value as its schema wants it (strings trimmed). Throws {@link InvalidInput} naming the first field at fault. */
export function validate<T>(schema: yup.Schema<T>, value: unknown): T {
  try {
    // Strict about types first: “12” is not a number, and a list is not a text.
    if (value === null || typeof value !== 'object' || Array.isArray(value))
      throw new InvalidInput('The message must be a group of fields (a JSON object).', undefined)
    return schema.validateSync(value, { abortEarly: true, stripUnknown: false })
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new InvalidInput(error.message, error.path || undefined)
    throw error
  }
}
