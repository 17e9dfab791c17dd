import {
  convertChromaticityToXyz,
  invert,
  multiplyVector,
  subtract,
  transpose,
  type Triple,
  type XYZ,
} from '@bichroma/core/color'
import { quantizeSignal } from '@bichroma/core/tables'
import { spectrumOfBands, typicalEmission, type Band } from '../light/bands'
import { xyzOfLight, type Light } from '../light/light'
import { xyzOfSpectrum, type Spectrum } from '../light/spectrum'
import { warmth, wanderOn, wearAfter } from './ageing'
import { limitFactor } from './brightnessLimit'
import { coupleDrives, supplyFactor } from './coupling'
import { channelLight } from './channelTone'
import type { PanelTraits } from './panelSchema'
import { centre, surfaceFactors, type Place } from './surface'

/** What changes while a panel lives. */
export interface PanelState {
  /** Setting of the brightness control. */
  readonly backlight: number
  /** Minutes since it was switched on. */
  readonly warmMinutes: number
  /** Hours of use. */
  readonly hours: number
  /** ms since 1970, for what differs from day to day. */
  readonly at: number
  /** Share of the screen that the patch fills. */
  readonly area: number
}

/** A panel that has settled, with nothing of the day's mood: for tests and for taking its measure. */
export const settled: Pick<PanelState, 'warmMinutes' | 'hours' | 'area'> = { warmMinutes: 1e4, hours: 0, area: 0.1 }

const kept = new Map<string, Spectrum>()

/** Spectra are shared by all panels whose bands are the same. */
function spectrumFor(bands: readonly Band[], shiftNm: number): Spectrum {
  const key = JSON.stringify([bands, shiftNm])
  let found = kept.get(key)
  if (!found) kept.set(key, (found = spectrumOfBands(bands, shiftNm)))
  return found
}

const each = (f: (c: 0 | 1 | 2) => number): Triple => [f(0), f(1), f(2)]

/**
 * A panel: drive in, light out, without noise. In the order of the physics: drives are rounded and couple across the
 * lines; each channel's native tone makes light of them; the supply sags; a white subpixel shines with the least of the
 * three; black leaks; the control, warmth, age, the day, the limiter and the place on the surface scale what is left.
 */
export class PanelModel {
  /** Red, green, blue, and white where there is a white subpixel. */
  private readonly spectra: readonly Spectrum[]
  /** Weight of each spectrum at full drive, new, warm, full control. */
  private readonly full: readonly number[]
  private readonly leak: Triple

  /** `seed` gives it its own moods. Throws RangeError when its light cannot mix its native white. */
  constructor(
    readonly traits: PanelTraits,
    private readonly seed = 0,
  ) {
    const { light } = traits
    const emission = light.bands ?? typicalEmission[light.source]
    const [red, green, blue] = light.shiftNm
    this.spectra = [
      spectrumFor(emission.red, red),
      spectrumFor(emission.green, green),
      spectrumFor(emission.blue, blue),
    ]
    const wanted = convertChromaticityToXyz(light.nativeWhite as { x: number; y: number }, light.peakLuminance)
    let whitePart: XYZ = [0, 0, 0]
    let whiteWeight = 0
    if (light.whiteSubpixel > 0) {
      const white = spectrumFor(emission.white ?? typicalEmission['oled-white'].white!, 0)
      this.spectra = [...this.spectra, white]
      const xyz = xyzOfSpectrum(white)
      whiteWeight = (light.whiteSubpixel * light.peakLuminance) / xyz[1]
      whitePart = [xyz[0] * whiteWeight, xyz[1] * whiteWeight, xyz[2] * whiteWeight]
    }
    // The factory balances the channels so that full drives give the panel's native white.
    const columns = transpose(this.spectra.slice(0, 3).map(xyzOfSpectrum) as unknown as [Triple, Triple, Triple])
    const weights = multiplyVector(invert(columns), subtract(wanted, whitePart))
    if (Math.min(...weights) <= 0)
      throw new RangeError(`A panel of this light (${light.source}) cannot have that native white.`)
    const leakShare = light.contrast === null ? 0 : 1 / light.contrast
    this.leak = each((c) => weights[c] * leakShare * light.blackTint[c])
    this.full = [...each((c) => weights[c] - this.leak[c]), ...(whiteWeight ? [whiteWeight] : [])]
  }

  /** Light of a drive (0–1 per channel) at a place of the surface. */
  lightOfDrive(drive: Triple, state: PanelState, place: Place = centre): Light {
    const { traits } = this
    const wear = wearAfter(traits, state.hours)
    const coupled = coupleDrives(quantizeSignal(drive, traits.signal.driveBits), traits.coupling.crosstalk)
    const light = each((c) =>
      channelLight(coupled[c], traits.tone.exponents[c] + wear.exponents[c], traits.tone.bows[c]),
    )
    const { min, max, lowest, exponent } = traits.control
    const control = lowest + (1 - lowest) * ((state.backlight - min) / (max - min)) ** exponent
    const all = control * limitFactor(traits, light, state.area)
    const sagging = supplyFactor(light, traits.coupling.load)
    const [warm, mood, surface] = [
      warmth(traits, state.warmMinutes),
      wanderOn(traits, this.seed, state.at),
      surfaceFactors(traits, place),
    ]
    const factor = each((c) => all * wear.light[c] * warm[c] * mood[c] * surface[c])
    const weights = [0, 1, 2].map((c) => factor[c] * (this.full[c] * light[c] * sagging + this.leak[c]))
    if (this.full.length > 3)
      weights.push(((factor[0] + factor[1] + factor[2]) / 3) * this.full[3] * Math.min(...light) * sagging)
    return { spectra: this.spectra, weights }
  }

  /** XYZ in cd/m² of a drive at a place, by the CIE 1931 observer. */
  emit(drive: Triple, state: PanelState, place: Place = centre): XYZ {
    return xyzOfLight(this.lightOfDrive(drive, state, place))
  }
}
