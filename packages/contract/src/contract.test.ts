import {
  aimSchema,
  commandNames,
  commands,
  helloSchema,
  InvalidInput,
  limitsSchema,
  resultSchema,
  roleCovers,
  roles,
  saveAimSchema,
  saveDisplaySchema,
  signInSchema,
  startRunSchema,
  validate,
} from './index'
import type { yup } from './index'
import { exampleDisplay, exampleHost, exampleInstrument } from './test/examples'

const aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const limits = { rules: [{ metric: 'worstDeltaE', near: 2, hard: 3 }] }

/** The refusal of a value: its sentence and field. */
function refusal(schema: yup.Schema, value: unknown) {
  try {
    validate(schema, value)
  } catch (error) {
    expect(error).toBeInstanceOf(InvalidInput)
    const { sentence, field } = error as InvalidInput
    return { sentence, field }
  }
  throw new Error('It was taken.')
}

describe('aims', () => {
  test.each([
    aim,
    { ...aim, white: { kind: 'xy', x: 0.32, y: 0.34 } },
    { ...aim, white: { kind: 'temperature', kelvin: 5800 } },
    { ...aim, white: { kind: 'panel' }, toneResponse: { kind: 'power', exponent: 2.4 }, primaries: { kind: 'panel' } },
    {
      ...aim,
      toneResponse: { kind: 'BT.1886' },
      primaries: { kind: 'xy', red: { x: 0.68, y: 0.32 }, green: { x: 0.265, y: 0.69 }, blue: { x: 0.15, y: 0.06 } },
    },
  ])('takes %j as it is', (value) => {
    expect(validate(aimSchema, value)).toEqual(value)
  })

  test.each([
    ['white outside the locus', { ...aim, white: { kind: 'xy', x: 0.8, y: 0.15 } }, 'white', 'spectral locus'],
    ['xy that is no number', { ...aim, white: { kind: 'xy', x: '0.3', y: 0.3 } }, 'white.x', 'must be a number'],
    ['luminance zero', { ...aim, luminance: 0 }, 'luminance', 'above 0'],
    ['luminance below zero', { ...aim, luminance: -5 }, 'luminance', 'above 0'],
    ['luminance not finite', { ...aim, luminance: Infinity }, 'luminance', ''],
    ['luminance missing', { ...aim, luminance: undefined }, 'luminance', 'missing'],
    ['luminance null', { ...aim, luminance: null }, 'luminance', ''],
    [
      'a white of unknown kind',
      { ...aim, white: { kind: 'sunny' } },
      'white.kind',
      'one of: standard, xy, temperature, panel',
    ],
    ['a kind from the prototype', { ...aim, white: { kind: 'constructor' } }, 'white.kind', 'one of'],
    ['no white', { ...aim, white: undefined }, 'white.kind', 'missing'],
    ['too cold', { ...aim, white: { kind: 'temperature', kelvin: 50000 } }, 'white.kelvin', '20000 or less'],
    [
      'an exponent of 9',
      { ...aim, toneResponse: { kind: 'power', exponent: 9 } },
      'toneResponse.exponent',
      '4 or less',
    ],
    [
      'primaries on a line',
      {
        ...aim,
        primaries: { kind: 'xy', red: { x: 0.3, y: 0.3 }, green: { x: 0.32, y: 0.32 }, blue: { x: 0.34, y: 0.34 } },
      },
      'primaries',
      'triangle',
    ],
    [
      'primaries that no light has',
      {
        ...aim,
        primaries: { kind: 'xy', red: { x: 0.9, y: 0.05 }, green: { x: 0.3, y: 0.6 }, blue: { x: 0.15, y: 0.06 } },
      },
      'primaries.red',
      'spectral locus',
    ],
    ['a field too many', { ...aim, colour: 'red' }, undefined, 'do not belong'],
    ['a name that every object has', { ...aim, toString: 1 }, 'toString', 'does not belong'],
    ['a list', [aim], undefined, 'group of fields'],
    ['nothing', null, undefined, 'group of fields'],
  ])('refuses %s and names the field', (_, value, field, words) => {
    const found = refusal(aimSchema, value)
    if (field) expect(found.field).toBe(field)
    expect(found.sentence).toContain(words)
    expect(found.sentence).toMatch(/[.]$/)
  })

  test('names are one line of text', () => {
    expect(validate(saveAimSchema, { name: '  Atlas web ', aim })).toMatchObject({ name: 'Atlas web' })
    expect(refusal(saveAimSchema, { name: '   ', aim }).field).toBe('name')
    expect(refusal(saveAimSchema, { name: 'a\nb', aim }).sentence).toContain('one line')
    expect(refusal(saveAimSchema, { name: 'x'.repeat(61), aim }).sentence).toContain('60')
  })
})

describe('limits', () => {
  test('takes rules with edges in order', () => {
    expect(validate(limitsSchema, limits)).toEqual(limits)
    const equal = { rules: [{ metric: 'luminanceOff', near: 2, hard: 2 }] }
    expect(validate(limitsSchema, equal)).toMatchObject(equal)
  })

  test.each([
    ['near beyond hard', [{ metric: 'worstDeltaE', near: 4, hard: 3 }], 'rules[0].near', 'must not be larger'],
    ['a hard edge without sense', [{ metric: 'worstDeltaE', near: 4, hard: 300 }], 'rules[0].hard', '50 or less'],
    ['an unknown figure', [{ metric: 'beauty', near: 1, hard: 2 }], 'rules[0].metric', 'one of'],
    ['a figure twice', [limits.rules[0], limits.rules[0]], 'rules', 'twice'],
    ['no rule', [], 'rules', '1 entries or more'],
    ['an edge of zero', [{ metric: 'worstDeltaE', near: 0, hard: 3 }], 'rules[0].near', 'above 0'],
  ])('refuses %s', (_, rules, field, words) => {
    const found = refusal(limitsSchema, { rules })
    expect(found.field).toBe(field)
    expect(found.sentence).toContain(words)
  })
})

test('other messages name the field at fault', () => {
  expect(refusal(startRunSchema, { displayId: 1, kind: 'full', slot: 0 }).field).toBe('slot')
  expect(refusal(startRunSchema, { displayId: 1, kind: 'nap', slot: 1 }).sentence).toContain(
    'full, refresh, check, baseline, spot',
  )
  expect(refusal(startRunSchema, { displayId: '1', kind: 'full', slot: 1 }).field).toBe('displayId')
  expect(refusal(startRunSchema, { displayId: 1.5, kind: 'full', slot: 1 }).sentence).toContain('whole number')
  expect(refusal(signInSchema, { login: 'a' }).field).toBe('password')
  expect(refusal(signInSchema, { login: { $ne: 1 }, password: 'x' }).field).toBe('login')
  expect(refusal(saveDisplaySchema, {}).sentence).toMatch(/missing/)
})

test('every field at fault is told, each once, in the order of the form', () => {
  try {
    validate(saveDisplaySchema, { name: ' ', slots: 99, checkEveryDays: 'often', panelKind: 'plasma' })
    throw new Error('It was taken.')
  } catch (error) {
    const { all, field } = error as InvalidInput
    expect(field).toBe('name')
    expect(all.map((f) => f.field)).toEqual([
      'name',
      'maker',
      'model',
      'serial',
      'firmware',
      'panelKind',
      'workstationId',
      'limitsId',
      'checkEveryDays',
      'slots',
    ])
    expect(all.find((f) => f.field === 'slots')!.sentence).toBe('“Slots” must be 8 or less.')
    expect(all.every((f) => /^“[A-Z].*[.]$/.test(f.sentence))).toBe(true)
  }
})

test('a role may do what those below it may', () => {
  for (const [i, has] of roles.entries())
    for (const [k, needs] of roles.entries()) expect(roleCovers(has, needs)).toBe(i >= k)
})

describe('courier messages', () => {
  const display = exampleDisplay
  const host = exampleHost
  const hello = { type: 'hello', protocol: 2, host, displays: [display], instruments: [exampleInstrument] }

  test('a hello is taken whole or refused', () => {
    expect(helloSchema.isValidSync(hello)).toBe(true)
    for (const bad of [
      { ...hello, type: 'hi' },
      { ...hello, displays: Array(17).fill(display) },
      { ...hello, displays: [{ ...display, signalBits: 9 }] },
      { ...hello, host: { ...host, conditions: {} } },
    ])
      expect(helloSchema.isValidSync(bad)).toBe(false)
  })

  test('commands refuse what a device must never be asked', () => {
    expect(commands['display.showPatch'].args.isValidSync({ serial: 'S1', rgb: [0, 0.5, 1] })).toBe(true)
    expect(commands['display.showPatch'].args.isValidSync({ serial: 'S1', rgb: [0, 0.5, 1.2] })).toBe(false)
    expect(commands['display.showPatch'].args.isValidSync({ serial: 'S1', rgb: [0, 0.5] })).toBe(false)
    expect(
      commands['host.placeProfile'].args.isValidSync({
        display: 'S1',
        hash: 'a'.repeat(64),
        fileName: '../x.icc',
        scope: 'machine',
        replaces: [],
        unbinds: [],
      }),
    ).toBe(false)
    expect(
      commands['host.placeProfile'].args.isValidSync({
        display: 'S1',
        hash: 'a'.repeat(64),
        fileName: 'x.icc',
        scope: 'machine',
        replaces: ['b'.repeat(64)],
        unbinds: ['another’s name.icc'],
      }),
    ).toBe(true)
    expect(commands['instrument.read'].result.isValidSync({ xyz: [1, 2, NaN], integrationMs: 1, flags: [] })).toBe(
      false,
    )
  })

  test('every command has both ends written down', () => {
    expect(commandNames).toHaveLength(22)
    for (const name of commandNames) expect(Object.keys(commands[name])).toEqual(['args', 'result'])
    expect(
      resultSchema.isValidSync({
        type: 'result',
        id: 1,
        ok: false,
        tookMs: 2,
        fault: { kind: 'data-link', sentence: 'No.' },
      }),
    ).toBe(true)
    expect(
      resultSchema.isValidSync({
        type: 'result',
        id: 1,
        ok: false,
        tookMs: 2,
        fault: { kind: 'bad mood', sentence: 'No.' },
      }),
    ).toBe(false)
  })
})
