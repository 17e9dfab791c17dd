import { Color } from '../test/colorjs'
import { converter } from 'culori'
import { uniformFrom } from '../basics/random'
import { told } from '../test/told'
import { adaptationMatrix } from './adaptation'
import { convertChromaticityToXyz, type XYZ } from './chromaticity'
import { encodings, matrixOfEncoding, standardPrimaries, standardWhites, type StandardPrimaries } from './encodings'
import { convertICtCpToXyz, convertXyzToICtCp } from './ictcp'
import { convertLabToXyz, convertXyzToLab, lightnessOf, relativeLuminanceOf } from './lab'
import { convertLuvToXyz, convertXyzToLuv } from './luv'
import { multiplyVector, scale, type Triple } from './matrix3'
import { convertOklabToXyz, convertXyzToOklab } from './oklab'
import { convertFromPolar, convertToPolar } from './polar'

const uniform = uniformFrom(19)
const white = convertChromaticityToXyz(standardWhites.D65)
/** Colours of the sRGB gamut as XYZ with white Y 1. */
const colors = Array.from({ length: 500 }, (): XYZ =>
  multiplyVector(matrixOfEncoding('sRGB'), [uniform() ** 2, uniform() ** 2, uniform() ** 2]),
)
const furthest = (pairs: readonly (readonly [Triple, Triple])[]) =>
  Math.max(...pairs.flatMap(([a, b]) => a.map((v, k) => Math.abs(v - b[k]))))
/** What culori takes for XYZ under D65: the same, under another name. */
const culoriXyz = ([x, y, z]: XYZ) => ({ mode: 'xyz65' as const, x, y, z })

describe('against independent libraries', () => {
  test('Oklab: culori and colorjs.io', () => {
    const oklab = converter('oklab')
    const off = furthest(
      colors.map((xyz) => {
        const { l, a, b } = oklab(culoriXyz(xyz))
        return [convertXyzToOklab(xyz), [l, a, b]]
      }),
    )
    told('Oklab against culori', off)
    // Culori goes through its own sRGB matrix of fewer digits.
    expect(off).toBeLessThan(2e-4)
    const other = furthest(
      colors.map((xyz) => [convertXyzToOklab(xyz), new Color('xyz-d65', [...xyz]).to('oklab').coords]),
    )
    told('Oklab against colorjs.io', other)
    expect(other).toBeLessThan(1e-6)
  })

  test('CIELUV: colorjs.io, with its white', () => {
    const theirs = (xyz: XYZ) => new Color('xyz-d65', [...xyz]).to('luv').coords
    const itsWhite = Color.WHITES.D65
    const off = furthest(colors.map((xyz) => [convertXyzToLuv(xyz, itsWhite), theirs(xyz)]))
    told('CIELUV against colorjs.io', off)
    expect(off).toBeLessThan(1e-9)
  })

  test('LCh: colorjs.io', () => {
    const off = Math.max(
      ...colors.map((xyz) => {
        const lab = convertXyzToLab(xyz, white)
        const [L, C, h] = convertToPolar(lab)
        const [l2, c2, h2] = new Color('lab', [...lab]).to('lch').coords
        const turn = Math.abs(h - h2) % 360
        return Math.max(Math.abs(L - l2), Math.abs(C - c2), Math.min(turn, 360 - turn))
      }),
    )
    told('CIELCh against colorjs.io', off)
    expect(off).toBeLessThan(1e-9)
  })

  test('ICtCp (PQ, absolute): colorjs.io, from the same cd/m²', () => {
    const off = furthest(
      colors.map((xyz) => {
        const absolute = scale(xyz, 120)
        const theirs = new Color('xyz-abs-d65', [...absolute]).to('ictcp').coords
        return [convertXyzToICtCp(absolute), theirs]
      }),
    )
    told('ICtCp against colorjs.io', off)
    expect(off).toBeLessThan(5e-5)
  })
})

test('ICtCp of white has the I that PQ gives its luminance, and no colour', () => {
  for (const luminance of [0.1, 100, 1000, 10000]) {
    const [, ct, cp] = convertXyzToICtCp(scale(white, luminance))
    expect(Math.abs(ct)).toBeLessThan(1e-9)
    expect(Math.abs(cp)).toBeLessThan(1e-9)
  }
  // ITU-R BT.2100-2 table 4: 100 cd/m² is 0.5081 of full PQ signal.
  expect(convertXyzToICtCp(scale(white, 100))[0]).toBeCloseTo(0.5081, 4)
})

describe('and back, to 1e-9', () => {
  const trips: readonly (readonly [string, (xyz: XYZ) => XYZ])[] = [
    ['CIELAB', (xyz) => convertLabToXyz(convertXyzToLab(xyz, white), white)],
    ['CIELUV', (xyz) => convertLuvToXyz(convertXyzToLuv(xyz, white), white)],
    ['CIELCh', (xyz) => convertLabToXyz(convertFromPolar(convertToPolar(convertXyzToLab(xyz, white))), white)],
    ['Oklab', (xyz) => convertOklabToXyz(convertXyzToOklab(xyz))],
    ['ICtCp', (xyz) => scale(convertICtCpToXyz(convertXyzToICtCp(scale(xyz, 120))), 1 / 120)],
  ]
  test.each(trips)('%s', (name, trip) => {
    const off = furthest([...colors, [0, 0, 0] as XYZ].map((xyz) => [trip(xyz), xyz]))
    told(`XYZ → ${name} → XYZ`, off)
    expect(off).toBeLessThan(1e-9)
  })

  test('lightness', () => {
    for (const Y of [0, 0.001, 0.008856, 0.01, 0.184, 1]) expect(relativeLuminanceOf(lightnessOf(Y))).toBeCloseTo(Y, 12)
  })
})

describe('every encoding', () => {
  const names = Object.keys(standardPrimaries) as StandardPrimaries[]
  test.each(names)('%s: full signal is its white, each primary its own chromaticity', (name) => {
    const matrix = matrixOfEncoding(name)
    const sum = multiplyVector(matrix, [1, 1, 1])
    const itsWhite = convertChromaticityToXyz(standardWhites[encodings[name].white])
    sum.forEach((v, k) => expect(v).toBeCloseTo(itsWhite[k], 12))
    ;(['red', 'green', 'blue'] as const).forEach((hue, c) => {
      const column = matrix.map((row) => row[c])
      const total = column[0] + column[1] + column[2]
      expect(column[0] / total).toBeCloseTo(standardPrimaries[name][hue].x, 12)
      expect(column[1] / total).toBeCloseTo(standardPrimaries[name][hue].y, 12)
    })
  })

  test.each([
    ['Display P3', 'p3-linear'],
    ['opRGB', 'a98rgb-linear'],
    ['BT.2020', 'rec2020-linear'],
  ] as const)('%s agrees with colorjs.io', (name, space) => {
    const ours = multiplyVector(matrixOfEncoding(name), [0.2, 0.5, 0.8])
    const theirs = new Color(space, [0.2, 0.5, 0.8]).to('xyz-d65').coords
    // Its D65 has more digits than the standards'.
    ours.forEach((v, k) => expect(Math.abs(v - theirs[k])).toBeLessThan(2e-4))
  })
})

describe('adaptation', () => {
  test.each(['bradford', 'cat16'] as const)('%s takes one white exactly to the other, and back undoes it', (method) => {
    const d50 = convertChromaticityToXyz(standardWhites.D50)
    const there = adaptationMatrix(method, white, d50)
    const back = adaptationMatrix(method, d50, white)
    multiplyVector(there, white).forEach((v, k) => expect(v).toBeCloseTo(d50[k], 12))
    for (const xyz of colors.slice(0, 50))
      multiplyVector(back, multiplyVector(there, xyz)).forEach((v, k) => expect(v).toBeCloseTo(xyz[k], 12))
  })

  test('an adaptation that scales equal energy scales every colour: its cones see equal energy alike', () => {
    for (const method of ['bradford', 'cat16'] as const)
      adaptationMatrix(method, [1, 1, 1], [2, 2, 2]).forEach((row, i) =>
        row.forEach((v, k) => expect(v).toBeCloseTo(i === k ? 2 : 0, 6)),
      )
    // The two models differ, and by how much is known: about 1 % of a blue's XYZ between D65 and D50.
    const d50 = convertChromaticityToXyz(standardWhites.D50)
    const [a, b] = (['bradford', 'cat16'] as const).map((m) =>
      multiplyVector(adaptationMatrix(m, white, d50), [0.18, 0.07, 0.95]),
    )
    expect(Math.abs(a[0] - b[0])).toBeGreaterThan(0.001)
    expect(Math.abs(a[0] - b[0])).toBeLessThan(0.02)
  })
})
