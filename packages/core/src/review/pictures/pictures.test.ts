import { resolveAim, targetXyz } from '../../aims/aim'
import { characterize } from '../../characterization/characterize'
import { deltaE2000 } from '../../color/deltaE2000'
import { convertXyzToLab } from '../../color/lab'
import type { Triple } from '../../color/matrix3'
import { uniformFrom } from '../../basics/random'
import { provePatches } from '../../runs/patches'
import { applyTetrahedral } from '../../tables/table3d'
import { Color } from '../../test/colorjs'
import {
  aimShows,
  differenceTable,
  displayShows,
  scalarLookup,
  seenLab,
  seenTable,
  signalForAim,
  type Shows,
} from './shownPicture'
import { paintPicture, testPictureNames } from './testPictures'

const panel = { white: { x: 0.3127, y: 0.329 }, primaries: null as never, black: [0, 0, 0] as const }
const srgb = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 120,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  panel,
)
const p3 = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 100,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'Display P3' },
  },
  panel,
)
const uniform = uniformFrom(2)
const some = Array.from({ length: 200 }, (): Triple => [uniform(), uniform(), uniform()])

test('a picture in sRGB on a display that meets an sRGB aim is shown as it is', () => {
  for (const rgb of some) signalForAim(srgb)(rgb).forEach((v, k) => expect(v).toBeCloseTo(rgb[k], 9))
  const table = seenTable(aimShows(srgb), srgb, 13)
  for (const rgb of some)
    applyTetrahedral(table, rgb).forEach((v, k) => expect(Math.abs(v - rgb[k])).toBeLessThan(1 / 255))
})

test('on a wider aim the signal is what another library converts to, and the colour stays', () => {
  const [toWide, toNarrow, signal] = [seenLab(aimShows(p3), p3), seenLab(aimShows(srgb), srgb), signalForAim(p3)]
  for (const rgb of some) {
    const { coords } = new Color('srgb', rgb).to('p3')
    signal(rgb).forEach((v, k) => expect(v).toBeCloseTo(coords[k], 4))
    expect(deltaE2000(toWide(rgb), toNarrow(rgb))).toBeLessThan(0.05)
  }
})

test('a display that is off is shown off by what its readings say, and brightness alone is no difference', () => {
  const readings = provePatches.map(({ name, rgb }) => {
    const [x, y, z] = targetXyz(srgb, rgb)
    return { name, rgb, xyz: [x, y, z * 1.06] as const }
  })
  const after = displayShows(characterize(readings))
  const lab = seenLab(after, srgb)
  for (const p of readings) {
    const wanted = convertXyzToLab(p.xyz, srgb.white)
    expect(deltaE2000(lab(p.rgb), wanted)).toBeLessThan(0.3)
  }
  const dimmer: Shows = (signal) => aimShows(srgb)(signal).map((v) => v * 0.7) as unknown as Triple
  expect(Math.max(...differenceTable(dimmer, aimShows(srgb), srgb, 5))).toBeLessThan(1e-9)
  expect(Math.max(...differenceTable(after, aimShows(srgb), srgb, 5))).toBeGreaterThan(2)
})

test('a table looked up at its nodes gives its nodes, and between them what lies between', () => {
  const size = 6
  const table = Float64Array.from({ length: size ** 3 }, (_, i) => {
    const [r, g, b] = [Math.floor(i / size ** 2), Math.floor(i / size) % size, i % size].map((v) => v * 51)
    return 2 * r - 3 * g + 0.5 * b + 7
  })
  const at = scalarLookup(table, size)
  for (const [r, g, b] of [
    [0, 0, 0],
    [255, 255, 255],
    [51, 204, 102],
    [17, 130, 251],
  ])
    expect(at(r, g, b)).toBeCloseTo(2 * r - 3 * g + 0.5 * b + 7, 9)
})

describe('test pictures', () => {
  test.each(testPictureNames)('%s: opaque, of many colours, the same each time', (name) => {
    const [width, height] = [90, 60]
    const bytes = paintPicture(name, width, height)
    expect(bytes).toHaveLength(4 * width * height)
    expect(bytes.filter((_, i) => i % 4 === 3).every((a) => a === 255)).toBe(true)
    expect(paintPicture(name, width, height)).toEqual(bytes)
    const colors = new Set<number>()
    for (let p = 0; p < bytes.length; p += 4) colors.add((bytes[p] << 16) | (bytes[p + 1] << 8) | bytes[p + 2])
    expect(colors.size).toBeGreaterThan(60)
  })

  const lightnesses = (name: (typeof testPictureNames)[number]) => {
    const bytes = paintPicture(name, 60, 40)
    const found: number[] = []
    for (let p = 0; p < bytes.length; p += 4) found.push((bytes[p] + bytes[p + 1] + bytes[p + 2]) / 3)
    return found.sort((a, b) => a - b)
  }

  test('look at what they say: the night is dark, clouds light, pastels pale, monochrome neutral with steps at both ends', () => {
    // Nine tenths of the night lie within the lowest tenth of the light: sRGB code 89 of 255.
    expect(lightnesses('night')[2160]).toBeLessThan(89)
    // And a fiftieth of the landscape within the highest tenth: code 243.
    expect(lightnesses('landscape').at(-48)).toBeGreaterThan(243)
    expect(lightnesses('pastel')[150]).toBeGreaterThan(150)
    const mono = paintPicture('monochrome', 240, 60)
    const steps = new Set<number>()
    for (let p = 0; p < mono.length; p += 4) {
      if (mono[p] !== mono[p + 1] || mono[p] !== mono[p + 2]) throw new Error('not neutral')
      if (mono[p] < 24 || mono[p] > 231) steps.add(mono[p])
    }
    expect(steps.size).toBe(48)
  })
})
