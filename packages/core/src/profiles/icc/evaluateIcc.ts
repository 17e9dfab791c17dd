import { pcsWhite } from '../../color/encodings'
import { convertLabToXyz, convertXyzToLab, type Lab } from '../../color/lab'
import { determinant, invert, multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import type { XYZ } from '../../color/chromaticity'
import { tetrahedral, trilinear } from '../../tables/grid3d'
import { invertRising } from '../../tone/monotoneCurve'
import { curveFunction } from './curves'
import { ProfileError } from './iccBytes'
import { labCodes } from './labSpace'
import { applyLut, type Lut } from './lut'
import type { IccProfile } from './readIcc'
import { xyzUnit } from './xyzSpace'

/** A profile as two functions, relative colorimetric. */
export interface ProfileTransforms {
  /** How it is done: by matrix and curves, or by tables. */
  readonly kind: 'matrix' | 'table'
  /** CIELAB under the connection space's D50 of a signal 0–1. */
  readonly toLab: (rgb: Triple) => Lab
  /** The signal 0–1 for a CIELAB colour under D50; what cannot be shown is clipped. Null when the profile has no way back. */
  readonly toSignal: ((lab: Lab) => Triple) | null
}

/** CIELAB to and from the shares that a table of this profile speaks. */
function codeOf(profile: IccProfile, lut: Lut): { encode: (lab: Lab) => Triple; decode: (v: Triple) => Lab } {
  if (profile.connectionSpace === 'Lab') {
    const { ofL, ofAb, toL, toAb } = labCodes[lut.type === 'mft2' ? 2 : 4]
    return { encode: ([L, a, b]) => [ofL(L), ofAb(a), ofAb(b)], decode: ([x, y, z]) => [toL(x), toAb(y), toAb(z)] }
  }
  const clamp = (v: number) => Math.min(1, Math.max(0, v))
  return {
    encode: (lab) => convertLabToXyz(lab, pcsWhite).map((v) => clamp(v / xyzUnit)) as unknown as Triple,
    decode: ([x, y, z]) => convertXyzToLab([x * xyzUnit, y * xyzUnit, z * xyzUnit], pcsWhite),
  }
}

const lutOf = (profile: IccProfile, signature: string): Lut | null => {
  const value = profile.read(signature)
  if (value === null) return null
  if (value.kind !== 'lut') throw new ProfileError(`The tag “${signature}” is no table.`)
  return value.lut
}

function tableTransforms(profile: IccProfile, forward: Lut): ProfileTransforms {
  const out = codeOf(profile, forward)
  const back = lutOf(profile, 'B2A0') ?? lutOf(profile, 'B2A1')
  const into = back && codeOf(profile, back)
  return {
    kind: 'table',
    toLab: (rgb) => out.decode(applyLut(forward, rgb, tetrahedral)),
    toSignal:
      back &&
      into &&
      ((lab) => applyLut(back, into.encode(lab), profile.connectionSpace === 'XYZ' ? tetrahedral : trilinear)),
  }
}

function matrixTransforms(profile: IccProfile): ProfileTransforms {
  const column = (signature: string): XYZ => {
    const value = profile.read(signature)
    if (value?.kind !== 'xyz' || value.values.length < 1)
      throw new ProfileError(
        `The profile has neither tables nor the tag “${signature}”, so it says nothing of colours.`,
      )
    return value.values[0]
  }
  const curve = (signature: string) => {
    const value = profile.read(signature)
    if (value?.kind !== 'curve')
      throw new ProfileError(
        `The profile has neither tables nor the tag “${signature}”, so it says nothing of colours.`,
      )
    return curveFunction(value.curve)
  }
  const [r, g, b] = [column('rXYZ'), column('gXYZ'), column('bXYZ')]
  const curves = [curve('rTRC'), curve('gTRC'), curve('bTRC')]
  const matrix: Matrix3 = [
    [r[0], g[0], b[0]],
    [r[1], g[1], b[1]],
    [r[2], g[2], b[2]],
  ]
  const back = Math.abs(determinant(matrix)) > 1e-9 ? invert(matrix) : null
  const each = (v: Triple, of: (x: number, c: number) => number): Triple => [of(v[0], 0), of(v[1], 1), of(v[2], 2)]
  return {
    kind: 'matrix',
    toLab: (rgb) =>
      convertXyzToLab(
        multiplyVector(
          matrix,
          each(rgb, (v, c) => curves[c](v)),
        ),
        pcsWhite,
      ),
    toSignal:
      back &&
      ((lab) =>
        each(multiplyVector(back, convertLabToXyz(lab, pcsWhite)), (light, c) => invertRising(curves[c], light))),
  }
}

/**
 * The functions of a display profile: its tables where it has them (A2B0 or A2B1, and back), else matrix and curves.
 * Throws ProfileError when it has neither, or they are broken.
 */
export function profileTransforms(profile: IccProfile): ProfileTransforms {
  const forward = lutOf(profile, 'A2B0') ?? lutOf(profile, 'A2B1')
  return forward ? tableTransforms(profile, forward) : matrixTransforms(profile)
}
