import { readReadings } from './readings'
import { readCxf } from './cxf'
import { expectSturdy } from './test/malformed'

const object = (name: string, rgb: string, color: string) =>
  `<cc:Object ObjectType="Standard" Name="${name}" Id="i${name}">
     <cc:CreationDate>2026-11-24T09:00:00Z</cc:CreationDate>
     <cc:ColorValues>${color}</cc:ColorValues>
     <cc:DeviceColorValues>${rgb}</cc:DeviceColorValues>
   </cc:Object>`
const rgb = (r: number, g: number, b: number) =>
  `<cc:ColorRGB><cc:MaxRange>255</cc:MaxRange><cc:R>${r}</cc:R><cc:G>${g}</cc:G><cc:B>${b}</cc:B></cc:ColorRGB>`
const xyz = (x: number, y: number, z: number) =>
  `<cc:ColorCIEXYZ ColorSpecification="CS"><cc:X>${x}</cc:X><cc:Y>${y}</cc:Y><cc:Z>${z}</cc:Z></cc:ColorCIEXYZ>`
const file = (objects: string) =>
  `<?xml version="1.0" encoding="UTF-8"?>
<cc:CxF xmlns:cc="http://colorexchangeformat.com/CxF3-core">
 <cc:Resources><cc:ObjectCollection>${objects}</cc:ObjectCollection></cc:Resources>
</cc:CxF>`
const good = file(
  object('White', rgb(255, 255, 255), xyz(114, 120, 131)) +
    object(
      'Grey &amp; dim',
      rgb(128, 128, 128),
      '<cc:ColorCIExyY><cc:x>0.3127</cc:x><cc:y>0.329</cc:y><cc:Y>26</cc:Y></cc:ColorCIExyY>',
    ) +
    object('Paper', '', xyz(80, 85, 70)),
)

test('reads objects with a device signal and a colour; passes over the others', () => {
  const { readings, format, scale } = readReadings(good)
  expect({ format, scale }).toEqual({ format: 'CxF', scale: 255 })
  expect(readings.map((r) => r.name)).toEqual(['White', 'Grey & dim'])
  expect(readings[0]).toMatchObject({ rgb: [1, 1, 1], xyz: [114, 120, 131] })
  // xyY as CIE 15 defines it: X = x·Y/y.
  expect(readings[1].xyz[0]).toBeCloseTo((0.3127 * 26) / 0.329, 9)
})

test('another largest value is brought to 255', () => {
  const ten = good
    .replace(/<cc:MaxRange>255/g, '<cc:MaxRange>1023')
    .replace(/>255</g, '>1023<')
    .replace(/>128</g, '>512<')
  expect(readCxf(ten)[0].rgb).toEqual([255, 255, 255])
})

test.each([
  ['no CxF', '<html><body/></html>', 'The file begins with “html”; a CxF file begins with “CxF”.'],
  ['broken XML', good.replace('</cc:Resources>', ''), 'The XML is broken'],
  ['an entity of its own', '<!DOCTYPE a [<!ENTITY b "c">]><CxF/>', 'A document type is not accepted.'],
  [
    'a value that is no number',
    good.replace('>120<', '>bright<'),
    '“Y” of “White” must be a number; “bright” is none.',
  ],
  [
    'nothing that was read',
    file(object('Paper', '', xyz(1, 2, 3))),
    'Of 1 objects none has both RGB device values and CIE XYZ.',
  ],
  ['no objects', file(''), 'The file holds no objects'],
  ['elements without end', '<a>'.repeat(200), 'The file begins with “a”'],
  ['elements too deep', `<CxF>${'<b>'.repeat(200)}`, 'more than 64 deep'],
])('refuses %s', (_, text, sentence) => {
  expect(() => readCxf(text)).toThrow(expect.objectContaining({ message: expect.stringContaining(sentence) }))
})

test('no malformed file breaks the reader @long', () => {
  expectSturdy('CxF reader', (b) => readReadings(new TextDecoder().decode(b)), [new TextEncoder().encode(good)])
})
