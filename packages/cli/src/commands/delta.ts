import {
  convertLabToXyz,
  convertXyzToLab,
  deltaE2000Pairs,
  deltaOfLab,
  deltaOfXyz,
  differenceLabels,
  type DifferenceFormula,
  type Triple,
} from '@bichroma/core/color'
import { FormatError, numberFrom, readCsv, writeCsv, type CsvTable } from '@bichroma/core/formats'
import { fromFile, readText, write } from '../io'
import { firstRows, type Answer } from '../output'
import { spreadHead, spreadOf, spreadRow } from '../figures'

export interface DeltaOptions {
  readonly formula: DifferenceFormula
  /** XYZ of the white; CIELAB is taken under it. */
  readonly white: Triple
  readonly out?: string
}

const columnSets = {
  lab: ['L1', 'a1', 'b1', 'L2', 'a2', 'b2'],
  xyz: ['X1', 'Y1', 'Z1', 'X2', 'Y2', 'Z2'],
}

/** The six numbers of each row, and which kind they are. */
function pairsOf({ fields, rows }: CsvTable): { kind: 'lab' | 'xyz'; first: Float64Array; second: Float64Array } {
  const at = (names: readonly string[]) =>
    names.map((n) => fields.findIndex((f) => f.toLowerCase() === n.toLowerCase()))
  const found = (['lab', 'xyz'] as const).find((k) => at(columnSets[k]).every((i) => i >= 0))
  if (!found)
    throw new FormatError(`The columns must be ${columnSets.lab.join(', ')} or ${columnSets.xyz.join(', ')}.`, 1)
  if (!rows.length) throw new FormatError('There is not a single row of data.')
  const columns = at(columnSets[found])
  const first = new Float64Array(3 * rows.length)
  const second = new Float64Array(3 * rows.length)
  rows.forEach(({ values, line }, i) =>
    columns.forEach((c, k) => {
      const into = k < 3 ? first : second
      into[3 * i + (k % 3)] = numberFrom(values[c], `“${fields[c]}”`, line)
    }),
  )
  return { kind: found, first, second }
}

const tripleAt = (from: Float64Array, i: number): Triple => [from[3 * i], from[3 * i + 1], from[3 * i + 2]]

/** The differences of pairs in a table, as a column added to it. */
export function delta(path: string, { formula, white, out }: DeltaOptions): Answer {
  const text = readText(path)
  const { table, differences } = fromFile(path, () => {
    const table = readCsv(text)
    const { kind, first, second } = pairsOf(table)
    const n = table.rows.length
    const differences = new Float64Array(n)
    const as = (want: 'lab' | 'xyz', from: Float64Array, i: number): Triple => {
      const t = tripleAt(from, i)
      if (want === kind) return t
      return want === 'lab' ? convertXyzToLab(t, white) : convertLabToXyz(t, white)
    }
    /** All colours of one side as CIELAB. */
    const labs = (from: Float64Array) => {
      if (kind === 'lab') return from
      const into = new Float64Array(from.length)
      for (let i = 0; i < n; i++) into.set(as('lab', from, i), 3 * i)
      return into
    }
    if (formula === 'de2000') deltaE2000Pairs(labs(first), labs(second), differences)
    else
      for (let i = 0; i < n; i++)
        differences[i] =
          formula === 'deitp'
            ? deltaOfXyz('deitp', as('xyz', first, i), as('xyz', second, i), white)
            : deltaOfLab(formula, as('lab', first, i), as('lab', second, i))
    return { table, differences }
  })
  const label = differenceLabels[formula]
  const fields = [...table.fields, label]
  const rows = table.rows.map(({ values }, i) => [...values, differences[i].toFixed(4)])
  if (out) write(out, writeCsv(fields, rows))
  const spread = spreadOf(differences)
  const shown = firstRows(rows, 40)
  return {
    json: { formula: label, ...spread, differences: [...differences], out },
    text: [
      ...(out ? [] : [{ head: fields, rows: shown.rows }, ...shown.more]),
      { head: spreadHead(label), rows: [spreadRow('all pairs', spread)] },
      ...(out ? [`Written to ${out}.`] : []),
    ],
  }
}
