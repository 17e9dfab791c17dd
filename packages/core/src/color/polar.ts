import type { Triple } from './matrix3'

const degrees = 180 / Math.PI

/** Lightness, chroma, hue angle (0–360°, 0 for greys) of any opponent space: CIELAB, CIELUV, Oklab. CIE 15:2018 §8.2. */
export function convertToPolar([L, a, b]: Triple): Triple {
  const hue = Math.atan2(b, a) * degrees
  return [L, Math.hypot(a, b), hue < 0 ? hue + 360 : hue]
}

/** Inverse of {@link convertToPolar}. */
export const convertFromPolar = ([L, C, h]: Triple): Triple => [L, C * Math.cos(h / degrees), C * Math.sin(h / degrees)]
