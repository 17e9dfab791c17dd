import { formatTemperature } from './figures'
import type { ToneResponse } from '../tone/toneResponse'
import type { Aim, AimPrimaries, AimWhite } from './aim'

const signed = (value: number) => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(4)}`

/** An aim's white in a few words. */
function describeWhite(white: AimWhite): string {
  switch (white.kind) {
    case 'standard':
      return white.name
    case 'xy':
      return `xy ${white.x.toFixed(4)} ${white.y.toFixed(4)}`
    case 'temperature':
      return formatTemperature(white.kelvin)
    case 'panel':
      return 'panel’s own white'
    case 'by eye':
      return `${describeWhite(white.of)} by eye, u′v′ ${signed(white.u)} ${signed(white.v)}`
  }
}

/** A tone response in a few words. */
function describeTone(tone: ToneResponse): string {
  if (tone.kind === 'power') return `power ${tone.exponent}`
  if (tone.kind === 'curve') return `curve of ${tone.points.length} points`
  return tone.kind === 'sRGB' ? 'sRGB tone' : tone.kind
}

/** An aim's black in a few words; empty for the panel's own. */
function describeBlack(black: Aim['black']): string {
  if (!black || black.kind === 'panel') return ''
  return black.kind === 'fixed' ? `black ${black.luminance} cd/m²` : `black ${black.factor}× the panel’s`
}

/** An aim's primaries in a few words. */
const describePrimaries = (primaries: AimPrimaries): string =>
  primaries.kind === 'standard'
    ? primaries.name
    : primaries.kind === 'panel'
      ? 'panel’s own primaries'
      : 'primaries by hand'

/** How bright an aim's white is, in a few words. */
function describeLuminance({ luminance, asBright, fromRoom }: Aim): string {
  if (asBright) return `as bright as it goes, ${luminance} cd/m² or more`
  return fromRoom ? `${luminance} cd/m², following the room` : `${luminance} cd/m²`
}

/** An aim in one line: primaries, white, luminance, tone. */
export const describeAim = (aim: Aim): string =>
  [
    describePrimaries(aim.primaries),
    describeWhite(aim.white),
    describeLuminance(aim),
    describeTone(aim.toneResponse),
    describeBlack(aim.black),
  ]
    .filter(Boolean)
    .join(' · ')
