/** How deep the groups and lists of a message may stand in each other. */
export const deepestMessage = 16
/** Values that a message may hold in all, and entries that one of its lists may. */
export const mostValues = 20_000
export const longestList = 5_000

/** What is wrong with the shape of a message, and at which name; null when nothing is. */
export interface ShapeFault {
  readonly sentence: string
  readonly field: string | undefined
}

/**
 * Looks at the shape of a message before any schema does: schemas walk by calling themselves, and look fields up by name
 * without asking whose they are. Walks without calling itself, and stops at the first fault, so that no message costs
 * more than its bounds.
 */
export function shapeFault(message: unknown): ShapeFault | null {
  const open: { value: unknown; depth: number }[] = [{ value: message, depth: 1 }]
  let values = 0
  for (let next = open.pop(); next; next = open.pop()) {
    const { value, depth } = next
    if (value === null || typeof value !== 'object') continue
    if (depth > deepestMessage) return told(`The message is nested more than ${deepestMessage} deep.`)
    const isList = Array.isArray(value)
    const keys = Object.keys(value)
    if (isList && value.length > longestList) return told(`A list holds more than ${longestList} entries.`)
    values += keys.length
    if (values > mostValues) return told(`The message holds more than ${mostValues} values.`)
    for (const key of keys) {
      if (!isList && key in Object.prototype) return told(`“${key}” does not belong into a message.`, key)
      const inner = (value as Record<string, unknown>)[key]
      if (inner !== null && typeof inner === 'object') open.push({ value: inner, depth: depth + 1 })
    }
  }
  return null
}

const told = (sentence: string, field?: string): ShapeFault => ({ sentence, field })
