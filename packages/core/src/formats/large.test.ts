import { FormatError } from './formatError'
import { readPatches, readReadings } from './readings'

// A quarter of the largest file that is taken in. A reader that begins anew with every line, column or word of it needs
// half an hour here, and a linear one a moment: `npm run -s ordeal -- readers` says how long each takes at the full
// size, and that twice the size takes about twice as long.
const size = 1_000_000
const fill = (unit: string) => unit.repeat(Math.floor(size / unit.length))
const columns = Array.from({ length: 70_000 }, (_, i) => `C${i}`)

test.each([
  ['70,000 columns', columns.join(',')],
  ['70,000 columns twice', `${columns.join(',')}\n${columns.join(',')}`],
  ['nothing but empty lines', fill('\n')],
  ['empty lines with blanks', fill(' \t\n')],
  ['one line of blanks', fill(' ')],
  ['quotation marks', fill('"')],
  ['quoted words without commas', fill('"a" ')],
  ['a quotation that never ends', `R,G,B,X,Y,Z\n"${fill('a\n')}`],
  ['semicolons', fill(';')],
  ['words of CGATS', `BEGIN_DATA_FORMAT\n${fill('FIELD ')}\nBEGIN_DATA`],
  ['keywords of CGATS', `${fill('KEYWORD "x"\n')}BEGIN_DATA\n`],
  ['elements of XML', fill('<a>')],
  ['an element with many attributes', `<CxF ${fill('a="1" ')}>`],
  ['comments of XML', `<CxF>${fill('<!-- x -->')}`],
])('%s: refused with a sentence', (_, text) => {
  expect(() => readReadings(text)).toThrow(FormatError)
  expect(() => readPatches(text)).toThrow(FormatError)
})

test('as many readings as a megabyte holds are read @long', () => {
  const row = '0.5,0.5,0.5,20,21,23\n'
  const text = `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n${fill(row)}`
  expect(readReadings(text).readings).toHaveLength(Math.floor(size / row.length))
})

test.each([
  ['1e308', '“XYZ_X” must be from -1 to 100,000 cd/m²'],
  ['100001', '“XYZ_X” must be from -1 to 100,000 cd/m²'],
  ['-2', '“XYZ_X” must be from -1 to 100,000 cd/m²'],
  ['1e999', 'must be a number'],
])('an X of %s is no reading, and its line is told', (x, words) => {
  const table = `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,95,100,108\n0.5,0.5,0.5,${x},21,23\n`
  expect(() => readReadings(table)).toThrow(
    expect.objectContaining({ line: 3, message: expect.stringContaining(words) }),
  )
  const cxf = `<CxF><Object Name="a"><ColorRGB><R>1</R><G>1</G><B>1</B></ColorRGB><ColorCIEXYZ><X>${x}</X><Y>2</Y><Z>3</Z></ColorCIEXYZ></Object></CxF>`
  expect(() => readReadings(cxf)).toThrow(FormatError)
})

test('a patch’s name is kept on one line, and not longer than a line', () => {
  const text = `NAME,RGB_R,RGB_G,RGB_B\n"a\u202Eb",1,1,1\n${'n'.repeat(500)},0,0,0\n`
  expect(readPatches(text).map((p) => p.name)).toEqual(['a·b', 'n'.repeat(120)])
})
