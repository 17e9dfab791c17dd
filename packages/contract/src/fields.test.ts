import {
  byKind,
  byKindOrNone,
  durationField,
  hashField,
  idField,
  illuminanceField,
  nameField,
  numberField,
  serialField,
  settingField,
  textField,
  timeField,
  tripleField,
  tristimulusField,
} from './fields'
import { listFields, mostRows, numeralField, wordField } from './lists'
import { yup } from './sentences'
import { fits, InvalidInput, validate } from './validate'

/** What a field makes of a value: the value, or the sentence with which it is refused. */
function through(field: unknown, value: unknown): unknown {
  const schema = yup.object({ it: field as yup.Schema }).noUnknown()
  try {
    return (validate(schema, value === undefined ? {} : { it: value }) as { it: unknown }).it
  } catch (error) {
    expect(error).toBeInstanceOf(InvalidInput)
    const { sentence, field: at } = error as InvalidInput
    // The sentence names the field that is at fault, whatever is wrong with it.
    expect(at).toMatch(/^it/)
    expect(sentence).toContain(`“${at}”`)
    expect(sentence).toMatch(/\.$/)
    return sentence
  }
}
const refused = (field: unknown, value: unknown) => {
  const found = through(field, value)
  expect(typeof found === 'string' && found.startsWith('“it')).toBe(true)
  return found as string
}

describe('text on one line', () => {
  // Control characters, a lone surrogate, separators, and marks by which a name reads as another (UAX 9).
  const unwanted = [
    'a\nb',
    'a\rb',
    'a\tb',
    'a\u0000b',
    'a\u0085b',
    'a\u2028b',
    'a\u2029b',
    'a\u202eb',
    'a\u2066b',
    'a\ud800b',
    'a\u200eb',
    '\u061cb',
  ]

  test.each(unwanted)('holds nothing that breaks it or turns it: %j', (text) => {
    expect(refused(textField(40), text)).toContain('plain text on one line')
    expect(refused(nameField(), text)).toContain('plain text on one line')
  })

  test.each([
    'Sedge Room',
    'Åse’s “loft”',
    '笛と灯り',
    'العربية',
    '👩‍🎨',
    'a  b',
    '<script>',
    "'; DROP TABLE room; --",
    '${7*7}',
  ])('else is whatever people write: %s', (text) => {
    expect(through(textField(40), text)).toBe(text)
    expect(through(nameField(), text)).toBe(text)
  })

  test('has its length', () => {
    expect(through(textField(5), '12345')).toBe('12345')
    expect(refused(textField(5), '123456')).toBe('“it” must have 5 characters or fewer.')
  })

  test('a name is trimmed, and more than blanks', () => {
    expect(through(nameField(), '  Sedge Room ')).toBe('Sedge Room')
    expect(refused(nameField(), '   ')).toContain('it is needed')
    expect(refused(nameField(), undefined)).toContain('it is needed')
    expect(through(nameField(), `  ${'x'.repeat(60)} `)).toHaveLength(60)
    expect(refused(nameField(), 'x'.repeat(61))).toContain('60 characters or fewer')
  })

  test.each([12, true, null, ['a'], { text: 'a' }])('is no %j', (value) => {
    refused(nameField(), value)
    refused(textField(40), value)
  })
})

describe('numbers', () => {
  test.each(['12', '', true, [1], {}, 'NaN'])('%j is none', (value) => {
    expect(refused(numberField(), value)).toBe('“it” must be a number.')
  })
  test.each([NaN, Infinity, -Infinity])('%d is none', (value) => {
    refused(numberField(), value)
  })
  test.each([0, -0, 1e-300, -1e300])('%d is one', (value) => expect(through(numberField(), value)).toBe(value))

  /** The field, the least and the most that it takes. */
  const ranges: readonly (readonly [string, () => yup.Schema, number, number])[] = [
    ['what an instrument read', tristimulusField, -1, 100_000],
    ['illuminance', illuminanceField, 0, 200_000],
    ['how long it took', () => durationField(), 0, 86_400_000],
    ['an instant', timeField, 0, Date.UTC(2100, 0, 1)],
    ['a thing’s number', idField, 1, Number.MAX_SAFE_INTEGER],
    ['a command’s number', serialField, 0, Number.MAX_SAFE_INTEGER],
    ['a display’s setting', settingField, -65_536, 65_536],
  ]
  test.each(ranges)('%s has its ends', (_, field, least, most) => {
    for (const value of [least, most]) expect(through(field(), value)).toBe(value)
    for (const value of [least - 1, most + 2 * Math.max(1, Math.abs(most) * Number.EPSILON), 1e308])
      refused(field(), value)
  })

  test.each([timeField, idField, serialField, settingField])('counts are whole', (field) => {
    refused(field(), 1.5)
  })

  test('three of them are three, and each that is wrong is named by its place', () => {
    expect(through(tripleField(tristimulusField()), [1, 2, 3])).toEqual([1, 2, 3])
    expect(refused(tripleField(tristimulusField()), [1, 2])).toContain('exactly 3')
    expect(refused(tripleField(tristimulusField()), [1, 2, 3, 4])).toContain('exactly 3')
    expect(refused(tripleField(tristimulusField()), [1, 1e308, 3])).toContain('“it[1]”')
    expect(refused(tripleField(tristimulusField()), [1, null, 3])).toContain('“it[1]”')
    refused(tripleField(tristimulusField()), '123')
    refused(tripleField(tristimulusField()), { length: 3 })
  })
})

test.each(['A'.repeat(64), 'a'.repeat(63), 'a'.repeat(65), `${'a'.repeat(64)}\n`, 'g'.repeat(64)])(
  '%j is no SHA-256',
  (text) => {
    refused(hashField(), text)
  },
)

describe('lists in an address', () => {
  test.each(['1', '42', '200'])('%s rows may be asked for', (text) => {
    expect(through(listFields.limit, text)).toBe(text)
  })
  test.each(['0', '-1', '01', '1.5', '1e2', ' 1', '201', '٣', '', '99999999999999999999'])('“%s” rows not', (text) => {
    expect(refused(listFields.limit, text)).toBe(`“it” must be a whole number from 1 to ${mostRows}.`)
  })
  test('a number without end says no end', () => {
    expect(refused(numeralField(), 'x')).toBe('“it” must be a whole number from 1.')
  })
  test('a name that comes twice, as addresses can, is refused and not taken for one', () => {
    refused(listFields.search, ['a', 'b'])
    refused(listFields.limit, ['1', '2'])
    refused(wordField(['up', 'down']), ['up'])
  })
  test('a word is one of those that are told', () => {
    expect(through(wordField(['up', 'down']), 'down')).toBe('down')
    expect(refused(wordField(['up', 'down']), 'sideways')).toBe('“it” must be one of: up, down.')
    refused(wordField(['up', 'down']), 'constructor')
  })
})

describe('one of several kinds', () => {
  const light = byKind<{ kind: 'range' } | { kind: 'any' }>({
    range: yup.object({ from: illuminanceField().required(), to: illuminanceField().required() }),
    any: yup.object({}),
  })

  test('is what its own kind wants, and names what is wrong in it', () => {
    expect(through(light, { kind: 'range', from: 20, to: 64 })).toEqual({ kind: 'range', from: 20, to: 64 })
    expect(through(light, { kind: 'any' })).toEqual({ kind: 'any' })
    expect(refused(light, { kind: 'range', from: 20 })).toBe('“it.to” is missing; it is needed.')
    expect(refused(light, { kind: 'any', from: 20 })).toContain('do not belong there: from')
  })

  test.each([
    undefined,
    null,
    5,
    'range',
    [],
    {},
    { kind: 5 },
    { kind: 'dark' },
    { kind: 'constructor' },
    { kind: '__proto__' },
    { kind: ['range'] },
  ])('%j is of none', (value) => {
    refused(light, value)
  })

  test('may be left out where that is said, and nowhere else', () => {
    expect(through(byKindOrNone(light), undefined)).toBeUndefined()
    refused(byKindOrNone(light), null)
    refused(byKindOrNone(light), { kind: 'dark' })
  })
})

test('every field that is wrong is told once, in the order of the schema; what is not known is told too', () => {
  const schema = yup.object({ name: nameField(), days: numberField().integer().min(1).required() }).noUnknown()
  const { all } = (() => {
    try {
      validate(schema, { days: 0.5, name: '', colour: 'red' })
    } catch (error) {
      return error as InvalidInput
    }
    throw new Error('It was taken.')
  })()
  expect(all.map((f) => f.field)).toEqual(['name', 'days', undefined])
  expect(fits(schema, { name: 'Sedge', days: 3 })).toBe(true)
  expect(fits(schema, { name: 'Sedge', days: '3' })).toBe(false)
})

test.each([null, undefined, 5, 'text', [], () => 1])('a message that is %p is no group of fields', (value) => {
  expect(() => validate(yup.object({}), value)).toThrow('must be a group of fields')
})
