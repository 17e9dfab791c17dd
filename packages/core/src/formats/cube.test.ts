import type { Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { tabulate3d } from '../tables/table3d'
import { applyCube, unitDomain, type CubeFile } from './cube'
import { readCube } from './readCube'
import { writeCube } from './writeCube'
import { expectSturdy } from './test/malformed'

const curl = ([r, g, b]: Triple): Triple => [r ** 1.1, 0.9 * g + 0.1 * r, b * b]
const table3d = tabulate3d(5, curl)
const ramp = (p: number) => Float64Array.from({ length: 9 }, (_, i) => (i / 8) ** p)
const file: CubeFile = {
  title: 'Sedge 2, slot 1',
  domain: unitDomain,
  table1d: { channels: [ramp(1), ramp(1.2), ramp(0.8)] },
  table3d,
}

test('red changes fastest', () => {
  const rows = writeCube({ ...file, table1d: null })
    .trim()
    .split('\n')
    .slice(-125)
  expect(rows[1].split(' ').map(Number)).toEqual(curl([0.25, 0, 0]).map((v) => Number(v.toFixed(7))))
  expect(rows[5].split(' ').map(Number)).toEqual(curl([0, 0.25, 0]).map((v) => Number(v.toFixed(7))))
})

test('what is written is read again, to the seven digits written', () => {
  const back = readCube(writeCube(file))
  expect(back.title).toBe(file.title)
  back.table3d!.values.forEach((v, i) => expect(Math.abs(v - table3d.values[i])).toBeLessThan(1e-7))
  const uniform = uniformFrom(3)
  for (let i = 0; i < 50; i++) {
    const rgb: Triple = [uniform(), uniform(), uniform()]
    applyCube(back, rgb).forEach((v, k) => expect(Math.abs(v - applyCube(file, rgb)[k])).toBeLessThan(1e-6))
  }
})

test('a domain other than 0–1 is honoured, and both ways to write it understood', () => {
  const two = readCube('LUT_1D_SIZE 2\nLUT_1D_INPUT_RANGE 0 2\n0 0 0\n1 1 1\n')
  expect(applyCube(two, [1, 0.5, 3])).toEqual([0.5, 0.25, 1])
  const uneven = readCube('LUT_1D_SIZE 2\nDOMAIN_MIN -1 0 0\nDOMAIN_MAX 1 1 4\n0 0 0\n1 1 1\n')
  expect(applyCube(uneven, [0, 0.5, 1])).toEqual([0.5, 0.5, 0.25])
})

test.each([
  ['no size', '# nothing\n', 'LUT_1D_SIZE and LUT_3D_SIZE are missing', undefined],
  ['a size beyond reason', 'LUT_3D_SIZE 9999999\n', 'LUT_3D_SIZE must be a whole number from 2 to 129.', 1],
  ['too few rows', 'LUT_1D_SIZE 3\n0 0 0\n1 1 1\n', 'The table has 2 rows; its size asks for 3.', 4],
  ['too many rows', 'LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1\n', 'more rows than the 2', 4],
  ['a row of two', 'LUT_1D_SIZE 2\n0 0\n', 'A row of the table has three numbers; this one has 2.', 2],
  ['a word for a number', 'LUT_1D_SIZE 2\n0 0 0\n1 1 x1\n', 'Blue must be a number; “x1” is none.', 3],
  ['an unknown keyword', 'LUT_4D_SIZE 2\n', 'The keyword “LUT_4D_SIZE” is not known.', 1],
  [
    'a domain upside down',
    'LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1',
    'DOMAIN_MIN must be below DOMAIN_MAX',
    undefined,
  ],
])('refuses %s', (_, text, message, line) => {
  expect(() => readCube(text)).toThrow(expect.objectContaining({ message: expect.stringContaining(message), line }))
})

test('no malformed file breaks the reader @long', () => {
  const small = writeCube({ ...file, table3d: tabulate3d(3, curl) })
  expectSturdy('.cube reader', (b) => readCube(new TextDecoder().decode(b)), [new TextEncoder().encode(small)])
})
