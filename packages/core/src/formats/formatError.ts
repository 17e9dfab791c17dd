import { onOneLine } from '../basics/plainText'

/** A file that cannot be read: one sentence that names the field at fault, and the line where there are lines. */
export class FormatError extends Error {
  constructor(
    sentence: string,
    /** From 1. */
    readonly line?: number,
  ) {
    super(onOneLine(sentence))
    this.name = 'FormatError'
  }
}

/** What is wrong with a file, in one sentence that names the file, and the line where there is one. */
export const complaintOf = (fileName: string, error: Error): string =>
  `${fileName}${error instanceof FormatError && error.line !== undefined ? `, line ${error.line}` : ''}: ${error.message}`

const plainNumber = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,3})?$/

/** A finite number from text; throws FormatError naming the field. */
export function numberFrom(text: string, field: string, line?: number): number {
  const value = plainNumber.test(text) ? Number(text) : NaN
  if (!Number.isFinite(value)) throw new FormatError(`${field} must be a number; “${text.slice(0, 40)}” is none.`, line)
  return value
}

/** A text in quotes, short enough for a sentence. */
export const quoted = (text: string): string => `“${text.length > 40 ? `${text.slice(0, 40)}…` : text}”`
