import type { XYZ } from '../color/chromaticity'
import { convertLabToXyz, convertXyzToLab, type Lab } from '../color/lab'
import { invert, multiplyVector, type Matrix3, type Triple } from '../color/matrix3'
import { placeOnRising } from '../tables/table1d'
import { predictLabInto, type Characterization } from './characterization'
import { unshareLight } from './sharedLight'

/** How much more a turned hue counts than lost chroma or lightness where a colour cannot be reached. */
const hueWeight = 4
/** Step of the numeric derivatives, in signal. */
const step = 1 / 2048
/** The step where a channel is dark: its light starts flat, so that a short step would see only its neighbours' crosstalk. */
const darkStep = 1 / 16
const mostSteps = 24
/** Squared difference at which a colour counts as found. */
const smallest = 1e-12

/**
 * Finds the signals that show wanted colours on a characterized display. What the display cannot show is brought to
 * the nearest colour that it can, hue kept: the squared difference in lightness, chroma and hue, scaled like those of
 * CIEDE2000 and the hue counted {@link hueWeight}-fold, is made smallest with every signal held within 0–1 (projected
 * Levenberg–Marquardt; J. Nocedal, S. Wright, Numerical Optimization, 2006, §10.3, §16.7).
 */
export interface Inverter {
  /** Writes the signals 0–1 for a CIELAB colour under the measured white into `out`; gives the ΔE76 that is left. */
  readonly intoSignal: (L: number, a: number, b: number, out: Float64Array) => number
}

export function makeInverter(c: Characterization): Inverter {
  const entries = c.curves.length / 3
  const m = c.matrix
  const back = invert([
    [m[0], m[1], m[2]],
    [m[3], m[4], m[5]],
    [m[6], m[7], m[8]],
  ] as Matrix3)
  const sharedBack = multiplyVector(back, [c.shared[0], c.shared[1], c.shared[2]])

  /** Where the additive part of the model alone would put the colour. */
  const guess = (L: number, a: number, b: number, out: Float64Array) => {
    const xyz = convertLabToXyz([L, a, b], [1, 1, 1])
    const above: XYZ = [xyz[0] - c.relativeBlack[0], xyz[1] - c.relativeBlack[1], xyz[2] - c.relativeBlack[2]]
    const light = unshareLight(back, sharedBack, above)
    for (let k = 0; k < 3; k++) out[k] = placeOnRising(c.curves, Math.cbrt(Math.max(0, light[k])), k * entries, entries)
  }

  const lab = new Float64Array(3)
  const moved = new Float64Array(3)
  const tried = new Float64Array(3)
  const again = new Float64Array(3)
  const r = new Float64Array(3)
  const j = new Float64Array(9)
  let [cosine, sine, chromaScale, hueScale] = [1, 0, 1, 1]

  /** The weighted difference of `lab` to the target, in `into`; gives its square. */
  const differ = (from: Float64Array, L: number, a: number, b: number, into: Float64Array): number => {
    const da = from[1] - a
    const db = from[2] - b
    into[0] = from[0] - L
    into[1] = chromaScale * (cosine * da + sine * db)
    into[2] = hueScale * (cosine * db - sine * da)
    return into[0] * into[0] + into[1] * into[1] + into[2] * into[2]
  }

  /** Goes from the signals in `out` down to the least weighted difference near them; gives it squared. */
  const descend = (L: number, a: number, b: number, out: Float64Array): number => {
    predictLabInto(c, out[0], out[1], out[2], lab)
    let cost = differ(lab, L, a, b, r)
    let damping = 1e-4
    for (let n = 0; n < mostSteps && cost > smallest; n++) {
      for (let k = 0; k < 3; k++) {
        const was = out[k]
        const h = was === 0 ? darkStep : was + step > 1 ? -step : step
        out[k] = was + h
        predictLabInto(c, out[0], out[1], out[2], moved)
        out[k] = was
        differ(moved, L, a, b, tried)
        j[k] = (tried[0] - r[0]) / h
        j[3 + k] = (tried[1] - r[1]) / h
        j[6 + k] = (tried[2] - r[2]) / h
      }
      const before = cost
      let moves = false
      for (let attempt = 0; attempt < 6; attempt++) {
        const largest = boundedStep(j, r, out, damping, moved)
        if (largest < 1e-9) break
        predictLabInto(c, moved[0], moved[1], moved[2], lab)
        const next = differ(lab, L, a, b, tried)
        if (next < cost) {
          out.set(moved)
          r.set(tried)
          cost = next
          damping = Math.max(1e-7, damping / 6)
          moves = true
          break
        }
        damping *= 10
      }
      if (!moves || (cost > 1e-6 && before - cost < 1e-6 * before)) break
    }
    return cost
  }

  const intoSignal = (L: number, a: number, b: number, out: Float64Array): number => {
    const chroma = Math.sqrt(a * a + b * b)
    cosine = chroma > 1e-9 ? a / chroma : 1
    sine = chroma > 1e-9 ? b / chroma : 0
    chromaScale = 1 / (1 + 0.045 * chroma)
    hueScale = hueWeight / (1 + 0.015 * chroma)
    guess(L, a, b, out)
    const cost = descend(L, a, b, out)
    if (cost > 1e-5 && (out[0] === 0 || out[1] === 0 || out[2] === 0)) {
      // A dark channel may rest on its bound only because it was put there: look again from inside.
      for (let k = 0; k < 3; k++) again[k] = out[k] === 0 ? 2 * darkStep : out[k]
      if (descend(L, a, b, again) < cost) out.set(again)
    }
    predictLabInto(c, out[0], out[1], out[2], lab)
    const [dl, da, db] = [lab[0] - L, lab[1] - a, lab[2] - b]
    return Math.sqrt(dl * dl + da * da + db * db)
  }
  return { intoSignal }
}

const gradient = new Float64Array(3)
const normal = new Float64Array(9)

/**
 * One damped Gauss–Newton step from `from` with the signals kept within 0–1, written into `to`. A signal that rests on
 * its bound and would leave it is held. Gives the largest change.
 */
function boundedStep(j: Float64Array, r: Float64Array, from: Float64Array, damping: number, to: Float64Array): number {
  for (let k = 0; k < 3; k++) {
    gradient[k] = j[k] * r[0] + j[3 + k] * r[1] + j[6 + k] * r[2]
    for (let l = 0; l <= k; l++) {
      const v = j[k] * j[l] + j[3 + k] * j[3 + l] + j[6 + k] * j[6 + l]
      normal[3 * k + l] = v
      normal[3 * l + k] = v
    }
  }
  const trace = normal[0] + normal[4] + normal[8]
  for (let k = 0; k < 3; k++) {
    normal[4 * k] += damping * trace + 1e-12
    if ((from[k] <= 0 && gradient[k] > 0) || (from[k] >= 1 && gradient[k] < 0)) {
      for (let l = 0; l < 3; l++) normal[3 * k + l] = normal[3 * l + k] = 0
      normal[4 * k] = 1
      gradient[k] = 0
    }
  }
  const a = normal[0]
  const b = normal[1]
  const c = normal[2]
  const d = normal[4]
  const e = normal[5]
  const f = normal[8]
  const A = d * f - e * e
  const B = c * e - b * f
  const C = b * e - c * d
  const determinant = a * A + b * B + c * C
  if (!(determinant > 0)) return 0
  const g0 = gradient[0]
  const g1 = gradient[1]
  const g2 = gradient[2]
  const s0 = -(A * g0 + B * g1 + C * g2) / determinant
  const s1 = -(B * g0 + (a * f - c * c) * g1 + (b * c - a * e) * g2) / determinant
  const s2 = -(C * g0 + (b * c - a * e) * g1 + (a * d - b * b) * g2) / determinant
  to[0] = Math.min(1, Math.max(0, from[0] + s0))
  to[1] = Math.min(1, Math.max(0, from[1] + s1))
  to[2] = Math.min(1, Math.max(0, from[2] + s2))
  return Math.max(Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1]), Math.abs(to[2] - from[2]))
}

/** A signal and how far what it shows is from what was wanted. */
export interface Inversion {
  /** 0–1 */
  readonly rgb: Triple
  /** ΔE76 that is left: 0 for a colour that the display can show. */
  readonly left: number
}

/** The signal (0–1) for a CIELAB colour under the measured white. */
export function invertLab(c: Characterization, lab: Lab): Inversion {
  const out = new Float64Array(3)
  const left = makeInverter(c).intoSignal(lab[0], lab[1], lab[2], out)
  return { rgb: [out[0], out[1], out[2]], left }
}

/** The signal (0–1) for a colour in XYZ, cd/m². */
export const invertXyz = (c: Characterization, xyz: XYZ): Inversion => invertLab(c, convertXyzToLab(xyz, c.white))
