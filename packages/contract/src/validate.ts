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

/**
 * Names that every object answers to. Yup looks fields up by name without asking whose they are, so a message that
 * carries one of these is refused before it gets there.
 */
function inheritedName(value: unknown): string | null {
  if (value === null || typeof value !== 'object') return null
  for (const [key, inner] of Object.entries(value)) {
    if (!Array.isArray(value) && key in Object.prototype) return key
    const found = inheritedName(inner)
    if (found) return found
  }
  return null
}

/** The value as its schema wants it (strings trimmed). Throws {@link InvalidInput} naming the first field at fault. */
export function validate<T>(schema: yup.Schema<T>, value: unknown): T {
  try {
    // Strict about types first: “12” is not a number, and a list is not a text.
    if (value === null || typeof value !== 'object' || Array.isArray(value))
      throw new InvalidInput('The message must be a group of fields (a JSON object).', undefined)
    const inherited = inheritedName(value)
    if (inherited) throw new InvalidInput(`“${inherited}” does not belong into a message.`, inherited)
    return schema.validateSync(value, { abortEarly: true, stripUnknown: false })
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new InvalidInput(error.message, error.path || undefined)
    throw error
  }
}

/** Whether a value is what its schema wants. */
export function fits<T>(schema: yup.Schema<T>, value: unknown): value is T {
  try {
    validate(schema, value)
    return true
  } catch (error) {
    if (error instanceof InvalidInput) return false
    throw error
  }
}
