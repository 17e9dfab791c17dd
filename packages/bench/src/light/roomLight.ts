import { blackbodySpectrum } from '@bichroma/core/color'
import { type Light, xyzOfLight } from './light'
import { spectrumLength, wavelengthAt } from './spectrum'

/** Light that falls on the desk and the glass. */
export interface RoomLight {
  /** lx */
  readonly illuminanceLux: number
  /** K */
  readonly kelvin: number
}

const wavelengths = Array.from({ length: spectrumLength }, (_, i) => wavelengthAt(i))
const spectra = new Map<number, Light['spectra']>()

function spectrumOf(kelvin: number): Light['spectra'] {
  const rounded = Math.round(kelvin / 10) * 10
  let found = spectra.get(rounded)
  if (!found) {
    const raw = Float64Array.from(blackbodySpectrum(rounded, wavelengths))
    const [, y] = xyzOfLight({ spectra: [raw], weights: [1] })
    spectra.set(rounded, (found = [raw.map((v) => v / y)]))
  }
  return found
}

/** Light whose Y is `amount` at the room light's colour temperature (a thermal radiator). */
export const lightOfRoom = ({ kelvin }: RoomLight, amount: number): Light => ({
  spectra: spectrumOf(kelvin),
  weights: [amount],
})

/**
 * What a surface of a luminance factor sends back: ρ·E/π cd/m² for a matt surface under E lx. CIE 15:2018 §7.3.
 */
export const reflectedLight = (room: RoomLight, luminanceFactor: number): Light =>
  lightOfRoom(room, (luminanceFactor * room.illuminanceLux) / Math.PI)
