import {
  convertXyzToChromaticity,
  invert,
  multiplyVector,
  subtract,
  transpose,
  type PanelKind,
  type Triple,
  type XYZ,
} from '@bichroma/core'
import { uniformFrom } from '@bichroma/core'
import { emission, PanelModel, type PanelTraits } from './panelModel'

const traits: PanelTraits = {
  kind: 'wide-gamut-led',
  peakLuminance: 340,
  nativeWhite: { x: 0.303, y: 0.318 },
  exponents: [2.2, 2.16, 2.3],
  bows: [0.12, 0.15, 0.05],
  crosstalk: 0.015,
  contrast: 1000,
  ageing: [0.004, 0.004, 0.01],
  signalBits: 10,
  driveBits: 12,
}
const steady = { backlight: 100, warmMinutes: 600, hours: 0 }
const kinds = Object.keys(emission) as PanelKind[]
const all = <T>(f: (kind: PanelKind) => T) => kinds.map(f)

test.each(kinds)('%s: full drives give the native white and peak luminance', (kind) => {
  const xyz = new PanelModel({ ...traits, kind }).emit([1, 1, 1], null, steady)
  const { x, y } = convertXyzToChromaticity(xyz)
  expect(x).toBeCloseTo(0.303, 3)
  expect(y).toBeCloseTo(0.318, 3)
  expect(xyz[1]).toBeCloseTo(340, 0)
})

test('without coupling the channels add to 1e-12', () => {
  for (const panel of all((kind) => new PanelModel({ ...traits, kind, crosstalk: 0 }))) {
    const uniform = uniformFrom(1)
    const black = panel.emit([0, 0, 0], null, steady)
    for (let i = 0; i < 50; i++) {
      const rgb: Triple = [uniform(), uniform(), uniform()]
      const parts = [0, 1, 2].map((c) =>
        subtract(panel.emit(rgb.map((v, k) => (k === c ? v : 0)) as unknown as Triple, null, steady), black),
      )
      const whole = subtract(panel.emit(rgb, null, steady), black)
      whole.forEach((v, k) => expect(Math.abs(v - parts.reduce((sum, p) => sum + p[k], 0)) / 340).toBeLessThan(1e-12))
    }
  }
})

test('with coupling a channel loses a few percent of its light to dark neighbours', () => {
  const panel = new PanelModel(traits)
  const black = panel.emit([0, 0, 0], null, steady)
  const column = (rgb: Triple) => subtract(panel.emit(rgb, null, steady), black)
  const columns = transpose([column([1, 0, 0]), column([0, 1, 0]), column([0, 0, 1])])
  const grey = multiplyVector(invert(columns), column([0.5, 0.5, 0.5]))
  const alone = multiplyVector(invert(columns), column([0.5, 0, 0]))
  expect(alone[0] / grey[0]).toBeGreaterThan(0.9)
  expect(alone[0] / grey[0]).toBeLessThan(0.985)
})

test('curves of the channels differ, rise, and end where they should', () => {
  const panel = new PanelModel({ ...traits, crosstalk: 0 })
  const light = (c: number, d: number) =>
    panel.emit([0, 1, 2].map((k) => (k === c ? d : 0)) as unknown as Triple, null, steady)[1]
  const shares = [0, 1, 2].map((c) => {
    let last = -1
    for (let i = 0; i <= 1023; i++) {
      const y = light(c, i / 1023)
      expect(y).toBeGreaterThanOrEqual(last)
      last = y
    }
    return (light(c, 0.5) - light(c, 0)) / (light(c, 1) - light(c, 0))
  })
  expect(new Set(shares.map((s) => s.toFixed(3))).size).toBe(3)
})

test('black is a thousandth of white, bluer than it, and nothing on a panel that goes dark', () => {
  const black = new PanelModel(traits).emit([0, 0, 0], null, steady)
  expect(340 / black[1]).toBeCloseTo(1000, -2)
  expect(convertXyzToChromaticity(black).y).toBeLessThan(0.318)
  expect(new PanelModel({ ...traits, kind: 'oled', contrast: Infinity }).emit([0, 0, 0], null, steady)).toEqual([
    0, 0, 0,
  ])
})

test('light rises with the backlight control, and settles as the panel warms', () => {
  const panel = new PanelModel(traits)
  const at = (state: Partial<typeof steady>) => panel.emit([1, 1, 1], null, { ...steady, ...state })
  for (let c = 1; c <= 100; c++) expect(at({ backlight: c })[1]).toBeGreaterThan(at({ backlight: c - 1 })[1])
  for (let m = 1; m < 120; m++) expect(at({ warmMinutes: m })[1]).toBeGreaterThan(at({ warmMinutes: m - 1 })[1])
  expect(at({ warmMinutes: 0 })[1] / at({})[1]).toBeCloseTo(0.9, 1)
  expect(at({ warmMinutes: 60 })[1] / at({})[1]).toBeGreaterThan(0.998)
})

test('ageing dims and yellows, always onward', () => {
  const panel = new PanelModel(traits)
  let last = { y: Infinity, x: 0 }
  for (let hours = 0; hours <= 40_000; hours += 4000) {
    const xyz = panel.emit([1, 1, 1], null, { ...steady, hours })
    const { x } = convertXyzToChromaticity(xyz)
    expect(xyz[1]).toBeLessThan(last.y)
    expect(x).toBeGreaterThan(last.x)
    last = { y: xyz[1], x }
  }
})

test('the signal is rounded to its bits', () => {
  const panel = new PanelModel(traits)
  const emit = (v: number): XYZ => panel.emit([v, v, v], null, steady)
  expect(emit(0.5 + 0.4 / 1023)).toEqual(emit(Math.round((0.5 + 0.4 / 1023) * 1023) / 1023))
  expect(emit(0.5)).not.toEqual(emit(0.5 + 1.2 / 1023))
})

test('a white that the light cannot make is refused', () => {
  expect(() => new PanelModel({ ...traits, nativeWhite: { x: 0.05, y: 0.8 } })).toThrow('cannot have that native white')
})
