import { decodeHlg, encodeHlg, hlgSystemGamma } from './hlg'
import { invertRising, monotoneCurve } from './monotoneCurve'
import { decodePq, encodePq } from './pq'

/** How light grows with the signal. */
export type ToneResponse =
  | { readonly kind: 'power'; readonly exponent: number }
  | { readonly kind: 'sRGB' }
  | { readonly kind: 'L*' }
  | { readonly kind: 'BT.1886' }
  /** Absolute: the signal says cd/m², and what the display cannot reach is clipped. */
  | { readonly kind: 'PQ' }
  /** With the system gamma of the display's own luminance. */
  | { readonly kind: 'HLG' }
  /** A curve that somebody measured or drew: points of signal and light, both 0–1 and rising. */
  | { readonly kind: 'curve'; readonly points: readonly (readonly [number, number])[] }

export interface ToneCurve {
  /** Light above black, 0–1, of a signal, 0–1. */
  readonly decode: (signal: number) => number
  /** Signal, 0–1, of light above black, 0–1. */
  readonly encode: (light: number) => number
}

const power = (exponent: number): ToneCurve => ({
  decode: (v) => v ** exponent,
  encode: (l) => l ** (1 / exponent),
})

/** IEC 61966-2-1 §5.2. */
const srgb: ToneCurve = {
  decode: (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4),
  encode: (l) => (l <= 0.04045 / 12.92 ? l * 12.92 : 1.055 * l ** (1 / 2.4) - 0.055),
}

/** The lightness function of CIELAB (CIE 15:2018 §8.2.1) used as an encoding: the signal is a hundredth of L*. */
const lstar: ToneCurve = {
  decode: (v) => (v > 0.08 ? ((v * 100 + 16) / 116) ** 3 : (v * 100 * 27) / 24389),
  encode: (l) => (l > 216 / 24389 ? 1.16 * Math.cbrt(l) - 0.16 : (l * 24389) / 2700),
}

/**
 * ITU-R BT.1886 annex 1 with the measured black: L = a·(V + b)^2.4. Here as light above black, so that
 * 0 stays 0 and 1 stays 1 whatever the black is.
 */
const bt1886 = (blackRatio: number): ToneCurve => {
  const gamma = 2.4
  const root = blackRatio ** (1 / gamma)
  const a = (1 - root) ** gamma
  const b = root / (1 - root)
  return {
    decode: (v) => (a * (v + b) ** gamma - blackRatio) / (1 - blackRatio),
    encode: (l) => ((l * (1 - blackRatio) + blackRatio) / a) ** (1 / gamma) - b,
  }
}

/** ITU-R BT.2100 PQ on a display of `peak` cd/m²: light relative to that peak, clipped there. */
const pq = (peak: number): ToneCurve => ({
  decode: (v) => decodePq(v) / peak,
  encode: (l) => encodePq(l * peak),
})

/** ITU-R BT.2100 HLG for greys: inverse OETF with the black's lift, then the system gamma, as light above black. */
const hlg = (blackRatio: number, peak: number): ToneCurve => {
  const gamma = hlgSystemGamma(peak)
  // The constants of the standard give full signal 1 + 5e-9 of light; here it gives 1.
  const full = decodeHlg(1)
  // β of ITU-R BT.2100-2 table 5: the signal whose light is the black's.
  const lift = encodeHlg(full * blackRatio ** (1 / gamma))
  return {
    decode: (v) => ((decodeHlg((1 - lift) * v + lift) / full) ** gamma - blackRatio) / (1 - blackRatio),
    encode: (l) => (encodeHlg(full * (l * (1 - blackRatio) + blackRatio) ** (1 / gamma)) - lift) / (1 - lift),
  }
}

const throughPoints = (points: readonly (readonly [number, number])[]): ToneCurve => {
  const decode = monotoneCurve(
    points.map(([v]) => v),
    points.map(([, l]) => l),
  )
  return { decode, encode: (l) => invertRising(decode, l) }
}

/** What some tone responses need to know of the display. */
export interface ToneSurroundings {
  /** Black ÷ white luminance, 0–1 (exclusive); BT.1886 and HLG depend on it. */
  readonly blackRatio?: number
  /** Luminance of white, cd/m²; PQ and HLG depend on it. */
  readonly peak?: number
}

const curves: {
  readonly [K in ToneResponse['kind']]: (
    tone: Extract<ToneResponse, { kind: K }>,
    s: Required<ToneSurroundings>,
  ) => ToneCurve
} = {
  power: ({ exponent }) => power(exponent),
  sRGB: () => srgb,
  'L*': () => lstar,
  'BT.1886': (_, { blackRatio }) => bt1886(blackRatio),
  PQ: (_, { peak }) => pq(peak),
  HLG: (_, { blackRatio, peak }) => hlg(blackRatio, peak),
  curve: ({ points }) => throughPoints(points),
}

/**
 * The curve of a tone response: light above black, 0–1, against signal, 0–1, and back. Both directions clamp argument and
 * result to 0–1 and are exact inverses there (PQ: up to the signal whose luminance is the display's peak). `curve` throws
 * RangeError when its points do not rise.
 */
export function toneCurve(tone: ToneResponse, { blackRatio = 0, peak = 100 }: ToneSurroundings = {}): ToneCurve {
  const curve = curves[tone.kind](tone as never, { blackRatio, peak })
  const clamp = (t: number) => Math.min(1, Math.max(0, t))
  return { decode: (v) => clamp(curve.decode(clamp(v))), encode: (l) => clamp(curve.encode(clamp(l))) }
}
