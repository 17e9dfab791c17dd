import type { XYZ } from '../color/chromaticity'
import type { Triple } from '../color/matrix3'
import { FormatError, numberFrom, quoted } from './formatError'
import { walkXml } from './xml'

/** One object of a CxF3 file that has a device signal and a measured colour. */
export interface CxfObject {
  readonly name: string
  /** In the file's own scale, or 0–255 where it names another largest value. */
  readonly rgb: Triple
  readonly xyz: XYZ
  /** From 1. */
  readonly line: number
}

type Partial3 = Record<string, number>

const three = (from: Partial3 | null, names: readonly string[]): Triple | null =>
  from && names.every((n) => n in from) ? [from[names[0]], from[names[1]], from[names[2]]] : null

/**
 * Reads the objects of a CxF3 file (ISO 17972-1) that carry RGB device values and CIE XYZ or xyY; objects without both
 * are passed over. Throws FormatError when there are none, or a value is no number.
 */
export function readCxf(text: string): CxfObject[] {
  const objects: CxfObject[] = []
  let seen = 0
  let object: { name: string; line: number } | null = null
  let values: Partial3 | null = null
  let rgb: Triple | null = null
  let xyz: Triple | null = null
  let largest = NaN
  walkXml(text, {
    open: ({ name, attributes, line }, path) => {
      if (!path.length) {
        if (name !== 'CxF')
          throw new FormatError(`The file begins with ${quoted(name)}; a CxF file begins with “CxF”.`, line)
      }
      if (name === 'Object') {
        seen++
        object = { name: attributes.Name || attributes.Id || `Object ${seen}`, line }
        rgb = null
        xyz = null
      }
      if (name === 'ColorRGB' || name === 'ColorCIEXYZ' || name === 'ColorCIExyY') {
        values = {}
        largest = attributes.MaxRange === undefined ? NaN : numberFrom(attributes.MaxRange, '“MaxRange”', line)
      }
    },
    close: ({ name, line }, content, path) => {
      const parent = path[path.length - 1]?.name
      if (values && (parent === 'ColorRGB' || parent === 'ColorCIEXYZ' || parent === 'ColorCIExyY')) {
        const value = numberFrom(content.trim(), `“${name}” of ${quoted(object?.name ?? parent)}`, line)
        if (name === 'MaxRange') largest = value
        else values[name] = value
      }
      if (name === 'ColorRGB') {
        rgb = three(values, ['R', 'G', 'B'])
        if (rgb && largest > 0 && largest !== 255)
          rgb = [(rgb[0] * 255) / largest, (rgb[1] * 255) / largest, (rgb[2] * 255) / largest]
      } else if (name === 'ColorCIEXYZ') xyz = three(values, ['X', 'Y', 'Z'])
      else if (name === 'ColorCIExyY') {
        const xyY = three(values, ['x', 'y', 'Y'])
        if (xyY && !(xyY[1] > 0)) throw new FormatError('“y” must be above 0.', line)
        xyz = xyY && [(xyY[0] / xyY[1]) * xyY[2], xyY[2], ((1 - xyY[0] - xyY[1]) / xyY[1]) * xyY[2]]
      } else if (name === 'Object' && object) {
        if (rgb && xyz) objects.push({ ...object, rgb, xyz })
        object = null
      }
      if (name.startsWith('Color')) values = null
    },
  })
  if (!objects.length)
    throw new FormatError(
      seen
        ? `Of ${seen} objects none has both RGB device values and CIE XYZ.`
        : 'The file holds no objects, so it holds no readings.',
    )
  return objects
}
