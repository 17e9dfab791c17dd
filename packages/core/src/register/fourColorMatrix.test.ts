import { convertXyzToUv, deltaUv, type XYZ } from '../color/chromaticity'
import { add, invert, multiplyVector, scale, type Matrix3, type Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import {
  correctionFrom,
  correctionResidual,
  correctReading,
  fourColorMatrix,
  fourLights,
  type FourColors,
} from './fourColorMatrix'

const reference: FourColors = {
  white: [95, 100, 109],
  red: [46, 23, 1.8],
  green: [29, 68, 11],
  blue: [20, 9, 96],
}
const through = (m: Matrix3, colors: FourColors): FourColors => ({
  white: multiplyVector(m, colors.white),
  red: multiplyVector(m, colors.red),
  green: multiplyVector(m, colors.green),
  blue: multiplyVector(m, colors.blue),
})
const distortion = (seed: number): Matrix3 => {
  const uniform = uniformFrom(seed)
  return [0, 1, 2].map((r) =>
    [0, 1, 2].map((c) => (r === c ? 0.9 + 0.2 * uniform() : 0.06 * (uniform() - 0.5))),
  ) as unknown as Matrix3
}

test.each([1, 2, 3, 4, 5])('whatever matrix an instrument is off by (%s), it is found and undone', (seed) => {
  const off = distortion(seed)
  const found = fourColorMatrix(reference, through(off, reference))
  const back = invert(off)
  found.forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(back[r][c], 9)))
  const read = through(off, reference)
  const twice = (['white', 'red', 'green', 'blue'] as const).map((c) => ({
    reference: reference[c],
    measured: read[c],
  }))
  expect(correctionResidual({ matrix: found }, twice)).toBeLessThan(1e-12)
})

test('light that changes between the two instruments’ readings of a colour does not matter', () => {
  const measured = through(distortion(7), reference)
  const flickering: FourColors = {
    white: measured.white,
    red: scale(measured.red, 1.03),
    green: scale(measured.green, 0.95),
    blue: scale(measured.blue, 1.01),
  }
  const [calm, found] = [fourColorMatrix(reference, measured), fourColorMatrix(reference, flickering)]
  found.forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(calm[r][c], 9)))
})

test('white’s luminance is made right', () => {
  const measured = through(distortion(8), { ...reference, white: scale(reference.white, 1.1) })
  expect(multiplyVector(fourColorMatrix(reference, measured), measured.white)[1]).toBeCloseTo(100, 9)
})

test('with noise in the readings what is left is about the noise', () => {
  const uniform = uniformFrom(9)
  const noisy = (xyz: XYZ): XYZ => xyz.map((v) => v * (1 + 0.004 * (uniform() - 0.5))) as unknown as XYZ
  const measured = through(distortion(9), reference)
  const found = fourColorMatrix(reference, {
    white: noisy(measured.white),
    red: noisy(measured.red),
    green: noisy(measured.green),
    blue: noisy(measured.blue),
  })
  const more = { cyan: add(reference.green, reference.blue), yellow: add(reference.red, reference.green) }
  const residual = correctionResidual(
    { matrix: found },
    Object.values(more).map((xyz) => ({ reference: xyz, measured: multiplyVector(distortion(9), xyz) })),
  )
  expect(residual).toBeGreaterThan(0)
  expect(residual).toBeLessThan(0.002)
  expect(deltaUv(convertXyzToUv(multiplyVector(found, measured.white)), convertXyzToUv(reference.white))).toBeLessThan(
    0.001,
  )
})

test('near black nothing becomes less than nothing', () => {
  const found = fourColorMatrix(reference, through(distortion(10), reference))
  for (const xyz of [
    [1e-4, 0, 0],
    [0, 1e-4, 0],
    [0, 0, 1e-4],
    [0, 0, 0],
  ] as const)
    for (const v of correctReading({ matrix: found }, xyz)) expect(v).toBeGreaterThanOrEqual(0)
  expect(correctReading({ matrix: found }, [10, 11, 12])).toEqual(multiplyVector(found, [10, 11, 12]))
})

test('primaries on one line are refused', () => {
  expect(() => fourColorMatrix(reference, { ...reference, blue: reference.green })).toThrow('singular')
})

describe('a display with a white subpixel', () => {
  const uniform = uniformFrom(31)
  /** What both instruments see of four lights: the colorimeter by a matrix of its own for each, so that none serves all. */
  const display = (share: number) => {
    const primaries = [reference.red, reference.green, reference.blue] as const
    const together = primaries.reduce((sum, xyz) => add(sum, xyz), [0, 0, 0] as XYZ)
    const shared: XYZ = [1.03 * together[0], together[1], 0.96 * together[2]].map(
      (v) => (v * share) / (1 - share),
    ) as never
    const [ofColors, ofShared] = [distortion(41), distortion(43)]
    const see = (v: Triple, of: 'reference' | 'measured'): XYZ => {
      const colors = primaries.reduce((sum, xyz, c) => add(sum, scale(xyz, v[c])), [0, 0, 0] as XYZ)
      const white = scale(shared, Math.min(...v))
      return of === 'reference'
        ? add(colors, white)
        : add(multiplyVector(ofColors, colors), multiplyVector(ofShared, white))
    }
    const four = (of: 'reference' | 'measured'): FourColors => ({
      white: see([1, 1, 1], of),
      red: see([1, 0, 0], of),
      green: see([0, 1, 0], of),
      blue: see([0, 0, 1], of),
    })
    return { see, reference: four('reference'), measured: four('measured') }
  }

  test.each([0.2, 0.5, 0.75])('is corrected by its four lights, which one matrix cannot (%d of white)', (share) => {
    const d = display(share)
    const lights = fourLights(d.reference, d.measured)
    expect(lights).not.toBeNull()
    const matrix = fourColorMatrix(d.reference, d.measured)
    const twice = Array.from({ length: 200 }, () => {
      const v: Triple = [uniform(), uniform(), uniform()]
      return { reference: d.see(v, 'reference'), measured: d.see(v, 'measured') }
    })
    expect(correctionResidual({ matrix, lights }, twice)).toBeLessThan(1e-9)
    expect(correctionResidual({ matrix }, twice)).toBeGreaterThan(1e-3)
    for (const { reference: to, measured } of twice)
      correctReading({ matrix, lights }, measured).forEach((v, k) => expect(v).toBeCloseTo(to[k], 6))
  })

  test('has none where its primaries make its white', () => {
    expect(fourLights(reference, through(distortion(3), reference))).toBeNull()
  })
})

describe('light on the screen that is not the display’s own', () => {
  const off = distortion(14)
  /** Another light, which the instrument is off by in another way. */
  const [room, roomSeen]: readonly [XYZ, XYZ] = [
    [11.3, 11.5, 9.9],
    [11.9, 11.2, 8.7],
  ]
  const own: XYZ = [0.09, 0.1, 0.13]
  const lit = (colors: FourColors, light: XYZ): FourColors => ({
    white: add(colors.white, light),
    red: add(colors.red, light),
    green: add(colors.green, light),
    blue: add(colors.blue, light),
  })
  const black = { reference: add(own, room), measured: add(multiplyVector(off, own), roomSeen) }
  const shown = lit(reference, black.reference)
  const seen = lit(through(off, reference), black.measured)

  test('is told apart: colours are corrected that a matrix for both would be wrong for', () => {
    const found = correctionFrom(shown, seen, black)
    const colors = [0.02, 0.1, 0.4, 0.8].map((v) => ({
      reference: add(scale(reference.green, v), add(scale(reference.blue, v / 2), black.reference)),
      measured: multiplyVector(off, add(scale(reference.green, v), scale(reference.blue, v / 2))),
    }))
    const twice = colors.map((c) => ({ ...c, measured: add(c.measured, black.measured) }))
    expect(correctionResidual(found, twice)).toBeLessThan(1e-6)
    expect(correctionResidual({ matrix: fourColorMatrix(shown, seen) }, twice)).toBeGreaterThan(1e-3)
    correctReading(found, black.measured).forEach((v, k) => expect(v).toBeCloseTo(black.reference[k], 9))
  })

  test('where black is the display’s own light there is none, nor where it is noise in the dark', () => {
    const uniform = uniformFrom(4)
    const dark = { reference: own, measured: multiplyVector(off, own) }
    const [of, as] = [lit(reference, own), through(off, lit(reference, own))]
    expect(correctionFrom(of, as, dark).offset).toBeNull()
    const noisy = { ...dark, measured: dark.measured.map((v) => v + 0.01 * (uniform() - 0.5)) as unknown as XYZ }
    const found = correctionFrom(of, as, noisy)
    expect(found.offset).toBeNull()
    expect(found.matrix).toEqual(fourColorMatrix(of, as))
  })

  test('a display with a white subpixel keeps its four lights', () => {
    const white: FourColors = { ...reference, white: scale(reference.white, 1.6) }
    const found = correctionFrom(white, through(off, white), black)
    expect(found.lights).not.toBeNull()
    expect(found.offset).toBeNull()
  })
})
