import { uniformFrom } from '@bichroma/core/basics'
import {
  convertXyzToChromaticity,
  convertXyzToUv,
  comparePrimaries,
  deltaUv,
  standardPrimaries,
  subtract,
  type Triple,
  type XYZ,
} from '@bichroma/core/color'
import { panelKindNames, type PanelKind } from '@bichroma/core/register'
import { shippedPanel, shippedPanels } from '../scenario/shipped'
import { withDifferences } from '../scenario/scenario'
import { PanelModel, settled, type PanelState } from './panelModel'
import { readPanel, type PanelTraits } from './panelSchema'

/** A plain panel of a kind: nothing but light and tone, unless changed. */
const plain = (source: PanelKind, differs: object = {}): PanelTraits =>
  readPanel(
    withDifferences(
      {
        format: 'bichroma-panel/1',
        maker: 'Quillon',
        model: 'Plain',
        firmware: '1',
        light: { source, peakLuminance: 340, nativeWhite: { x: 0.305, y: 0.32 }, contrast: 1000 },
        tone: { exponents: [2.2, 2.16, 2.3], bows: [0.12, 0.15, 0.05] },
        time: { wander: { luminance: 0, blue: 0 } },
        signal: { bits: 10, driveBits: 16 },
        tables: { slots: 1, pipeline: { kind: '1D', after: { entries: 256, bits: 16 } } },
      },
      differs,
    ),
  )
const steady: PanelState = { ...settled, backlight: 100, at: 0 }
const pure = (c: number, v = 1): Triple => [0, 1, 2].map((k) => (k === c ? v : 0)) as unknown as Triple
const greyOf = (v: number): Triple => [v, v, v]

describe('light', () => {
  test.each(panelKindNames)('%s: full drives give the native white and the peak luminance', (kind) => {
    const xyz = new PanelModel(plain(kind)).emit([1, 1, 1], steady)
    const { x, y } = convertXyzToChromaticity(xyz)
    expect(x).toBeCloseTo(0.305, 6)
    expect(y).toBeCloseTo(0.32, 6)
    expect(xyz[1]).toBeCloseTo(340, 6)
  })

  test.each(panelKindNames)('%s: without coupling the channels add to 1e-12', (kind) => {
    const panel = new PanelModel(plain(kind))
    const uniform = uniformFrom(1)
    const black = panel.emit([0, 0, 0], steady)
    for (let i = 0; i < 40; i++) {
      const rgb: Triple = [uniform(), uniform(), uniform()]
      const parts = [0, 1, 2].map((c) => subtract(panel.emit(pure(c, rgb[c]), steady), black))
      const whole = subtract(panel.emit(rgb, steady), black)
      whole.forEach((v, k) => expect(Math.abs(v - parts[0][k] - parts[1][k] - parts[2][k]) / 340).toBeLessThan(1e-12))
    }
  })

  // Coverage in u′v′ that displays of each technology are known for: wide ones near all of P3, white LED near BT.709.
  test.each<[PanelKind, [number, number], [number, number]]>([
    ['white-led', [0.8, 1], [0.55, 0.85]],
    ['cold-cathode', [0.85, 1], [0.65, 0.95]],
    ['projector-lamp', [0.8, 1], [0.6, 1]],
    ['wide-gamut-led', [0.95, 1], [0.9, 1]],
    ['quantum-dot', [0.95, 1], [0.9, 1]],
    ['rgb-led', [0.95, 1], [0.9, 1]],
    ['oled', [0.95, 1], [0.9, 1]],
    ['oled-white', [0.9, 1], [0.75, 1]],
  ])('%s covers BT.709 and P3 as its technology does', (kind, ofBt709, ofP3) => {
    const panel = new PanelModel(plain(kind))
    const [red, green, blue] = [0, 1, 2].map((c) => convertXyzToChromaticity(panel.emit(pure(c), steady)))
    for (const [standard, [least, most]] of [
      ['BT.709', ofBt709],
      ['Display P3', ofP3],
    ] as const) {
      const share = comparePrimaries({ red, green, blue }, standardPrimaries[standard], 'uv').coverage
      expect(share).toBeGreaterThanOrEqual(100 * least)
      expect(share).toBeLessThanOrEqual(100 * most)
    }
  })

  test('a white that the light cannot make is refused', () => {
    expect(() => new PanelModel(plain('white-led', { light: { nativeWhite: { x: 0.2, y: 0.5 } } }))).toThrow(
      'cannot have that native white',
    )
  })

  test('black is a thousandth of white, bluer than it, and nothing on a panel that goes dark', () => {
    const black = new PanelModel(plain('white-led')).emit([0, 0, 0], steady)
    expect(340 / black[1]).toBeCloseTo(1020, -2)
    expect(convertXyzToChromaticity(black).y).toBeLessThan(0.32)
    expect(new PanelModel(plain('oled', { light: { contrast: null } })).emit([0, 0, 0], steady)).toEqual([0, 0, 0])
  })

  test('bands shifted by a few nm move the primaries, and white stays', () => {
    const of = (shiftNm: number) => {
      const panel = new PanelModel(plain('quantum-dot', { light: { shiftNm: [0, shiftNm, 0] } }))
      return { green: panel.emit(pure(1), steady), white: panel.emit([1, 1, 1], steady) }
    }
    const [still, moved] = [of(0), of(4)]
    expect(deltaUv(convertXyzToUv(still.green), convertXyzToUv(moved.green))).toBeGreaterThan(0.004)
    expect(deltaUv(convertXyzToUv(still.white), convertXyzToUv(moved.white))).toBeLessThan(1e-9)
  })

  test('with a white subpixel white is brighter than its primaries together, by the share that it has', () => {
    const panel = new PanelModel(plain('oled-white', { light: { whiteSubpixel: 0.4, contrast: null } }))
    const together = [0, 1, 2].reduce((sum, c) => sum + panel.emit(pure(c), steady)[1], 0)
    expect(together / panel.emit([1, 1, 1], steady)[1]).toBeCloseTo(0.6, 6)
    // Two channels alone leave it dark.
    const yellow = panel.emit([1, 1, 0], steady)[1]
    expect(yellow).toBeCloseTo(panel.emit([1, 0, 0], steady)[1] + panel.emit([0, 1, 0], steady)[1], 9)
  })
})

describe('tone and coupling', () => {
  test('curves of the channels differ, rise, and end where they should', () => {
    const panel = new PanelModel(plain('white-led'))
    const shares = [0, 1, 2].map((c) => {
      let last = -1
      for (let i = 0; i <= 1023; i++) {
        const [, y] = panel.emit(pure(c, i / 1023), steady)
        expect(y).toBeGreaterThanOrEqual(last)
        last = y
      }
      const light = (v: number) => panel.emit(pure(c, v), steady)[1] - panel.emit([0, 0, 0], steady)[1]
      return light(0.5) / light(1)
    })
    expect(new Set(shares.map((s) => s.toFixed(3))).size).toBe(3)
  })

  test.each([0.01, 0.03, 0.05])(
    'crosstalk of %s takes that share of a channel at half drive beside dark ones',
    (crosstalk) => {
      const straight = { tone: { exponents: [2.2, 2.2, 2.2], bows: [0, 0, 0] }, light: { contrast: null } }
      const panel = new PanelModel(plain('rgb-led', { ...straight, coupling: { crosstalk } }))
      const without = new PanelModel(plain('rgb-led', straight))
      const lost = 1 - panel.emit(pure(1, 0.5), steady)[1] / without.emit(pure(1, 0.5), steady)[1]
      expect(lost / crosstalk).toBeGreaterThan(0.95)
      expect(lost / crosstalk).toBeLessThan(1.05)
      // Equal drives pull each other nowhere.
      expect(panel.emit(greyOf(0.5), steady)).toEqual(without.emit(greyOf(0.5), steady))
    },
  )

  test('the supply takes its share of white, and next to nothing of a dark colour', () => {
    const [loaded, free] = [0.05, 0].map((load) => new PanelModel(plain('oled', { coupling: { load } })))
    expect(loaded.emit([1, 1, 1], steady)[1] / free.emit([1, 1, 1], steady)[1]).toBeCloseTo(0.95, 3)
    expect(loaded.emit(greyOf(0.1), steady)[1] / free.emit(greyOf(0.1), steady)[1]).toBeGreaterThan(0.999)
  })

  test('the drive is rounded to its bits', () => {
    const panel = new PanelModel(plain('white-led', { signal: { driveBits: 10 } }))
    expect(panel.emit(greyOf(0.5 + 0.4 / 1023), steady)).toEqual(panel.emit(greyOf(Math.round(511.9) / 1023), steady))
    expect(panel.emit(greyOf(0.5), steady)).not.toEqual(panel.emit(greyOf(0.5 + 1.2 / 1023), steady))
  })
})

describe('time', () => {
  const white = (panel: PanelModel, change: Partial<typeof steady>) => panel.emit([1, 1, 1], { ...steady, ...change })

  test.each(Object.keys(shippedPanels))('%s warms up, and settles within two hours', (name) => {
    const panel = new PanelModel({
      ...shippedPanel(name),
      time: { ...shippedPanel(name).time, wander: { luminance: 0, blue: 0 } },
    })
    let last = 0
    for (let minutes = 0; minutes <= 120; minutes++) {
      const [, y] = white(panel, { warmMinutes: minutes })
      expect(y).toBeGreaterThan(last)
      last = y
    }
    expect(last / white(panel, {})[1]).toBeGreaterThan(0.999)
    expect(white(panel, { warmMinutes: 0 })[1] / white(panel, {})[1]).toBeLessThan(0.985)
  })

  test.each(Object.keys(shippedPanels))('%s dims and changes its white with use, always onward', (name) => {
    const traits = shippedPanel(name)
    const panel = new PanelModel({ ...traits, time: { ...traits.time, wander: { luminance: 0, blue: 0 } } })
    const fresh = white(panel, {})
    let [luminance, moved] = [Infinity, -1]
    for (let hours = 0; hours <= 8000; hours += 1000) {
      const xyz = white(panel, { hours })
      const off = deltaUv(convertXyzToUv(xyz), convertXyzToUv(fresh))
      expect(xyz[1]).toBeLessThan(luminance)
      expect(off).toBeGreaterThan(moved)
      ;[luminance, moved] = [xyz[1], off]
    }
  })

  test('tone drifts with use when the panel’s does', () => {
    const panel = new PanelModel(plain('oled', { time: { ageing: { light: [0, 0, 0], tone: [0.01, 0.01, 0.01] } } }))
    const half = (hours: number) => panel.emit(greyOf(0.5), { ...steady, hours })[1]
    expect(half(1000) / half(0)).toBeCloseTo(0.5 ** 0.01, 2)
    expect(white(panel, { hours: 1000 })).toEqual(white(panel, {}))
  })

  test('from day to day white wanders by what the panel is known for, and is the same again on the same day', () => {
    const wander = { luminance: 0.004, blue: 0 }
    const panel = new PanelModel(plain('white-led', { time: { wander } }), 7)
    const days = Array.from({ length: 400 }, (_, d) => white(panel, { at: d * 86_400_000 })[1] / 340 - 1)
    const spread = Math.sqrt(days.reduce((sum, v) => sum + v * v, 0) / days.length)
    expect(spread).toBeGreaterThan(0.0035)
    expect(spread).toBeLessThan(0.0045)
    expect(white(panel, { at: 5e9 })).toEqual(white(panel, { at: 5e9 }))
    expect(white(new PanelModel(plain('white-led', { time: { wander } }), 8), { at: 5e9 })).not.toEqual(
      white(panel, { at: 5e9 }),
    )
  })
})

describe('control, limiter and surface', () => {
  test.each(Object.keys(shippedPanels))('%s: light rises with every step of the control', (name) => {
    const panel = new PanelModel(shippedPanel(name))
    const { min, max } = panel.traits.control
    let last = 0
    for (let backlight = min; backlight <= max; backlight++) {
      const [, y] = panel.emit([1, 1, 1], { ...steady, backlight })
      expect(y).toBeGreaterThan(last)
      last = y
    }
  })

  test('an OLED limits itself on large bright patches, and not on small or dark ones', () => {
    const panel = new PanelModel(shippedPanel('vesper-o25'))
    const y = (v: number, area: number) => panel.emit(greyOf(v), { ...steady, area })[1]
    expect(y(1, 0.25)).toBe(y(1, 0.1))
    expect(y(1, 1)).toBeLessThan(0.5 * y(1, 0.1))
    expect(y(0.5, 1)).toBe(y(0.5, 0.1))
    for (let area = 0.3; area < 1; area += 0.1) expect(y(1, area + 0.1)).toBeLessThan(y(1, area))
  })

  test('5×5 places of the screen make a smooth field, 1 at the centre', () => {
    const traits = shippedPanel('wren-f7')
    const panel = new PanelModel(traits)
    const at = (x: number, y: number): XYZ => panel.emit([1, 1, 1], steady, { x, y })
    const centre = at(0, 0)
    const places = [-1, -0.5, 0, 0.5, 1]
    const field = places.map((y) => places.map((x) => at(x, y)[1] / centre[1]))
    expect(field[2][2]).toBe(1)
    for (const row of field) for (const v of row) expect(v).toBeGreaterThan(0.75)
    // Second differences of a smooth field are small; the corners are darker than the centre by its falloff.
    for (const row of field)
      for (let i = 1; i < 4; i++) expect(Math.abs(row[i - 1] + row[i + 1] - 2 * row[i])).toBeLessThan(0.05)
    const corners = (field[0][0] + field[0][4] + field[4][0] + field[4][4]) / 4
    expect(corners).toBeCloseTo(1 - traits.surface.falloff, 2)
  })
})
