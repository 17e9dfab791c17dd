import fc from 'fast-check'
import { deepestMessage, longestList, mostValues, shapeFault } from './messageShape'
import { fits, InvalidInput, validate } from './validate'
import { resultSchema } from './courier/messages'
import { signInSchema } from './access/access'
import { saveAimSchema, saveLimitsSchema } from './aims/aims'
import { importReadingsSchema } from './review/importReadings'
import { readingBounds } from '@bichroma/core/color'

const deep = (depth: number): unknown => JSON.parse(`${'['.repeat(depth)}1${']'.repeat(depth)}`)

describe('a message’s shape is looked at before its schema', () => {
  test.each([14_000, 120_000])('nested %d deep it is refused, whoever sends it', (depth) => {
    expect(() => validate(signInSchema, { login: deep(depth), password: 'x' })).toThrow(InvalidInput)
    expect(fits(resultSchema, { type: 'result', id: 1, ok: true, tookMs: 1, value: deep(depth) })).toBe(false)
  })

  test('up to its bounds it is let through, beyond them it is told', () => {
    expect(shapeFault(deep(deepestMessage))).toBeNull()
    expect(shapeFault(deep(deepestMessage + 1))).toMatchObject({ sentence: expect.stringContaining('deep') })
    expect(shapeFault({ list: Array(longestList).fill(0) })).toBeNull()
    expect(shapeFault({ list: Array(longestList + 1).fill(0) })).not.toBeNull()
    const wide = Object.fromEntries(Array.from({ length: mostValues }, (_, i) => [`k${i}`, 1]))
    expect(shapeFault(wide)).toBeNull()
    expect(shapeFault({ ...wide, one: 1 })).not.toBeNull()
  })

  test('a name that every object answers to is found wherever it stands', () => {
    expect(shapeFault({ a: [{ constructor: 1 }] })).toEqual({
      sentence: '“constructor” does not belong into a message.',
      field: 'constructor',
    })
    expect(shapeFault(JSON.parse('{"a":{"__proto__":{"b":1}}}'))).not.toBeNull()
  })

  test('whatever JSON says, a schema takes it or refuses it with a sentence @long', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 8 }), (value) => {
        for (const schema of [signInSchema, saveAimSchema, saveLimitsSchema, resultSchema, importReadingsSchema])
          try {
            validate(schema as never, value)
          } catch (error) {
            expect(error).toBeInstanceOf(InvalidInput)
            expect((error as InvalidInput).sentence.length).toBeGreaterThan(10)
          }
      }),
      { numRuns: 600 },
    )
  })
})

describe('bounds are physics', () => {
  const answer = (change: object) => ({ type: 'result', id: 1, ok: true, tookMs: 1, ...change })
  test.each([
    ['a time of 1e308 ms', { tookMs: 1e308 }],
    ['a time below zero', { tookMs: -1 }],
    ['a number of 1e308', { id: 1e308 }],
  ])('no answer has %s', (_, change) => {
    expect(fits(resultSchema, answer(change))).toBe(false)
  })

  const read = { slot: 1, fileName: 'a.csv', text: 'x', readAt: 1_700_000_000_000, instrument: 'T' }
  test.each([
    ['readAt', 1e308, '“Read at” must be a time from 1970 to 2100'],
    ['readAt', -1, '“Read at” must be a time from 1970 to 2100'],
    ['aimId', 1e308, 'or less'],
    ['slot', 1e308, '“Slot” must be 8 or less.'],
  ])('%s of %d is told with what would be right', (field, value, sentence) => {
    expect(() => validate(importReadingsSchema, { ...read, [field]: value })).toThrow(sentence)
  })

  test('names are plain text that reads as it is written', () => {
    const named = (name: string) => ({ ...read, instrument: name })
    for (const name of ['Séance 2', 'Седж', '計', '👩‍🎨 easel'])
      expect(fits(importReadingsSchema, named(name))).toBe(true)
    for (const name of ['a\u202Eb', '\uD800', 'a\u2028b', 'a\u0007b', '\u2066x'])
      expect(() => validate(importReadingsSchema, named(name))).toThrow('without marks that turn its direction')
  })

  test('no instrument reads beyond the bounds that are told', () => {
    expect(readingBounds.least).toBeLessThanOrEqual(0)
    expect(readingBounds.most).toBeGreaterThanOrEqual(10_000)
  })
})

describe('limits', () => {
  const rules = [{ metric: 'averageDeltaE', near: 1, hard: 2 }]
  test('an unknown figure among those of another formula is told like any other', () => {
    for (const metric of ['nothing', 'constructor', 'toString'])
      expect(() =>
        validate(saveLimitsSchema as never, {
          name: 'L',
          limits: { rules, others: { de94: [{ metric, near: 1, hard: 2 }] } },
        }),
      ).toThrow(/others.*must be one of/)
  })
})

test('a curve of thousands of points is looked at in one go, and the pair at fault is named', () => {
  const points = Array.from({ length: 4096 }, (_, i) => [i / 4095, (i / 4095) ** 2])
  const aim = (p: unknown) => ({
    name: 'A',
    aim: {
      white: { kind: 'panel' },
      luminance: 100,
      toneResponse: { kind: 'curve', points: p },
      primaries: { kind: 'panel' },
    },
  })
  expect(fits(saveAimSchema as never, aim(points))).toBe(true)
  for (const [odd, words] of [
    [[2, 'x'], 'points[7]” must be a pair of signal and light'],
    [[0.1], 'points[7]” must be a pair'],
    [[0, 0], 'each signal larger than the one before'],
  ] as const)
    expect(() => validate(saveAimSchema as never, aim(points.map((p, i) => (i === 7 ? odd : p))))).toThrow(words)
})
