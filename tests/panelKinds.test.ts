import { PanelModel, settled, shippedPanels, readPanel, xyzOfLight, type PanelTraits } from '../packages/bench/src'
import type { Triple } from '../packages/core/src/color'
import { kindContradiction, panelKindNames, type FourColors, type PanelKind } from '../packages/core/src/register'
import { randomCase } from '../scripts/trial/randomPanel'

// What a panel's own colours say of its kind, held against panels that are made by spectra.

function colorsOf(traits: PanelTraits): FourColors {
  const panel = new PanelModel(traits, 1)
  const of = (drive: Triple) =>
    xyzOfLight(panel.lightOfDrive(drive, { ...settled, backlight: traits.control.max, at: 0, area: 0.0125 }))
  return { white: of([1, 1, 1]), red: of([1, 0, 0]), green: of([0, 1, 0]), blue: of([0, 0, 1]) }
}

const random = Array.from({ length: 200 }, (_, i) => randomCase(i + 1).panel)

test.each(Object.entries(shippedPanels))('%s is what it is registered as', (_, file) => {
  const panel = readPanel(file)
  expect(kindContradiction(colorsOf(panel), panel.light.source)).toBeNull()
})

test('a panel that is what it says is seldom doubted, wherever its peaks lie', () => {
  const doubted = random.filter((p) => kindContradiction(colorsOf(p), p.light.source) !== null)
  expect(doubted.length).toBeLessThan(0.04 * random.length)
})

test.each([
  ['white-led', 'rgb-led'],
  ['white-led', 'quantum-dot'],
  ['white-led', 'wide-gamut-led'],
  ['rgb-led', 'white-led'],
  ['rgb-led', 'oled-white'],
  ['cold-cathode', 'quantum-dot'],
  ['oled-white', 'oled'],
  ['oled', 'oled-white'],
] as const satisfies readonly (readonly [PanelKind, PanelKind])[])(
  'of %s, registered as %s: mostly found',
  (is, said) => {
    const own = random.filter((p) => p.light.source === is)
    const found = own.filter((p) => kindContradiction(colorsOf(p), said))
    expect(own.length).toBeGreaterThan(12)
    expect(found.length / own.length).toBeGreaterThan(0.7)
  },
)

test('says why, and what it may be instead', () => {
  const panel = random.find((p) => p.light.source === 'rgb-led' && p.light.shiftNm.every((s) => Math.abs(s!) < 2.5))!
  const sentence = kindContradiction(colorsOf(panel), 'white-led')!
  expect(sentence).toMatch(
    /^Registered as white LED, but its red lies at u′ 0\.5\d\d, where such panels have 0\.43 to 0\.50\. It may be .*RGB LED/,
  )
  const white = random.find((p) => p.light.source === 'oled-white' && p.light.whiteSubpixel > 0.4)!
  expect(kindContradiction(colorsOf(white), 'oled')).toMatch(
    /its white is brighter than its red, green and blue together/,
  )
})

test('of light that is like no kind says that too', () => {
  const colors = colorsOf(random.find((p) => p.light.source === 'quantum-dot')!)
  const strange = { ...colors, red: colors.green, green: colors.red }
  for (const kind of panelKindNames)
    expect(kindContradiction(strange, kind)).toMatch(/It is like no kind that is known here$/)
})
