import { FormatError, quoted } from './formatError'

/** One table of a CGATS.17 file. */
export interface CgatsTable {
  /** What stands before the data: keyword and value, in order. */
  readonly keywords: readonly (readonly [string, string])[]
  readonly fields: readonly string[]
  readonly rows: readonly CgatsRow[]
}

interface CgatsRow {
  readonly values: readonly string[]
  /** From 1. */
  readonly line: number
}

interface Token {
  readonly text: string
  readonly line: number
  readonly isText: boolean
}

type State = 'head' | 'format' | 'data'

const mostFields = 1000
const word = /"([^"]*)"|[^\s"#]+/y

/** The words of a line, without its comment. */
function wordsOf(text: string, line: number): Token[] {
  const words: Token[] = []
  let at = 0
  for (;;) {
    while (at < text.length && /\s/.test(text[at])) at++
    if (at >= text.length || text[at] === '#') return words
    word.lastIndex = at
    const found = word.exec(text)
    if (!found) throw new FormatError('A quotation mark is opened and not closed.', line)
    words.push({ text: found[1] ?? found[0], line, isText: found[1] !== undefined })
    at = word.lastIndex
  }
}

/** Keywords that structure the file and are not kept as such. */
const structural = new Set(['KEYWORD', 'NUMBER_OF_FIELDS', 'NUMBER_OF_SETS'])

/**
 * Reads the tables of a CGATS.17 file (ISO 28178). Strict about counts and about every row having a value for every
 * field; forgiving about keywords it does not know. Throws FormatError with the line.
 */
export function readCgats(text: string): CgatsTable[] {
  const lines = text.split(/\r\n|\n|\r/)
  const tables: CgatsTable[] = []
  let keywords: [string, string][] = []
  let fields: string[] = []
  let rows: CgatsRow[] = []
  let state = 'head' as State
  let pending: Token[] = []
  let promised: Record<string, { count: number; line: number }> = {}
  const check = (keyword: string, found: number, what: string) => {
    const said = promised[keyword]
    if (said && said.count !== found)
      throw new FormatError(`${keyword} says ${said.count}, but there are ${found} ${what}.`, said.line)
  }
  const addField = (name: string, line: number) => {
    if (fields.includes(name)) throw new FormatError(`The field ${quoted(name)} is named twice.`, line)
    if (fields.push(name) > mostFields) throw new FormatError(`There are more than ${mostFields} fields.`, line)
  }
  lines.forEach((content, index) => {
    const line = index + 1
    for (const token of wordsOf(content, line)) {
      const { text: t, isText } = token
      if (state === 'head') {
        pending.push(token)
        continue
      }
      if (state === 'format') {
        if (!isText && t === 'END_DATA_FORMAT') {
          check('NUMBER_OF_FIELDS', fields.length, 'fields in the data format')
          state = 'head'
          continue
        }
        addField(t, line)
        continue
      }
      pending.push(token)
    }
    if (state === 'data') {
      if (pending.length === 1 && !pending[0].isText && pending[0].text === 'END_DATA') {
        check('NUMBER_OF_SETS', rows.length, 'rows of data')
        tables.push({ keywords, fields, rows })
        keywords = []
        fields = []
        rows = []
        promised = {}
        state = 'head'
      } else if (pending.length) {
        if (pending.length !== fields.length)
          throw new FormatError(
            `The row has ${pending.length} values; the data format names ${fields.length} fields.`,
            line,
          )
        rows.push({ values: pending.map((p) => p.text), line })
      }
      pending = []
      return
    }
    if (state !== 'head') return
    const [first, ...rest] = pending
    pending = []
    if (!first) return
    if (first.text === 'BEGIN_DATA_FORMAT') {
      fields = []
      state = 'format'
      // Fields may follow on the same line, and the end too.
      for (const { text: t } of rest)
        if (t === 'END_DATA_FORMAT') state = 'head'
        else addField(t, line)
    } else if (first.text === 'BEGIN_DATA') {
      if (!fields.length) throw new FormatError('The data begin before the data format names their fields.', line)
      if (rest.length) throw new FormatError('Rows of data begin on the line after BEGIN_DATA.', line)
      state = 'data'
    } else if (first.text === 'NUMBER_OF_FIELDS' || first.text === 'NUMBER_OF_SETS') {
      const count = /^\d{1,9}$/.test(rest[0]?.text ?? '') ? Number(rest[0].text) : NaN
      if (Number.isNaN(count)) throw new FormatError(`${first.text} must be followed by a whole number.`, line)
      promised[first.text] = { count, line }
    }
    if (!structural.has(first.text) && !first.text.startsWith('BEGIN_'))
      keywords.push([first.text, rest.map((r) => r.text).join(' ')])
  })
  if (state === 'format') throw new FormatError('END_DATA_FORMAT is missing.', lines.length)
  if (state === 'data') throw new FormatError('END_DATA is missing: the file is cut short.', lines.length)
  if (!tables.length) throw new FormatError('This is no CGATS file: it holds no BEGIN_DATA.')
  return tables
}

const needsQuotes = (value: string) => value === '' || /[\s#"]/.test(value) || !/^[\x21-\x7e]+$/.test(value)
const written = (value: string | number) =>
  typeof value === 'number' ? String(value) : needsQuotes(value) ? `"${value.replace(/["\r\n]/g, ' ')}"` : value

export interface CgatsContents {
  readonly keywords: readonly (readonly [string, string])[]
  readonly fields: readonly string[]
  readonly rows: readonly (readonly (string | number)[])[]
}

/** Keywords that the standard names; others are declared with KEYWORD before they are used. ISO 28178 §5. */
const standardKeywords = new Set(['ORIGINATOR', 'DESCRIPTOR', 'CREATED', 'INSTRUMENTATION', 'MEASUREMENT_SOURCE'])

/** Writes one table as a CGATS.17 file. Numbers keep every digit, so that reading them gives the same. */
export function writeCgats({ keywords, fields, rows }: CgatsContents): string {
  const head = keywords.flatMap(([name, value]) => [
    ...(standardKeywords.has(name) ? [] : [`KEYWORD "${name}"`]),
    `${name} "${value.replace(/["\r\n]/g, ' ')}"`,
  ])
  return [
    'CGATS.17',
    ...head,
    '',
    `NUMBER_OF_FIELDS ${fields.length}`,
    'BEGIN_DATA_FORMAT',
    fields.join(' '),
    'END_DATA_FORMAT',
    '',
    `NUMBER_OF_SETS ${rows.length}`,
    'BEGIN_DATA',
    ...rows.map((row) => row.map(written).join(' ')),
    'END_DATA',
    '',
  ].join('\n')
}
