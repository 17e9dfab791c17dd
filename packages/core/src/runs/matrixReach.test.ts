import { resolveAim, type Aim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { scale } from '../color/matrix3'
import { testPanel } from '../test/panel'
import type { RawCorners } from './level'
import { matrixReach } from './matrixReach'

/** Corners of a panel of which so much of white’s light comes from a white subpixel. */
function cornersWith(share: number): RawCorners {
  const emit = testPanel({ black: 1e-6 })
  const of = (r: number, g: number, b: number): XYZ => emit([r, g, b])
  const darker = (xyz: XYZ) => scale(xyz, 1 - share)
  return {
    ...{ white: of(1, 1, 1), black: of(0, 0, 0) },
    ...{ red: darker(of(1, 0, 0)), green: darker(of(0, 1, 0)), blue: darker(of(0, 0, 1)) },
  }
}
const reach = (share: number, change: Partial<Aim> = {}) => {
  const corners = cornersWith(share)
  const aim: Aim = {
    white: { kind: 'standard', name: 'D65' },
    luminance: 45,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'sRGB' },
    ...change,
  }
  const white = convertXyzToChromaticity(corners.white)
  return matrixReach({
    aim: resolveAim(aim, { white, primaries: null as never, black: corners.black }),
    corners,
  })
}

test('a panel whose channels add is reached by a matrix', () => {
  expect(reach(0)).toBeLessThan(0.1)
})

test('the more of white a subpixel makes, the further a matrix misses @long', () => {
  const by = [0.1, 0.3, 0.5, 0.7].map((share) => reach(share))
  expect(by).toEqual([...by].sort((a, b) => a - b))
  expect(by[0]).toBeGreaterThan(0.2)
  expect(by[3]).toBeGreaterThan(3)
})

test('aims of more saturated colours are missed by more @long', () => {
  const pale = { red: { x: 0.5, y: 0.34 }, green: { x: 0.31, y: 0.48 }, blue: { x: 0.22, y: 0.18 } }
  const of = (primaries: Aim['primaries']) => reach(0.4, { primaries })
  expect(of({ kind: 'xy', ...pale })).toBeLessThan(0.7 * of({ kind: 'standard', name: 'sRGB' }))
})
