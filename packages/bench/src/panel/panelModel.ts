import {
  applySlotTables,
  convertChromaticityToXyz,
  convertSpectrumToXyz,
  invert,
  multiplyVector,
  quantizeSignal,
  transpose,
  wavelengths,
  type Chromaticity,
  type Matrix3,
  type PanelKind,
  type SlotTables,
  type Triple,
  type XYZ,
} from '@bichroma/core'

/** One emission band: a Gaussian over wavelength. */
interface Band {
  /** nm */
  readonly center: number
  /** Standard deviation, nm. */
  readonly width: number
  /** Radiance relative to the channel's other bands. */
  readonly height: number
}

/** Emission of red, green and blue through their filters, per kind of panel. Typical of the technology, of no product. */
export const emission: Readonly<Record<PanelKind, readonly [readonly Band[], readonly Band[], readonly Band[]]>> = {
  // Blue LED and a yellow phosphor: broad, so that the filters overlap.
  'white-led': [
    [
      { center: 630, width: 18, height: 1 },
      { center: 545, width: 16, height: 0.04 },
      { center: 450, width: 11, height: 0.02 },
    ],
    [
      { center: 540, width: 26, height: 1 },
      { center: 600, width: 18, height: 0.13 },
      { center: 470, width: 14, height: 0.08 },
    ],
    [
      { center: 452, width: 11, height: 1 },
      { center: 525, width: 22, height: 0.05 },
    ],
  ],
  // Blue LED with green and red phosphors of their own.
  'wide-gamut-led': [
    [
      { center: 631, width: 12, height: 1 },
      { center: 600, width: 14, height: 0.1 },
      { center: 540, width: 16, height: 0.015 },
    ],
    [
      { center: 533, width: 19, height: 1 },
      { center: 600, width: 14, height: 0.012 },
    ],
    [
      { center: 450, width: 10, height: 1 },
      { center: 520, width: 16, height: 0.015 },
    ],
  ],
  'rgb-led': [
    [{ center: 636, width: 10, height: 1 }],
    [{ center: 524, width: 15, height: 1 }],
    [{ center: 459, width: 11, height: 1 }],
  ],
  'quantum-dot': [
    [
      { center: 630, width: 12, height: 1 },
      { center: 560, width: 14, height: 0.01 },
    ],
    [
      { center: 534, width: 14, height: 1 },
      { center: 600, width: 12, height: 0.01 },
    ],
    [
      { center: 449, width: 9, height: 1 },
      { center: 515, width: 12, height: 0.01 },
    ],
  ],
  oled: [
    [{ center: 624, width: 15, height: 1 }],
    [{ center: 530, width: 15, height: 1 }],
    [{ center: 460, width: 11, height: 1 }],
  ],
}

/** What makes one panel different from the next. A scenario file holds these. */
export interface PanelTraits {
  readonly kind: PanelKind
  /** Luminance of the raw white at full backlight when new and warm, cd/m². */
  readonly peakLuminance: number
  /** White of equal full drives when new and warm. */
  readonly nativeWhite: Chromaticity
  /** Exponent of each channel's native curve. */
  readonly exponents: Triple
  /** Depth of the S in each channel's native curve; 0.2 is strong. */
  readonly bows: Triple
  /** How far a neighbour's drive pulls a channel's drive towards it; 0.015 moves the light by 2 to 3 %. */
  readonly crosstalk: number
  /** Contrast of white to black; Infinity for a panel that goes dark. */
  readonly contrast: number
  /** Light lost per 1,000 hours by red, green and blue, as shares. */
  readonly ageing: Triple
  /** Bits of the signal it takes, and of the drive behind its tables. */
  readonly signalBits: number
  readonly driveBits: number
}

/** What changes while a panel lives. */
export interface PanelState {
  /** 0–100 */
  readonly backlight: number
  /** Minutes since it was switched on. */
  readonly warmMinutes: number
  /** Hours of use. */
  readonly hours: number
}

const spectrumOf = (bands: readonly Band[]) =>
  wavelengths.map((nm) =>
    bands.reduce((sum, b) => sum + b.height * Math.exp(-0.5 * ((nm - b.center) / b.width) ** 2), 0),
  )

/** Luminance and colour settle exponentially: the share still missing at switch-on, and minutes to a third of it. */
const warmUp = { luminanceShort: 0.09, luminanceMinutes: 11, blueShort: 0.025, blueMinutes: 16 }
/** Light at the control's lowest setting, and the exponent of its curve. */
const backlightCurve = { lowest: 0.08, exponent: 1.12 }

/**
 * A panel: drive or signal in, light out, without noise. What it does is physics in five steps: quantisation, the slot's
 * tables (unless bypassed), coupling of drives between channels, each channel's native curve, and the channels' light
 * summed with what leaks at black.
 */
export class PanelModel {
  /** Columns red, green, blue: XYZ at full drive, new, warm, full backlight, leakage left out. */
  private readonly light: Matrix3
  private readonly leak: XYZ

  constructor(readonly traits: PanelTraits) {
    const columns = transpose(
      emission[traits.kind].map((bands) => convertSpectrumToXyz(spectrumOf(bands))) as unknown as Matrix3,
    )
    // The factory balances the channels so that full drives give the panel's native white.
    const gains = multiplyVector(invert(columns), convertChromaticityToXyz(traits.nativeWhite, traits.peakLuminance))
    if (Math.min(...gains) <= 0) throw new RangeError('This kind of panel cannot have that native white.')
    const total = columns.map((row) => row.map((v, c) => v * gains[c])) as unknown as Matrix3
    const leakShare = Number.isFinite(traits.contrast) ? 1 / traits.contrast : 0
    this.light = total.map((row) => row.map((v) => v * (1 - leakShare))) as unknown as Matrix3
    // Crossed polarisers pass a little more blue.
    this.leak = multiplyVector(total, [leakShare * 0.93, leakShare * 0.98, leakShare * 1.25])
  }

  /** XYZ in cd/m² of a signal (0–1), through a slot's tables or, with null, as drive. */
  emit(signal: Triple, tables: SlotTables | null, state: PanelState): XYZ {
    const { traits } = this
    const input = quantizeSignal(signal, traits.signalBits)
    const drive = quantizeSignal(tables ? applySlotTables(tables, input) : input, traits.driveBits)
    const channel = this.couple(drive).map((d, c) => this.curve(d, c)) as unknown as Triple

    const { luminanceShort, luminanceMinutes, blueShort, blueMinutes } = warmUp
    const warm = 1 - luminanceShort * Math.exp(-state.warmMinutes / luminanceMinutes)
    const blue = 1 - blueShort * Math.exp(-state.warmMinutes / blueMinutes)
    const { lowest, exponent } = backlightCurve
    const lit = warm * (lowest + (1 - lowest) * (state.backlight / 100) ** exponent)
    const aged = traits.ageing.map(
      (loss, c) => Math.exp((-loss * state.hours) / 1000) * (c === 2 ? blue : 1),
    ) as unknown as Triple

    const emitted = multiplyVector(this.light, channel.map((l, c) => l * aged[c]) as unknown as Triple)
    const tint = (aged[0] + aged[1] + aged[2]) / 3
    return [0, 1, 2].map((k) => lit * (emitted[k] + this.leak[k] * tint)) as unknown as XYZ
  }

  /** A neighbour's voltage reaches a subpixel through the drive lines: most in the middle of the range. */
  private couple(drive: Triple): Triple {
    return drive.map((d, c) => {
      const pull = drive.reduce((sum, other, k) => (k === c ? sum : sum + (other - d)), 0) / 2
      const grip = 0.3 + 2.8 * d * (1 - d)
      return Math.min(1, Math.max(0, d + this.traits.crosstalk * grip * pull))
    }) as unknown as Triple
  }

  /** A channel's native curve: a power with an S laid over it; 0 stays 0, 1 stays 1, rising. */
  private curve(drive: number, c: number): number {
    const bent = drive + this.traits.bows[c] * drive * (1 - drive) * (2 * drive - 1)
    return bent ** this.traits.exponents[c]
  }
}
