import type { Triple } from '../color/matrix3'
import type { ClfFile, ClfNode } from './clf'
import { FormatError, numberFrom, quoted } from './formatError'
import { walkXml, type XmlElement } from './xml'

/** The value that stands for 1 at each bit depth. Common LUT Format 3.0 §4.3. */
const fullScale: Readonly<Record<string, number>> = {
  '8i': 255,
  '10i': 1023,
  '12i': 4095,
  '16i': 65535,
  '16f': 1,
  '32f': 1,
}
const kinds = ['LUT1D', 'LUT3D', 'Matrix', 'Range'] as const
type Kind = (typeof kinds)[number]

const mostNodes = 64
const most1d = 65_536
const most3d = 129

interface Draft {
  readonly element: XmlElement
  readonly kind: Kind
  dim: number[]
  values: number[] | null
  readonly range: Record<string, number>
}

function depthOf({ attributes, name, line }: XmlElement, which: 'inBitDepth' | 'outBitDepth'): number {
  const depth = attributes[which]
  if (depth === undefined || !Object.hasOwn(fullScale, depth))
    throw new FormatError(`“${which}” of ${name} must be one of ${Object.keys(fullScale).join(', ')}.`, line)
  return fullScale[depth]
}

function dimensions(element: XmlElement): number[] {
  const words = (element.attributes.dim ?? '').trim().split(/\s+/)
  const dim = words.map((w) => (/^\d{1,6}$/.test(w) ? Number(w) : NaN))
  if (dim.some(Number.isNaN)) throw new FormatError('“dim” of Array must be whole numbers.', element.line)
  return dim
}

function expectedValues({ kind, dim, element }: Draft): number {
  const fail = (right: string): never => {
    throw new FormatError(`“dim” of the Array of ${kind} must be ${right}; it is “${dim.join(' ')}”.`, element.line)
  }
  if (kind === 'LUT1D')
    return dim.length === 2 && dim[0] >= 2 && dim[0] <= most1d && (dim[1] === 1 || dim[1] === 3)
      ? dim[0] * dim[1]
      : fail(`“n 1” or “n 3” with n from 2 to ${most1d}`)
  if (kind === 'LUT3D')
    return dim.length === 4 && dim[0] === dim[1] && dim[1] === dim[2] && dim[3] === 3 && dim[0] >= 2 && dim[0] <= most3d
      ? 3 * dim[0] ** 3
      : fail(`“n n n 3” with n from 2 to ${most3d}`)
  return dim[0] === 3 && (dim[1] === 3 || dim[1] === 4) && (dim.length === 2 || (dim.length === 3 && dim[2] === 3))
    ? 3 * dim[1]
    : fail('“3 3” or “3 4”')
}

function finish(draft: Draft): ClfNode {
  const { kind, element, values, dim } = draft
  const [into, out] = [depthOf(element, 'inBitDepth'), depthOf(element, 'outBitDepth')]
  if (kind === 'Range') return finishRange(draft, into, out)
  if (!values) throw new FormatError(`${kind} has no Array.`, element.line)
  if (kind === 'Matrix') {
    const width = dim[1]
    const row = (r: number): Triple => [0, 1, 2].map((c) => (values[r * width + c] * into) / out) as unknown as Triple
    const offset = [0, 1, 2].map((r) => (width === 4 ? values[r * width + 3] / out : 0)) as unknown as Triple
    return { kind, matrix: [row(0), row(1), row(2)], offset }
  }
  if (kind === 'LUT1D') {
    const width = dim[1]
    const channel = (c: number) =>
      Float64Array.from({ length: dim[0] }, (_, i) => values[i * width + (width === 3 ? c : 0)] / out)
    return { kind, table: { channels: [channel(0), channel(1), channel(2)] } }
  }
  const interpolation = element.attributes.interpolation ?? 'trilinear'
  if (interpolation !== 'trilinear' && interpolation !== 'tetrahedral')
    throw new FormatError('“interpolation” of LUT3D must be trilinear or tetrahedral.', element.line)
  return { kind, interpolation, table: { size: dim[0], values: Float64Array.from(values, (v) => v / out) } }
}

/** Common LUT Format 3.0 §5.3: out = in·scale + shift, clamped at the bounds that are given. */
function finishRange({ element, range }: Draft, into: number, out: number): ClfNode {
  const has = (name: string) => Object.hasOwn(range, name)
  if (has('minInValue') !== has('minOutValue') || has('maxInValue') !== has('maxOutValue'))
    throw new FormatError('Range needs each bound both as InValue and as OutValue.', element.line)
  if (!has('minInValue') && !has('maxInValue')) throw new FormatError('Range has no bounds.', element.line)
  const low = has('minInValue') ? [range.minInValue / into, range.minOutValue / out] : null
  const high = has('maxInValue') ? [range.maxInValue / into, range.maxOutValue / out] : null
  if (low && high && !(high[0] > low[0]))
    throw new FormatError('“maxInValue” of Range must be above “minInValue”.', element.line)
  const slope = low && high ? (high[1] - low[1]) / (high[0] - low[0]) : 1
  const [anchorIn, anchorOut] = low ?? high!
  const clamps = element.attributes.style !== 'noClamp'
  return {
    kind: 'Range',
    slope,
    shift: anchorOut - slope * anchorIn,
    least: clamps && low ? low[1] : null,
    most: clamps && high ? high[1] : null,
  }
}

/**
 * Reads a Common LUT Format file (Academy/ASC, S-2014-006, version 3.0 and the 2.0 spelling of it): LUT1D, LUT3D, Matrix
 * and Range in any order. Steps of other kinds are refused by name. Throws FormatError with the line.
 */
export function readClf(text: string): ClfFile {
  const nodes: ClfNode[] = []
  let [id, description] = ['', '']
  let draft: Draft | null = null
  walkXml(text, {
    open: (element, path) => {
      const { name, attributes, line } = element
      if (!path.length) {
        if (name !== 'ProcessList')
          throw new FormatError(`The file begins with ${quoted(name)}; a CLF file begins with “ProcessList”.`, line)
        id = attributes.id ?? ''
        return
      }
      if (path.length === 1) {
        if (kinds.includes(name as Kind)) {
          if (nodes.length >= mostNodes) throw new FormatError(`There are more than ${mostNodes} steps.`, line)
          if (attributes.halfDomain === 'true' || attributes.rawHalfs === 'true')
            throw new FormatError('Tables over half-float values (halfDomain, rawHalfs) are not understood.', line)
          draft = { element, kind: name as Kind, dim: [], values: null, range: {} }
        } else if (!['Description', 'InputDescriptor', 'OutputDescriptor', 'Info'].includes(name))
          throw new FormatError(`The step ${quoted(name)} is not understood; ${kinds.join(', ')} are.`, line)
      }
      if (name === 'Array' && draft && path.length === 2) draft.dim = dimensions(element)
    },
    close: ({ name, line }, content, path) => {
      if (name === 'Description' && path.length === 1) description ||= content.trim()
      if (!draft) return
      if (path.length === 2 && name === 'Array') {
        const expected = expectedValues(draft)
        const words = content.trim().split(/\s+/)
        if (words.length !== expected)
          throw new FormatError(
            `The Array of ${draft.kind} holds ${words.length} numbers; its dim asks for ${expected}.`,
            line,
          )
        const { kind } = draft
        draft.values = words.map((w) => numberFrom(w, `A value of the ${kind} Array`, line))
      } else if (path.length === 2 && draft.kind === 'Range' && /^m(in|ax)(In|Out)Value$/.test(name))
        draft.range[name] = numberFrom(content.trim(), `“${name}”`, line)
      else if (path.length === 1) {
        nodes.push(finish(draft))
        draft = null
      }
    },
  })
  if (!nodes.length) throw new FormatError('The file holds no step, so it changes nothing.')
  return { id, description, nodes }
}
