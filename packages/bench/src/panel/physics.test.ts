import { uniformFrom } from '@bichroma/core/basics'
import type { Triple } from '@bichroma/core/color'
import { shippedPanel, shippedPanels } from '../scenario/shipped'
import { wanderOn, warmth, wearAfter } from './ageing'
import { limitFactor } from './brightnessLimit'
import { channelLight } from './channelTone'
import { coupleDrives, supplyFactor } from './coupling'
import { surfaceFactors } from './surface'

const random = uniformFrom(9)
const some = (n: number) => Array.from({ length: n }, () => random())
const drives = Array.from({ length: 200 }, () => some(3) as unknown as Triple)

describe('tone', () => {
  test.each([1.6, 2.2, 2.9])('rises from nothing to all for any bow that a panel may have, exponent %d', (exponent) => {
    for (const bow of [-0.4, -0.3, 0, 0.3, 0.4]) {
      const light = Array.from({ length: 501 }, (_, i) => channelLight(i / 500, exponent, bow))
      expect([light[0], light[500]]).toEqual([0, 1])
      expect(light.every((v, i) => i === 0 || v >= light[i - 1])).toBe(true)
    }
  })

  test('without a bow is a power, and a bow leaves the middle where it is', () => {
    for (const v of some(50)) expect(channelLight(v, 2.2, 0)).toBeCloseTo(v ** 2.2, 12)
    for (const bow of [-0.3, 0.3]) expect(channelLight(0.5, 2.2, bow)).toBeCloseTo(0.5 ** 2.2, 12)
  })
})

describe('drives that couple', () => {
  test('without crosstalk arrive as they are, and greys always do', () => {
    for (const d of drives) expect(coupleDrives(d, 0)).toEqual(d)
    for (const v of some(50)) coupleDrives([v, v, v], 0.1).forEach((c) => expect(c).toBeCloseTo(v, 12))
  })

  test('are drawn towards their neighbours, never past them and never out of range', () => {
    for (const d of drives) {
      const coupled = coupleDrives(d, 0.1)
      coupled.forEach((v, c) => {
        const others = (d[(c + 1) % 3] + d[(c + 2) % 3]) / 2
        expect(v).toBeGreaterThanOrEqual(Math.max(0, Math.min(d[c], others)) - 1e-12)
        expect(v).toBeLessThanOrEqual(Math.min(1, Math.max(d[c], others)) + 1e-12)
      })
    }
  })

  test('a channel at half drive beside dark ones loses about the share that the panel file says', () => {
    for (const crosstalk of [0.005, 0.02, 0.05]) {
      const [r] = coupleDrives([0.5, 0, 0], crosstalk)
      const lost = 1 - (r / 0.5) ** 2.2
      expect(lost / crosstalk).toBeGreaterThan(0.85)
      expect(lost / crosstalk).toBeLessThan(1.1)
    }
  })
})

test('a supply sags by its load at full light, by nothing in the dark, and in proportion between', () => {
  expect(supplyFactor([1, 1, 1], 0.22)).toBeCloseTo(0.78, 12)
  expect(supplyFactor([0, 0, 0], 0.22)).toBe(1)
  for (const [r, g, b] of drives) expect(supplyFactor([r, g, b], 0.3)).toBeCloseTo(1 - 0.3 * ((r + g + b) / 3), 12)
})

describe('a display that limits its light', () => {
  const oled = shippedPanel('vesper-w48')
  const limited = { ...oled, brightnessLimit: { meanLight: 0.2, exponent: 0.7 } } as typeof oled

  test('leaves small patches alone, and never gives more light for a larger one', () => {
    expect(limitFactor(limited, [1, 1, 1], 0.1)).toBe(1)
    const areas = Array.from({ length: 100 }, (_, i) => (i + 1) / 100)
    const factors = areas.map((a) => limitFactor(limited, [1, 1, 1], a))
    expect(factors.every((f, i) => f <= 1 && (i === 0 || f <= factors[i - 1]))).toBe(true)
    // Its power still grows with the area: the exponent is below one.
    expect(areas.every((a, i) => i === 0 || a * factors[i] > areas[i - 1] * factors[i - 1])).toBe(true)
  })

  test('has no step where it begins', () => {
    const edge = limitFactor(limited, [1, 1, 1], 0.2 + 1e-9)
    expect(1 - edge).toBeLessThan(1e-6)
  })

  test('does nothing on one that has no limit', () => {
    const without = { ...oled, brightnessLimit: null } as typeof oled
    for (const d of drives) expect(limitFactor(without, d, 1)).toBe(1)
  })
})

describe('time', () => {
  const panel = shippedPanel('sorrel-l16')

  test('a panel loses light by the same share in every thousand hours, and none at first', () => {
    expect(wearAfter(panel, 0)).toEqual({ light: [1, 1, 1], exponents: [0, 0, 0] })
    const [a, b, c] = [1000, 2000, 3000].map((h) => wearAfter(panel, h).light[2])
    expect(b / a).toBeCloseTo(c / b, 12)
    expect(a).toBeCloseTo(Math.exp(-panel.time.ageing.light[2]), 12)
    // Half of it twice is the whole.
    expect(wearAfter(panel, 700).light[0] * wearAfter(panel, 300).light[0]).toBeCloseTo(
      wearAfter(panel, 1000).light[0],
      12,
    )
  })

  test('warming up ends at full light', () => {
    const minutes = [0, 5, 10, 20, 40, 80, 160]
    const all = minutes.map((m) => warmth(panel, m)[1])
    expect(all.every((v, i) => i === 0 || v > all[i - 1])).toBe(true)
    expect(all[0]).toBeCloseTo(1 - panel.time.warmUp.luminanceShort, 12)
    warmth(panel, 10_000).forEach((v) => expect(v).toBeCloseTo(1, 9))
  })

  test('a panel’s mood is another each day, the same for the same, and moves without a step', () => {
    const day = 86_400_000
    const wavering = { ...panel, time: { ...panel.time, wander: { luminance: 0.004, blue: 0.006 } } } as typeof panel
    const at = 20_000 * day + 5 * 3_600_000
    expect(wanderOn(wavering, 5, at)).toEqual(wanderOn(wavering, 5, at))
    expect(wanderOn(wavering, 5, at)).not.toEqual(wanderOn(wavering, 6, at))
    const [before, after] = [wanderOn(wavering, 5, 20_000 * day - 1), wanderOn(wavering, 5, 20_000 * day)]
    before.forEach((v, c) => expect(Math.abs(v - after[c])).toBeLessThan(1e-6))
    // Over many days it is about as large as the file says: the mean of two normal numbers at noon.
    const noons = Array.from({ length: 2000 }, (_, d) => wanderOn(wavering, 5, (d + 0.5) * day)[0] - 1)
    const spread = Math.sqrt(noons.reduce((s, v) => s + v * v, 0) / noons.length)
    expect(spread / (0.004 / Math.SQRT2)).toBeGreaterThan(0.9)
    expect(spread / (0.004 / Math.SQRT2)).toBeLessThan(1.1)
  })
})

test.each(Object.keys(shippedPanels) as (keyof typeof shippedPanels)[])(
  'the surface of %s is 1 at its centre, light everywhere, and smooth',
  (name) => {
    const panel = shippedPanel(name)
    expect(surfaceFactors(panel, { x: 0, y: 0 })).toEqual([1, 1, 1])
    for (let x = -1; x <= 1; x += 0.1)
      for (let y = -1; y <= 1; y += 0.1) {
        const here = surfaceFactors(panel, { x, y })
        const beside = surfaceFactors(panel, { x: x + 0.01, y })
        here.forEach((v, c) => {
          expect(v).toBeGreaterThan(0.5)
          expect(Math.abs(v - beside[c])).toBeLessThan(0.01)
        })
      }
  },
)
