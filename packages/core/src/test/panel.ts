import type { PatchReading } from '../color/patchReading'
import { convertChromaticityToXyz, type Chromaticity, type XYZ } from '../color/chromaticity'
import { matrixOfPrimaries, type Primaries } from '../color/encodings'
import { add, multiplyVector, type Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'

/**
 * A plain panel for tests of the solver: own primaries and curves, optional coupling of neighbours, no noise. Neighbours pull
 * by their squares, which is not how any model here describes it.
 */
export function testPanel({
  primaries = { red: { x: 0.68, y: 0.31 }, green: { x: 0.24, y: 0.69 }, blue: { x: 0.148, y: 0.052 } } as Primaries,
  white = { x: 0.302, y: 0.316 } as Chromaticity,
  luminance = 140,
  black = 0.13,
  exponents = [2.2, 2.14, 2.32] as Triple,
  coupling = 0,
} = {}): (drive: Triple) => XYZ {
  const matrix = matrixOfPrimaries(primaries, convertChromaticityToXyz(white, luminance))
  const dark = convertChromaticityToXyz({ x: white.x - 0.02, y: white.y - 0.03 }, black)
  return (drive) => {
    const light = drive.map((d, c) => {
      const pull = drive.reduce((sum, other, k) => (k === c ? sum : sum + (other * other - d * d)), 0) / 2
      const d2 = Math.min(1, Math.max(0, d + coupling * (0.3 + 2.8 * d * (1 - d)) * pull))
      return d2 ** exponents[c]
    }) as unknown as Triple
    return add(multiplyVector(matrix, light), dark)
  }
}

/** `count` noise-free readings of a panel: the corners of the cube, 19 greys, and colours anywhere. */
export function readingsOf(panel: (drive: Triple) => XYZ, count: number, seed = 1): PatchReading[] {
  const uniform = uniformFrom(seed)
  const colors: Triple[] = []
  for (const r of [0, 1]) for (const g of [0, 1]) for (const b of [0, 1]) colors.push([r, g, b])
  for (let i = 1; i < 20; i++) colors.push([i / 20, i / 20, i / 20])
  while (colors.length < count) colors.push([uniform(), uniform(), uniform()])
  return colors.map((rgb, i) => ({ name: `Patch ${i + 1}`, rgb, xyz: panel(rgb) }))
}
