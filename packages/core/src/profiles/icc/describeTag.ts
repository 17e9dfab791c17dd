import { convertXyzToChromaticity, type Chromaticity } from '../../color/chromaticity'
import { pcsWhite } from '../../color/encodings'
import { invert, multiplyVector } from '../../color/matrix3'
import { adaptationIn, type IccProfile } from './readIcc'
import type { TagValue } from './tags'

const fixed = (values: readonly number[]) => values.map((v) => v.toFixed(4)).join(' ')

/** A tag's contents in a few words. */
export function describeTag(value: TagValue | null): string {
  switch (value?.kind) {
    case 'text':
      return `“${value.text}”`
    case 'xyz':
      return value.values.map(fixed).join(' · ')
    case 'numbers':
      return value.values.length <= 9 ? fixed(value.values) : `${value.values.length} numbers`
    case 'curve':
      return value.curve.kind === 'table'
        ? `table of ${value.curve.values.length} entries`
        : value.curve.type === 0
          ? `exponent ${value.curve.parameters[0].toFixed(3)}`
          : `formula ${value.curve.type}: ${fixed(value.curve.parameters)}`
    case 'lut':
      return value.lut.steps.map((s) => (s.kind === 'clut' ? `grid ${s.clut.nodes.join('×')}` : s.kind)).join(' → ')
    case 'video':
      return `three tables of ${value.channels[0].length} entries for the video card`
    case 'pairs':
      return value.pairs.map(([k, v]) => `${k}: ${v}`).join(', ')
    case 'signature':
      return value.signature
    case 'date':
      return new Date(value.at).toISOString()
    default:
      return 'not read'
  }
}

/** The display's own white, where the profile tells how it was adapted. */
export function whiteOfProfile(profile: IccProfile): Chromaticity | null {
  const adaptation = adaptationIn(profile)
  try {
    return adaptation && convertXyzToChromaticity(multiplyVector(invert(adaptation), pcsWhite))
  } catch {
    return null
  }
}
