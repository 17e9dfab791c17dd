import { identity3, type Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { toneCurve } from '../tone/toneResponse'
import type { MatrixShape } from './pipelineShape'
import { decodeSlotTables, encodeSlotTables } from './slotBytes'
import { applySlotTables } from './slotPipeline'
import { buildSlotTables, quantizeSignal } from './slotTables'
import { fitMatrix } from './fitMatrix'
import { multiplyVector } from '../color/matrix3'

const shape: MatrixShape = {
  kind: '1D+3x3',
  before: { entries: 1024, bits: 16 },
  matrixFractionBits: 14,
  after: { entries: 1024, bits: 12 },
}
const { decode } = toneCurve({ kind: 'sRGB' })
const root = (l: number) => l ** (1 / 2.2)
const tables = buildSlotTables(
  { decode: [decode, decode, decode], matrix: identity3, drive: [root, root, root] },
  shape,
)

test('the integers do what the curves say, to the step of the last table @long', () => {
  const uniform = uniformFrom(6)
  for (let i = 0; i < 500; i++) {
    const signal = quantizeSignal([uniform(), uniform(), uniform()], 10)
    // Shadows below 2 % feel the 16 bits of the first table; there it is the light that counts, not the drive.
    applySlotTables(tables, signal).forEach((drive, c) => {
      if (signal[c] > 0.02) expect(Math.abs(drive - root(decode(signal[c])))).toBeLessThan(1.5 / 4095)
      else expect(Math.abs(drive ** 2.2 - decode(signal[c]))).toBeLessThan(2e-5)
    })
  }
  expect(applySlotTables(tables, [0, 0, 0])).toEqual([0, 0, 0])
  expect(applySlotTables(tables, [1, 1, 1])).toEqual([1, 1, 1])
})

test('greys never step backwards @long', () => {
  let last = -1
  for (let i = 0; i < 1024; i++) {
    const [, g] = applySlotTables(tables, [i / 1023, i / 1023, i / 1023])
    expect(g).toBeGreaterThanOrEqual(last)
    last = g
  }
})

test('a noisy curve is levelled, not followed down @long', () => {
  const wobbly = (x: number) => x + 0.01 * Math.sin(x * 200)
  const built = buildSlotTables(
    { decode: [wobbly, wobbly, wobbly], matrix: identity3, drive: [wobbly, wobbly, wobbly] },
    shape,
  )
  for (const table of [...built.before!, ...built.after!])
    for (let i = 1; i < table.length; i++) expect(table[i]).toBeGreaterThanOrEqual(table[i - 1])
})

describe('as bytes', () => {
  test('come back as they were, and the same tables give the same bytes', () => {
    const bytes = encodeSlotTables(tables)
    expect(decodeSlotTables(bytes, shape)).toEqual(tables)
    expect(encodeSlotTables(decodeSlotTables(bytes, shape))).toEqual(bytes)
  })

  const text = (value: unknown) => new TextEncoder().encode(JSON.stringify(value))
  test.each([
    ['no JSON', new Uint8Array([123, 255]), 'not JSON'],
    ['another format', text({ format: 'x' }), 'format line'],
    ['null', text(null), 'format line'],
    ['too few entries', text({ ...tables, before: [[1], [2], [3]] }), 'first tables'],
    [
      'a value beyond the bits',
      text({ ...tables, after: [tables.after![0].map(() => 5000), tables.after![1], tables.after![2]] }),
      'last tables',
    ],
    ['eight coefficients', text({ ...tables, matrix: tables.matrix!.slice(1) }), 'nine integers'],
  ])('refuse %s', (_, bytes, sentence) => {
    expect(() => decodeSlotTables(bytes, shape)).toThrow(sentence)
  })

  test('cut or changed anywhere, they are refused or still tables of the right shape', () => {
    const bytes = encodeSlotTables(tables)
    const uniform = uniformFrom(7)
    let refused = 0
    for (let i = 0; i < 60; i++) {
      const damaged = i % 2 ? bytes.slice(0, Math.floor(uniform() * bytes.length)) : Uint8Array.from(bytes)
      if (i % 2 === 0) damaged[Math.floor(uniform() * damaged.length)] = Math.floor(uniform() * 256)
      try {
        expect(decodeSlotTables(damaged, shape).matrix).toHaveLength(9)
      } catch (error) {
        refused++
        expect((error as Error).message).toMatch(/^(These are not|The )/)
      }
    }
    expect(refused).toBeGreaterThan(25)
  })
})

describe('fitting a matrix', () => {
  const truth = [
    [41, 35, 18],
    [21, 71, 7],
    [2, 12, 95],
  ] as const
  const uniform = uniformFrom(8)
  const inputs = Array.from({ length: 24 }, (): Triple => [uniform(), uniform(), uniform()])

  test('finds the matrix that made the samples', () => {
    const samples = inputs.map((input) => ({ input, output: multiplyVector(truth, input) }))
    const held = { input: [1, 1, 1] as const, output: multiplyVector(truth, [1, 1, 1]) }
    fitMatrix(samples, held).forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(truth[r][c], 6)))
  })

  test('holds the held sample even when the others disagree with it', () => {
    const samples = inputs.map((input) => ({
      input,
      output: multiplyVector(truth, input).map((v) => v * 1.1) as unknown as Triple,
    }))
    const held = { input: [0.9, 1, 0.8] as const, output: [100, 105, 110] as const }
    multiplyVector(fitMatrix(samples, held), held.input).forEach((v, k) => expect(v).toBeCloseTo(held.output[k], 9))
  })

  test('refuses inputs in one plane', () => {
    const flat = [{ input: [1, 1, 0] as const, output: [1, 1, 1] as const }]
    expect(() => fitMatrix(flat, flat[0])).toThrow('singular')
  })
})
