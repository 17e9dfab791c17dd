import { formatTemperature } from '../review/figures'
import type { ToneResponse } from '../tone/toneResponse'
import type { Aim, AimPrimaries, AimWhite } from './aim'

/** An aim's white in a few words. */
export function describeWhite(white: AimWhite): string {
  switch (white.kind) {
    case 'standard':
      return white.name
    case 'xy':
      return `xy ${white.x.toFixed(4)} ${white.y.toFixed(4)}`
    case 'temperature':
      return formatTemperature(white.kelvin)
    case 'panel':
      return 'panel’s own white'
  }
}

/** A tone response in a few words. */
export const describeTone = (tone: ToneResponse): string =>
  tone.kind === 'power' ? `power ${tone.exponent}` : tone.kind === 'sRGB' ? 'sRGB tone' : tone.kind

/** An aim's primaries in a few words. */
export const describePrimaries = (primaries: AimPrimaries): string =>
  primaries.kind === 'standard'
    ? primaries.name
    : primaries.kind === 'panel'
      ? 'panel’s own primaries'
      : 'primaries by hand'

/** An aim in one line: primaries, white, luminance, tone. */
export const describeAim = (aim: Aim): string =>
  `${describePrimaries(aim.primaries)} · ${describeWhite(aim.white)} · ${aim.luminance} cd/m² · ${describeTone(aim.toneResponse)}`
