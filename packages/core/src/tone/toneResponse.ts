/** How light grows with the signal. */
export type ToneResponse =
  | { readonly kind: 'power'; readonly exponent: number }
  | { readonly kind: 'sRGB' }
  | { readonly kind: 'L*' }
  | { readonly kind: 'BT.1886' }

interface Curve {
  /** Light above black, 0–1, of a signal, 0–1. */
  readonly decode: (signal: number) => number
  /** Signal, 0–1, of light above black, 0–1. */
  readonly encode: (light: number) => number
}

const power = (exponent: number): Curve => ({
  decode: (v) => v ** exponent,
  encode: (l) => l ** (1 / exponent),
})

/** IEC 61966-2-1 §5.2. */
const srgb: Curve = {
  decode: (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4),
  encode: (l) => (l <= 0.04045 / 12.92 ? l * 12.92 : 1.055 * l ** (1 / 2.4) - 0.055),
}

/** The lightness function of CIELAB (CIE 15:2018 §8.2.1) used as an encoding: the signal is a hundredth of L*. */
const lstar: Curve = {
  decode: (v) => (v > 0.08 ? ((v * 100 + 16) / 116) ** 3 : (v * 100 * 27) / 24389),
  encode: (l) => (l > 216 / 24389 ? 1.16 * Math.cbrt(l) - 0.16 : (l * 24389) / 2700),
}

/**
 * ITU-R BT.1886 annex 1 with the measured black: L = a·(V + b)^2.4. Here as light above black, so that
 * 0 stays 0 and 1 stays 1 whatever the black is.
 */
const bt1886 = (blackRatio: number): Curve => {
  const gamma = 2.4
  const root = blackRatio ** (1 / gamma)
  const a = (1 - root) ** gamma
  const b = root / (1 - root)
  return {
    decode: (v) => (a * (v + b) ** gamma - blackRatio) / (1 - blackRatio),
    encode: (l) => ((l * (1 - blackRatio) + blackRatio) / a) ** (1 / gamma) - b,
  }
}

/**
 * The curve of a tone response. `blackRatio` is black ÷ white luminance, 0–1 (exclusive); only BT.1886 depends on it.
 * Both directions clamp their argument to 0–1 and are exact inverses there.
 */
export function toneCurve(tone: ToneResponse, blackRatio = 0): Curve {
  const curve =
    tone.kind === 'power'
      ? power(tone.exponent)
      : tone.kind === 'sRGB'
        ? srgb
        : tone.kind === 'L*'
          ? lstar
          : bt1886(blackRatio)
  const clamp = (t: number) => Math.min(1, Math.max(0, t))
  return { decode: (v) => clamp(curve.decode(clamp(v))), encode: (l) => clamp(curve.encode(clamp(l))) }
}
