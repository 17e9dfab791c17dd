import type { Triple } from '../color/matrix3'
import { unitDomain, type CubeFile } from './cube'
import { FormatError, numberFrom, quoted } from './formatError'

const most1d = 65_536
const most3d = 129

const sizeFrom = (text: string | undefined, keyword: string, most: number, line: number): number => {
  const size = /^\d{1,7}$/.test(text ?? '') ? Number(text) : NaN
  if (!(size >= 2 && size <= most))
    throw new FormatError(`${keyword} must be a whole number from 2 to ${most.toLocaleString('en')}.`, line)
  return size
}

/**
 * Reads a table in the plain-text .cube layout: keywords, then a line of three numbers for each entry, in 3D the red
 * index changing fastest. Throws FormatError with the line.
 */
export function readCube(text: string): CubeFile {
  let title = ''
  let [size1, size3] = [0, 0]
  let { least, most } = unitDomain
  const rows: Triple[] = []
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)
  const limit = () => size1 + size3 ** 3
  lines.forEach((raw, index) => {
    const line = index + 1
    const content = raw.trim()
    if (content === '' || content.startsWith('#')) return
    const words = content.split(/\s+/)
    const [first, ...rest] = words
    if (/^[A-Za-z_]/.test(first)) {
      if (rows.length) throw new FormatError(`${quoted(first)} stands after the first row of the table.`, line)
      const range = () => rest.map((t) => numberFrom(t, first, line))
      if (first === 'TITLE') title = content.slice(5).trim().replace(/^"|"$/g, '')
      else if (first === 'LUT_1D_SIZE') size1 = sizeFrom(rest[0], first, most1d, line)
      else if (first === 'LUT_3D_SIZE') size3 = sizeFrom(rest[0], first, most3d, line)
      else if (first === 'DOMAIN_MIN' || first === 'DOMAIN_MAX') {
        if (rest.length !== 3) throw new FormatError(`${first} needs three numbers.`, line)
        const [r, g, b] = range()
        if (first === 'DOMAIN_MIN') least = [r, g, b]
        else most = [r, g, b]
      } else if (first === 'LUT_1D_INPUT_RANGE' || first === 'LUT_3D_INPUT_RANGE') {
        if (rest.length !== 2) throw new FormatError(`${first} needs two numbers.`, line)
        const [a, b] = range()
        least = [a, a, a]
        most = [b, b, b]
      } else throw new FormatError(`The keyword ${quoted(first)} is not known.`, line)
      return
    }
    if (words.length !== 3)
      throw new FormatError(`A row of the table has three numbers; this one has ${words.length}.`, line)
    if (!limit()) throw new FormatError('The table begins before LUT_1D_SIZE or LUT_3D_SIZE tells its size.', line)
    if (rows.length >= limit())
      throw new FormatError(`The table has more rows than the ${limit()} that its size asks for.`, line)
    rows.push([
      numberFrom(words[0], 'Red', line),
      numberFrom(words[1], 'Green', line),
      numberFrom(words[2], 'Blue', line),
    ])
  })
  if (!limit()) throw new FormatError('This is no table: LUT_1D_SIZE and LUT_3D_SIZE are missing.')
  if (rows.length < limit())
    throw new FormatError(`The table has ${rows.length} rows; its size asks for ${limit()}.`, lines.length)
  if (least.some((v, k) => !(v < most[k])))
    throw new FormatError('DOMAIN_MIN must be below DOMAIN_MAX in every channel.')
  const channel = (c: number) => Float64Array.from({ length: size1 }, (_, i) => rows[i][c])
  return {
    title,
    domain: { least, most },
    table1d: size1 ? { channels: [channel(0), channel(1), channel(2)] } : null,
    table3d: size3 ? { size: size3, values: fromRedFastest(rows.slice(size1), size3) } : null,
  }
}

function fromRedFastest(rows: readonly Triple[], size: number): Float64Array {
  const values = new Float64Array(3 * size ** 3)
  for (let b = 0, row = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++, row++) values.set(rows[row], 3 * ((r * size + g) * size + b))
  return values
}
