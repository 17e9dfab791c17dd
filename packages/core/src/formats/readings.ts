import type { PatchReading } from '../color/patchReading'
import type { XYZ } from '../color/chromaticity'
import type { Triple } from '../color/matrix3'
import { readingBounds } from '../color/readingBounds'
import type { Patch } from '../runs/patches'
import { readCgats, writeCgats } from './cgats'
import { readCsv } from './csv'
import { readCxf } from './cxf'
import { onOneLine } from '../basics/plainText'
import { FormatError, numberFrom } from './formatError'
import { inferScale, signalsOn, type SignalScale } from './signalScale'

/** Readings as a file holds them, in one form. */
export interface ReadingsFile {
  readonly format: 'CGATS' | 'CSV' | 'CxF'
  readonly readings: readonly PatchReading[]
  /** What full signal is written as in the file. */
  readonly scale: SignalScale
}

/** Columns of text with their line, as CGATS and CSV have them. */
interface Columns {
  readonly fields: readonly string[]
  readonly rows: readonly { readonly values: readonly string[]; readonly line: number }[]
}

const rgbNames = [
  ['RGB_R', 'RGB_G', 'RGB_B'],
  ['R', 'G', 'B'],
]
const xyzNames = [
  ['XYZ_X', 'XYZ_Y', 'XYZ_Z'],
  ['X', 'Y', 'Z'],
]
const nameNames = ['SAMPLE_NAME', 'NAME', 'SAMPLE_ID', 'ID']

const same = (a: string, b: string) => a.toUpperCase() === b

/** Where three columns stand under one of their names; null when they do not. */
function find(columns: Columns, names: readonly (readonly string[])[]): number[] | null {
  for (const triple of names) {
    const at = triple.map((name) => columns.fields.findIndex((f) => same(f, name)))
    if (at.every((i) => i >= 0)) return at
  }
  return null
}

/** X, Y, Z that some instrument can have read, cd/m². Throws FormatError. */
function readXyz(xyz: Triple, names: readonly string[], line: number | undefined): XYZ {
  if (xyz[1] < 0) throw new FormatError('A luminance must not be below 0.', line)
  const odd = xyz.findIndex((v) => v < readingBounds.least || v > readingBounds.most)
  if (odd >= 0)
    throw new FormatError(
      `“${names[odd]}” must be from ${readingBounds.least} to ${readingBounds.most.toLocaleString('en')} cd/m²; ${xyz[odd]} is not.`,
      line,
    )
  return xyz
}

function tripleAt(columns: Columns, at: readonly number[], row: number): Triple {
  const { values, line } = columns.rows[row]
  const [a, b, c] = at.map((i) => numberFrom(values[i], `“${columns.fields[i]}”`, line))
  return [a, b, c]
}

/** Characters of a patch's name that are kept; what would break a line or turn its direction is left out. */
const longestName = 120
const shortName = (name: string) => onOneLine([...name.slice(0, 2 * longestName)].slice(0, longestName).join(''))

function signals(
  columns: Columns,
  scale: SignalScale | undefined,
): { rgb: Triple[]; scale: SignalScale; names: string[] } {
  const at = find(columns, rgbNames)
  if (!at) throw new FormatError('The columns RGB_R, RGB_G and RGB_B are missing: which signal was shown is not told.')
  if (!columns.rows.length) throw new FormatError('There is not a single row of data.')
  const values = columns.rows.map((_, i) => tripleAt(columns, at, i))
  const lineOf = (i: number) => columns.rows[i].line
  const used = scale ?? inferScale(values, lineOf)
  const named = nameNames.map((n) => columns.fields.findIndex((f) => same(f, n))).find((i) => i >= 0)
  return {
    rgb: signalsOn(used, values, lineOf),
    scale: used,
    names: columns.rows.map(({ values: v }, i) => shortName(named === undefined ? '' : v[named]) || `Patch ${i + 1}`),
  }
}

function fromColumns(columns: Columns, scale: SignalScale | undefined): Omit<ReadingsFile, 'format'> {
  const at = find(columns, xyzNames)
  if (!at) throw new FormatError('The columns XYZ_X, XYZ_Y and XYZ_Z (cd/m²) are missing: nothing was read.')
  const { rgb, scale: used, names } = signals(columns, scale)
  return {
    scale: used,
    readings: rgb.map((signal, i) => {
      const fields = at.map((k) => columns.fields[k])
      return { name: names[i], rgb: signal, xyz: readXyz(tripleAt(columns, at, i), fields, columns.rows[i].line) }
    }),
  }
}

/** The first table that holds signals, else the first. */
const mainTable = (text: string) => {
  const tables = readCgats(text)
  return tables.find((t) => find(t, rgbNames)) ?? tables[0]
}

const isXml = (text: string) => /^\uFEFF?\s*</.test(text)
// Blanks of one line only: were line ends among them, every empty line would be begun with anew.
const isCgats = (text: string) => /^[^\S\r\n]*BEGIN_DATA/m.test(text)

/** Characters of a line: a row of a thousand fields has an eighth of them. Readers of tables work line by line. */
const longestLine = 100_000

function mustHaveLines(text: string): void {
  for (let start = 0, line = 1; start < text.length; line++) {
    const end = text.indexOf('\n', start)
    const length = (end < 0 ? text.length : end) - start
    // Old files may end their lines with a carriage return alone.
    if (length > longestLine && !text.slice(start, start + longestLine).includes('\r'))
      throw new FormatError(`The line is longer than ${longestLine} characters, as no line of a table is.`, line)
    if (end < 0) return
    start = end + 1
  }
}

/**
 * Reads readings from CGATS.17, CxF3 or CSV, told apart by what they hold. XYZ is taken as cd/m². The scale of RGB is
 * inferred unless given. Throws FormatError with a sentence and the line.
 */
export function readReadings(text: string, scale?: SignalScale): ReadingsFile {
  if (isXml(text)) {
    const objects = readCxf(text)
    const used =
      scale ??
      inferScale(
        objects.map((o) => o.rgb),
        (i) => objects[i].line,
      )
    const rgb = signalsOn(
      used,
      objects.map((o) => o.rgb),
      (i) => objects[i].line,
    )
    return {
      format: 'CxF',
      scale: used,
      readings: objects.map(({ name, xyz, line }, i) => ({ name, xyz: readXyz(xyz, xyzNames[1], line), rgb: rgb[i] })),
    }
  }
  mustHaveLines(text)
  if (isCgats(text)) return { format: 'CGATS', ...fromColumns(mainTable(text), scale) }
  return { format: 'CSV', ...fromColumns(readCsv(text), scale) }
}

/** Reads a set of patches (names and signals 0–1) from CGATS.17 or CSV; readings serve as well. Throws FormatError. */
export function readPatches(text: string, scale?: SignalScale): Patch[] {
  mustHaveLines(text)
  const { rgb, names } = signals(isCgats(text) ? mainTable(text) : readCsv(text), scale)
  return rgb.map((signal, i) => ({ name: names[i], rgb: signal }))
}

const percent = (rgb: Triple) => rgb.map((v) => v * 100)

export interface FileFacts {
  readonly description: string
  /** ms since 1970, UTC. */
  readonly createdAt: number
  /** Further keywords. */
  readonly keywords?: readonly (readonly [string, string])[]
}

const head = ({ description, createdAt, keywords = [] }: FileFacts): [string, string][] => [
  ['ORIGINATOR', 'Bichroma'],
  ['DESCRIPTOR', description],
  ['CREATED', new Date(createdAt).toISOString()],
  ...keywords.map(([k, v]): [string, string] => [k, v]),
]

/** Writes a set of patches as CGATS.17, RGB in percent. */
export const writePatches = (patches: readonly Patch[], facts: FileFacts): string =>
  writeCgats({
    keywords: head(facts),
    fields: ['SAMPLE_ID', 'SAMPLE_NAME', 'RGB_R', 'RGB_G', 'RGB_B'],
    rows: patches.map(({ name, rgb }, i) => [i + 1, name, ...percent(rgb)]),
  })

/** Writes readings as CGATS.17: RGB in percent, XYZ in cd/m². */
export const writeReadings = (readings: readonly PatchReading[], facts: FileFacts): string =>
  writeCgats({
    keywords: head(facts),
    fields: ['SAMPLE_ID', 'SAMPLE_NAME', 'RGB_R', 'RGB_G', 'RGB_B', 'XYZ_X', 'XYZ_Y', 'XYZ_Z'],
    rows: readings.map(({ name, rgb, xyz }, i) => [i + 1, name, ...percent(rgb), ...(xyz as XYZ)]),
  })
