import { readCsv, writeCsv } from './csv'
import { readReadings } from './readings'
import { expectSturdy } from './test/malformed'

const good = 'name;R;G;B;X;Y;Z\n\nWhite;255;255;255;114;120;131\n"Red; full";255;0;0;50;26;2.5\n'

test('reads readings with semicolons, an empty line and a quoted name', () => {
  const { readings, format } = readReadings(good)
  expect(format).toBe('CSV')
  expect(readings.map((r) => r.name)).toEqual(['White', 'Red; full'])
  expect(readings[1].xyz).toEqual([50, 26, 2.5])
})

test('names the line of a row that does not fit, quoted line ends counted', () => {
  expect(() => readCsv('a,b\n1,2\n"x\ny",2\n1\n')).toThrow(
    expect.objectContaining({ message: 'The row has 1 values; the first line names 2 columns.', line: 5 }),
  )
  expect(() => readCsv('')).toThrow('The file is empty.')
  expect(() => readCsv('a,a\n1,2')).toThrow('The column “a” is named twice.')
  expect(() => readCsv('a,b\n"1,2')).toThrow('quotation mark')
})

test('what is written is read again, commas, quotes and all', () => {
  const rows = [
    ['one, two', 'say "hi"'],
    ['', 'ü'],
  ]
  const back = readCsv(writeCsv(['p', 'q'], rows))
  expect(back.fields).toEqual(['p', 'q'])
  expect(back.rows.map((r) => r.values)).toEqual(rows)
})

test('no malformed file breaks the reader @long', () => {
  expectSturdy('CSV reader', (b) => readReadings(new TextDecoder().decode(b)), [new TextEncoder().encode(good)])
})
