import type { PanelKind } from '@bichroma/core/register'
import { spectrumLength, wavelengthAt, type Spectrum } from './spectrum'

/** One emission band: a Gaussian over wavelength. */
export interface Band {
  /** nm */
  readonly center: number
  /** Standard deviation, nm. */
  readonly width: number
  /** Radiance relative to the channel's other bands. */
  readonly height: number
}

/** The bands of a panel's channels; `white` is the white subpixel's, where there is one. */
export interface Emission {
  readonly red: readonly Band[]
  readonly green: readonly Band[]
  readonly blue: readonly Band[]
  readonly white?: readonly Band[]
}

const band = (center: number, width: number, height = 1): Band => ({ center, width, height })

/** What reaches the eye through red, green and blue filters, per kind of light. Typical of the technology, of no product. */
export const typicalEmission: Readonly<Record<PanelKind, Emission>> = {
  // Blue LED and a yellow phosphor: broad, so that the filters overlap.
  'white-led': {
    red: [band(630, 18), band(545, 16, 0.04), band(450, 11, 0.02)],
    green: [band(540, 26), band(600, 18, 0.13), band(470, 14, 0.08)],
    blue: [band(452, 11), band(525, 22, 0.05)],
  },
  // Blue LED with green and red phosphors of their own; the red one emits in narrow lines.
  'wide-gamut-led': {
    red: [band(631, 3.2), band(614, 3, 0.32), band(648, 3.4, 0.14), band(600, 14, 0.03), band(540, 16, 0.008)],
    green: [band(533, 19), band(600, 14, 0.012)],
    blue: [band(450, 10), band(520, 16, 0.015)],
  },
  // Three dies, each narrow.
  'rgb-led': { red: [band(636, 9)], green: [band(524, 14)], blue: [band(459, 10)] },
  // Blue LED through two sizes of crystal, narrow and symmetrical.
  'quantum-dot': {
    red: [band(634, 12), band(560, 14, 0.01)],
    green: [band(534, 13.5), band(600, 12, 0.01)],
    blue: [band(449, 9), band(515, 12, 0.01)],
  },
  // Rare-earth phosphors of a fluorescent tube: lines of terbium, europium and mercury.
  'cold-cathode': {
    red: [band(611, 3.2), band(631, 5, 0.22), band(587, 5, 0.14), band(546, 3, 0.05)],
    green: [band(543.5, 4), band(488, 5, 0.22), band(585, 6, 0.14), band(515, 22, 0.05)],
    blue: [band(451, 17), band(436, 3, 0.75), band(405, 3, 0.08), band(490, 6, 0.18)],
  },
  // Three emitters in microcavities.
  oled: { red: [band(624, 15)], green: [band(530, 14)], blue: [band(460, 10)] },
  // White emitter, a stack of blue and yellow, behind filters; the fourth subpixel has none.
  'oled-white': {
    red: [band(628, 20), band(590, 10, 0.08)],
    green: [band(538, 22), band(575, 18, 0.12)],
    blue: [band(457, 12), band(490, 14, 0.09)],
    white: [band(457, 13, 0.95), band(560, 42, 0.55), band(620, 26, 0.3)],
  },
  // Mercury lines on a continuum, parted by dichroic mirrors.
  'projector-lamp': {
    red: [band(620, 22), band(650, 24, 0.5), band(579, 4, 0.12)],
    green: [band(546, 4, 1.2), band(535, 16, 0.5), band(515, 12, 0.22)],
    blue: [band(437, 5), band(455, 14, 0.6), band(480, 10, 0.16)],
  },
}

/** The spectrum of bands, its peaks shifted by so many nm. */
export function spectrumOfBands(bands: readonly Band[], shiftNm = 0): Spectrum {
  const spectrum = new Float64Array(spectrumLength)
  for (const { center, width, height } of bands)
    for (let i = 0; i < spectrumLength; i++) {
      const t = (wavelengthAt(i) - center - shiftNm) / width
      spectrum[i] += height * Math.exp(-0.5 * t * t)
    }
  return spectrum
}
