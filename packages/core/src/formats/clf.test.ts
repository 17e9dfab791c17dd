import type { Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { tabulate3d } from '../tables/table3d'
import { applyClf, type ClfFile } from './clf'
import { readClf } from './readClf'
import { writeClf } from './writeClf'
import { expectSturdy } from './test/malformed'

const curl = ([r, g, b]: Triple): Triple => [r ** 1.1, 0.9 * g + 0.1 * r, b * b]
const file: ClfFile = {
  id: 'sedge-2-slot-1',
  description: 'Sedge 2 & “slot 1”',
  nodes: [
    { kind: 'Range', slope: 1, shift: 0, least: 0, most: 1 },
    {
      kind: 'LUT1D',
      table: {
        channels: [1, 1.2, 0.8].map((p) => Float64Array.from({ length: 9 }, (_, i) => (i / 8) ** p)) as never,
      },
    },
    {
      kind: 'Matrix',
      matrix: [
        [0.9, 0.1, 0],
        [0, 1, 0],
        [0.05, 0, 0.95],
      ],
      offset: [0.01, 0, 0],
    },
    { kind: 'LUT3D', table: tabulate3d(5, curl), interpolation: 'tetrahedral' },
  ],
}

test('what is written is read again and does the same', () => {
  const back = readClf(writeClf(file))
  expect(back).toMatchObject({ id: file.id, description: file.description })
  expect(back.nodes.map((n) => n.kind)).toEqual(['Range', 'LUT1D', 'Matrix', 'LUT3D'])
  const uniform = uniformFrom(4)
  for (let i = 0; i < 100; i++) {
    const rgb: Triple = [2 * uniform() - 0.5, uniform(), uniform()]
    applyClf(back.nodes, rgb).forEach((v, k) => expect(Math.abs(v - applyClf(file.nodes, rgb)[k])).toBeLessThan(1e-7))
  }
})

// Common LUT Format 3.0 §5: the examples of the steps, with the bit depths that they name.
const example = (node: string) =>
  `<?xml version="1.0"?><ProcessList xmlns="urn:AMPAS:CLF:v3.0" id="a" compCLFversion="3.0">${node}</ProcessList>`

test('integers are shares of the largest code of their depth', () => {
  const lut = '<LUT1D inBitDepth="8i" outBitDepth="10i"><Array dim="3 1">0 511.5 1023</Array></LUT1D>'
  expect(applyClf(readClf(example(lut)).nodes, [0, 0.25, 1])).toEqual([0, 0.25, 1])
  const matrix =
    '<Matrix inBitDepth="10i" outBitDepth="12i"><Array dim="3 3">4.0029325 0 0 0 4.0029325 0 0 0 4.0029325</Array></Matrix>'
  applyClf(readClf(example(matrix)).nodes, [0.2, 0.5, 1]).forEach((v, k) => expect(v).toBeCloseTo([0.2, 0.5, 1][k], 6))
})

test('in a 3D table blue changes fastest, and interpolation is what the file says', () => {
  const rows = [
    [0, 0, 0],
    [0, 0, 1],
    [0, 1, 0],
    [0, 1, 1],
    [1, 0, 0],
    [1, 0, 1],
    [1, 1, 0],
    [1, 1, 1],
  ]
  const lut = (kind: string) =>
    `<LUT3D inBitDepth="32f" outBitDepth="32f" interpolation="${kind}"><Array dim="2 2 2 3">${rows.flat().join(' ')}</Array></LUT3D>`
  expect(applyClf(readClf(example(lut('trilinear'))).nodes, [0.25, 0.5, 0.75])).toEqual([0.25, 0.5, 0.75])
  expect(readClf(example(lut('tetrahedral'))).nodes[0]).toMatchObject({ interpolation: 'tetrahedral' })
})

test('a range without clamping only scales', () => {
  const range = (style: string) =>
    `<Range inBitDepth="10i" outBitDepth="10i"${style}><minInValue>64</minInValue><maxInValue>940</maxInValue><minOutValue>0</minOutValue><maxOutValue>1023</maxOutValue></Range>`
  const at = (style: string, code: number) => applyClf(readClf(example(range(style))).nodes, [code / 1023, 0.5, 0.5])[0]
  expect(at('', 64)).toBeCloseTo(0, 12)
  expect(at('', 940)).toBeCloseTo(1, 12)
  expect(at('', 1023)).toBe(1)
  expect(at(' style="noClamp"', 1023)).toBeCloseTo((1023 - 64) / (940 - 64), 9)
})

test.each([
  ['another root', '<svg/>', 'The file begins with “svg”; a CLF file begins with “ProcessList”.'],
  ['no step', example(''), 'The file holds no step'],
  ['a step of another kind', example('<ASC_CDL/>'), 'The step “ASC_CDL” is not understood'],
  ['half floats', example('<LUT1D halfDomain="true"/>'), 'half-float'],
  [
    'a depth that is none',
    example('<LUT1D inBitDepth="9i" outBitDepth="8i"><Array dim="2 1">0 1</Array></LUT1D>'),
    '“inBitDepth” of LUT1D must be one of',
  ],
  [
    'a dim beyond reason',
    example('<LUT3D inBitDepth="8i" outBitDepth="8i"><Array dim="999 999 999 3">0</Array></LUT3D>'),
    '“dim” of the Array of LUT3D must be',
  ],
  [
    'too few numbers',
    example('<LUT1D inBitDepth="8i" outBitDepth="8i"><Array dim="3 1">0 1</Array></LUT1D>'),
    'holds 2 numbers; its dim asks for 3.',
  ],
  [
    'a word for a number',
    example('<LUT1D inBitDepth="8i" outBitDepth="8i"><Array dim="2 1">0 one</Array></LUT1D>'),
    'must be a number; “one” is none.',
  ],
  ['no Array', example('<Matrix inBitDepth="8i" outBitDepth="8i"/>'), 'Matrix has no Array.'],
  ['a range without bounds', example('<Range inBitDepth="8i" outBitDepth="8i"/>'), 'Range has no bounds.'],
  [
    'half a bound',
    example('<Range inBitDepth="8i" outBitDepth="8i"><minInValue>0</minInValue></Range>'),
    'needs each bound both',
  ],
])('refuses %s', (_, text, message) => {
  expect(() => readClf(text)).toThrow(expect.objectContaining({ message: expect.stringContaining(message) }))
})

test('no malformed file breaks the reader @long', () => {
  const small = writeClf({
    ...file,
    nodes: [...file.nodes.slice(0, 3), { kind: 'LUT3D', table: tabulate3d(2, curl), interpolation: 'trilinear' }],
  })
  expectSturdy('CLF reader', (b) => readClf(new TextDecoder().decode(b)), [new TextEncoder().encode(small)])
})
