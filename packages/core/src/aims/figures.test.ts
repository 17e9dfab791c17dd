import { cssOfLab } from '../color/cssOfLab'
import { formatDate, formatLuminance, formatSigned, formatTemperature, verdictNames, verdictWords } from './figures'

test('figures carry the digits they deserve', () => {
  expect(formatTemperature(6487)).toBe('6,490 K')
  expect(formatTemperature(null)).toBe('–')
  expect(formatLuminance(119.949)).toBe('119.9 cd/m²')
  expect(formatSigned(-0.66, 1)).toBe('−0.7')
  expect(formatSigned(0.66, 1)).toBe('+0.7')
  expect(formatSigned(-0.0001, 2)).toBe('0.00')
  expect(formatDate(Date.UTC(2027, 0, 5, 23, 59))).toBe('5 Jan 2027')
})

test('patches are drawn as an adapted eye sees them', () => {
  expect(cssOfLab([100, 0, 0])).toBe('rgb(255 255 255)')
  expect(cssOfLab([0, 0, 0])).toBe('rgb(0 0 0)')
  // sRGB red in CIELAB under D65 is 53.24, 80.09, 67.20.
  const [r, g, b] = cssOfLab([53.24, 80.09, 67.2]).match(/\d+/g)!.map(Number)
  expect(r).toBeGreaterThan(250)
  expect(g).toBeLessThan(8)
  expect(b).toBeLessThan(8)
})

test('every verdict has its word, from the best to what nobody knows', () => {
  expect(verdictNames.map((v) => verdictWords[v])).toEqual([
    'within',
    'near edge',
    'cannot be told',
    'outside',
    'unproven',
    'lapsed',
  ])
})

test('days are those of a calendar in English, whatever the machine speaks', () => {
  for (let month = 0; month < 12; month++) {
    const at = Date.UTC(2026, month, 9)
    const short = new Intl.DateTimeFormat('en-US', { month: 'short', timeZone: 'UTC' }).format(at)
    expect(formatDate(at)).toBe(`9 ${short} 2026`)
  }
})

test('what rounds to nothing has no sign, on either side of it', () => {
  expect([0, 0.004, -0.004].map((v) => formatSigned(v, 2))).toEqual(['0.00', '0.00', '0.00'])
  expect([0.006, -0.006].map((v) => formatSigned(v, 2))).toEqual(['+0.01', '−0.01'])
  expect(formatLuminance(0.0712, 3)).toBe('0.071 cd/m²')
  expect(formatTemperature(994)).toBe('990 K')
})
