import fc from 'fast-check'
import { readCgats, writeCgats } from './cgats'
import { readPatches, readReadings, writePatches, writeReadings } from './readings'
import { expectSturdy } from './test/malformed'
import type { PatchReading } from '../color/patchReading'

const bytes = (text: string) => new TextEncoder().encode(text)
const text = (b: Uint8Array) => new TextDecoder().decode(b)

/** A file as another program might write it: comments, quotes, other line ends, 8-bit signals. */
const foreign = [
  'CGATS.17',
  'ORIGINATOR "A spectroradiometer" # of someone',
  'KEYWORD "ROOM"',
  'ROOM "Sedge Room"',
  'NUMBER_OF_FIELDS 8',
  'BEGIN_DATA_FORMAT',
  'SAMPLE_ID SAMPLE_NAME RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z',
  'END_DATA_FORMAT',
  'NUMBER_OF_SETS 3',
  'BEGIN_DATA',
  '1 "White of the screen" 255 255 255 114.05 120.0 130.7',
  '',
  '2 Black 0 0 0 0.11 1.2e-1 .15   # dark',
  '3 Red 255 0 0 50.1 26.2 2.5',
  'END_DATA',
].join('\r\n')

const facts = { description: 'Check of Sedge 2', createdAt: Date.UTC(2026, 10, 24) }

test('reads what another program wrote: comments, quotes, line ends, signals of 8 bits', () => {
  const { readings, scale, format } = readReadings(foreign)
  expect({ scale, format }).toEqual({ scale: 255, format: 'CGATS' })
  expect(readings).toEqual([
    { name: 'White of the screen', rgb: [1, 1, 1], xyz: [114.05, 120, 130.7] },
    { name: 'Black', rgb: [0, 0, 0], xyz: [0.11, 0.12, 0.15] },
    { name: 'Red', rgb: [1, 0, 0], xyz: [50.1, 26.2, 2.5] },
  ])
  expect(readCgats(foreign)[0].keywords).toContainEqual(['ROOM', 'Sedge Room'])
})

test.each([
  [1, '1 0.5 0', [1, 0.5, 0]],
  [100, '100 50 0', [1, 0.5, 0]],
  [255, '255 127.5 0', [1, 0.5, 0]],
  [1023, '1023 511.5 0', [1, 0.5, 0]],
])('the scale of RGB is inferred from the data: %s', (scale, row, rgb) => {
  const file = `BEGIN_DATA_FORMAT\nRGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\nBEGIN_DATA\n${row} 1 2 3\nEND_DATA\n`
  const read = readReadings(file)
  expect(read.scale).toBe(scale)
  expect(read.readings[0].rgb).toEqual(rgb)
})

test('a given scale is not second-guessed, and what lies beyond it is refused with its line', () => {
  const dark = foreign.replace(/255/g, '20')
  expect(readReadings(dark).scale).toBe(100)
  expect(readReadings(dark, 255).readings[0].rgb[0]).toBeCloseTo(20 / 255, 12)
  expect(() => readReadings(foreign, 100)).toThrow('RGB must lie within 0–100; 255 does not.')
})

test('what is written is read again, to the last bit @long', () => {
  const finite = fc.double({ min: 0, max: 400, noNaN: true })
  const share = fc.integer({ min: 0, max: 1023 }).map((v) => v / 1023)
  const reading = fc.record({
    name: fc.string({ minLength: 1, maxLength: 20 }).filter((s) => !/["\r\n]/.test(s) && s.trim() !== ''),
    rgb: fc.tuple(share, share, share),
    xyz: fc.tuple(finite, finite, finite),
  })
  fc.assert(
    fc.property(fc.array(reading, { minLength: 1, maxLength: 20 }), (readings) => {
      const all: PatchReading[] = [{ name: 'White', rgb: [1, 1, 1], xyz: [95, 100, 108] }, ...readings]
      const back = readReadings(writeReadings(all, facts)).readings
      expect(back.map((r) => r.xyz)).toEqual(all.map((r) => r.xyz))
      expect(back.map((r) => r.name)).toEqual(all.map((r) => r.name))
      back.forEach((r, i) => r.rgb.forEach((v, c) => expect(v).toBeCloseTo(all[i].rgb[c], 14)))
      expect(readPatches(writePatches(all, facts))).toHaveLength(all.length)
    }),
    { numRuns: 300, seed: 5 },
  )
})

describe('says what is wrong, and where', () => {
  const broken: [string, string, string, number | undefined][] = [
    ['a value that is no number', foreign.replace('26.2', '26,2'), '“XYZ_Y” must be a number; “26,2” is none.', 14],
    ['a row too short', foreign.replace(' 2.5', ''), 'The row has 7 values; the data format names 8 fields.', 14],
    [
      'a count that lies',
      foreign.replace('SETS 3', 'SETS 4'),
      'NUMBER_OF_SETS says 4, but there are 3 rows of data.',
      9,
    ],
    ['an open quotation mark', foreign.replace('screen"', 'screen'), 'A quotation mark is opened and not closed.', 11],
    ['a file cut short', foreign.replace(/END_DATA$/, ''), 'END_DATA is missing: the file is cut short.', 15],
    ['no signals', foreign.replace('RGB_R', 'CMY_C'), 'The columns RGB_R, RGB_G and RGB_B are missing', undefined],
    [
      'no colours',
      foreign.replace('XYZ_X', 'LAB_L'),
      'The columns XYZ_X, XYZ_Y and XYZ_Z (cd/m²) are missing',
      undefined,
    ],
    ['a field twice', foreign.replace('SAMPLE_NAME', 'RGB_R'), 'The field “RGB_R” is named twice.', 7],
    ['a signal of 16 bits', foreign.replace('255 255 255', '65535 65535 65535'), 'RGB must be 1023 or less', 11],
    ['a luminance below zero', foreign.replace('26.2', '-26.2'), 'A luminance must not be below 0.', 14],
  ]
  test.each(broken)('%s', (_, file, sentence, line) => {
    expect(() => readReadings(file)).toThrow(
      expect.objectContaining({ message: expect.stringContaining(sentence), line }),
    )
  })
})

test('a table of other things before the readings is passed over', () => {
  const other = writeCgats({ keywords: [], fields: ['NM', 'VALUE'], rows: [[380, 0.1]] })
  expect(readReadings(other + foreign).readings).toHaveLength(3)
})

test('no malformed file breaks the reader @long', () => {
  const good = bytes(foreign)
  expectSturdy('CGATS reader', (b) => readReadings(text(b)), [
    good,
    bytes(writeReadings(readReadings(foreign).readings, facts)),
  ])
})
