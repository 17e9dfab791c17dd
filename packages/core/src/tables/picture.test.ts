import { matrixOfEncoding } from '../color/encodings'
import { invert, multiply, multiplyVector, type Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { told } from '../test/told'
import { toneCurve } from '../tone/toneResponse'
import { pictureFilterOfMatrix, pictureFilterOfTable } from './picture'
import { applyTetrahedral, tabulate3d } from './table3d'

const uniform = uniformFrom(71)
/** Colours anywhere, and every grey, edge and corner that an index could stumble over. */
const picture = Uint8Array.from([
  ...Array.from({ length: 256 }, (_, v) => [v, v, v]).flat(),
  ...Array.from({ length: 256 }, (_, v) => [255, v, 0]).flat(),
  ...Array.from({ length: 256 }, (_, v) => [v, 255, 255]).flat(),
  ...Array.from({ length: 60_000 }, () => Math.floor(256 * uniform())),
])

test.each([2, 9, 17, 33, 65])('a table of %s nodes: within one code of the plain version', (size) => {
  const table = tabulate3d(size, ([r, g, b]) => [r ** 1.3 * 0.9 + 0.1 * b, 1 - g, (r + g * b) / 2])
  const target = new Uint8Array(picture.length)
  pictureFilterOfTable(table)(picture, target, 3)
  let worst = 0
  for (let p = 0; p < picture.length; p += 3) {
    const plain = applyTetrahedral(table, [picture[p] / 255, picture[p + 1] / 255, picture[p + 2] / 255])
    for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(target[p + c] - 255 * plain[c]))
  }
  told(`picture through a table of ${size} nodes against the plain version, codes`, worst)
  expect(worst).toBeLessThan(1)
})

test('a table that changes nothing changes no code', () => {
  const target = new Uint8Array(picture.length)
  pictureFilterOfTable(tabulate3d(33, (rgb) => rgb))(picture, target, 3)
  let worst = 0
  picture.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - target[i]))))
  expect(worst).toBeLessThanOrEqual(1)
})

describe('through a matrix', () => {
  const srgb = toneCurve({ kind: 'sRGB' })
  const filterOf = (matrix: readonly (readonly number[])[]) =>
    pictureFilterOfMatrix({
      decode: [srgb.decode, srgb.decode, srgb.decode],
      matrix: matrix.flat(),
      encode: [srgb.encode, srgb.encode, srgb.encode],
    })

  test.each([
    ['Display P3 to sRGB', 'Display P3', 'sRGB'],
    ['sRGB to Display P3', 'sRGB', 'Display P3'],
    ['BT.2020 to sRGB, far beyond its range', 'BT.2020', 'sRGB'],
  ] as const)('%s: within one code of the plain computation', (name, from, to) => {
    const matrix = multiply(invert(matrixOfEncoding(to)), matrixOfEncoding(from))
    const target = new Uint8Array(picture.length)
    filterOf(matrix)(picture, target, 3)
    let worst = 0
    for (let p = 0; p < picture.length; p += 3) {
      const light = [0, 1, 2].map((c) => srgb.decode(picture[p + c] / 255)) as unknown as Triple
      multiplyVector(matrix, light).forEach((l, c) => {
        worst = Math.max(worst, Math.abs(target[p + c] - 255 * srgb.encode(l)))
      })
    }
    told(`picture through a matrix, ${name}, against the plain version, codes`, worst)
    expect(worst).toBeLessThan(1)
  })

  test('every grey stays what it is, and alpha is copied', () => {
    const source = Uint8Array.from({ length: 1024 }, (_, i) => (i % 4 === 3 ? 255 - (i >> 2) : i >> 2))
    const target = new Uint8Array(1024)
    const unit = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]
    filterOf(unit)(source, target, 4)
    expect(target).toEqual(source)
    pictureFilterOfTable(tabulate3d(5, ([r, g, b]) => [b, g, r]))(source, target, 4)
    expect(target[3]).toBe(255)
    expect(target[403]).toBe(255 - 100)
  })
})
