import Papa from 'papaparse'
import { FormatError } from './formatError'

/** A table of text with a line of names above it. */
export interface CsvTable {
  readonly fields: readonly string[]
  readonly rows: readonly { readonly values: readonly string[]; readonly line: number }[]
}

/** More lines than any file of readings or patches has, empty ones counted. */
const mostLines = 100_000
/** More columns than any table of readings or patches has. */
const mostColumns = 1000

/**
 * Reads comma-separated values (also with semicolons or tabs): a line of names, then rows with a value for each. Empty
 * lines are passed over. Throws FormatError with the line. RFC 4180.
 */
export function readCsv(text: string): CsvTable {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    skipEmptyLines: false,
    preview: mostLines + 1,
  })
  if (data.length > mostLines) throw new FormatError(`The file has more than ${mostLines} lines.`)
  const quotes = errors.find((e) => e.type === 'Quotes')
  if (quotes) throw new FormatError('A quotation mark is opened and not closed.', (quotes.row ?? 0) + 1)
  let line = 1
  const rows = data.map((values) => {
    const row = { values: values.map((v) => v.trim()), line }
    line += 1 + values.reduce((n, v) => n + v.split('\n').length - 1, 0)
    return row
  })
  const filled = rows.filter(({ values }) => values.some((v) => v !== ''))
  const [head, ...rest] = filled
  if (!head) throw new FormatError('The file is empty.')
  if (head.values.length > mostColumns)
    throw new FormatError(
      `The first line names ${head.values.length} columns; ${mostColumns} are taken at most.`,
      head.line,
    )
  const seen = new Set<string>()
  const twice = head.values.find((name) => name !== '' && (seen.has(name) || !seen.add(name)))
  if (twice !== undefined) throw new FormatError(`The column “${twice}” is named twice.`, head.line)
  const wrong = rest.find(({ values }) => values.length !== head.values.length)
  if (wrong)
    throw new FormatError(
      `The row has ${wrong.values.length} values; the first line names ${head.values.length} columns.`,
      wrong.line,
    )
  return { fields: head.values, rows: rest }
}

/** Writes a table as comma-separated values. */
export const writeCsv = (fields: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse({ fields: [...fields], data: rows.map((r) => [...r]) }, { newline: '\n' })}\n`
