import type { Lab } from './lab'

const degrees = Math.PI / 180
const pow25To7 = 25 ** 7

const hueAngle = (a: number, b: number) => {
  if (a === 0 && b === 0) return 0
  const h = Math.atan2(b, a) / degrees
  return h < 0 ? h + 360 : h
}

/**
 * CIEDE2000 colour difference of two CIELAB colours, kL = kC = kH = 1.
 * G. Sharma, W. Wu, E. N. Dalal, Color Research and Application 30 (1), 2005; CIE 142, ISO/CIE 11664-6.
 */
export function deltaE2000([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const meanC7 = ((Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2) ** 7
  const G = 0.5 * (1 - Math.sqrt(meanC7 / (meanC7 + pow25To7)))
  const a1p = (1 + G) * a1
  const a2p = (1 + G) * a2
  const C1 = Math.hypot(a1p, b1)
  const C2 = Math.hypot(a2p, b2)
  const h1 = hueAngle(a1p, b1)
  const h2 = hueAngle(a2p, b2)
  const chromatic = C1 * C2 !== 0

  let dh = chromatic ? h2 - h1 : 0
  if (dh > 180) dh -= 360
  else if (dh < -180) dh += 360
  const dL = L2 - L1
  const dC = C2 - C1
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin((dh / 2) * degrees)

  const meanL = (L1 + L2) / 2
  const meanC = (C1 + C2) / 2
  let meanH = h1 + h2
  if (chromatic) {
    if (Math.abs(h1 - h2) <= 180) meanH /= 2
    else meanH = meanH < 360 ? (meanH + 360) / 2 : (meanH - 360) / 2
  }

  const T =
    1 -
    0.17 * Math.cos((meanH - 30) * degrees) +
    0.24 * Math.cos(2 * meanH * degrees) +
    0.32 * Math.cos((3 * meanH + 6) * degrees) -
    0.2 * Math.cos((4 * meanH - 63) * degrees)
  const SL = 1 + (0.015 * (meanL - 50) ** 2) / Math.sqrt(20 + (meanL - 50) ** 2)
  const SC = 1 + 0.045 * meanC
  const SH = 1 + 0.015 * meanC * T
  const C7 = meanC ** 7
  const RC = 2 * Math.sqrt(C7 / (C7 + pow25To7))
  const RT = -RC * Math.sin(60 * Math.exp(-(((meanH - 275) / 25) ** 2)) * degrees)
  const l = dL / SL
  const c = dC / SC
  const h = dH / SH
  return Math.sqrt(l * l + c * c + h * h + RT * c * h)
}
