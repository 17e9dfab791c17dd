import { resolveAim, targetXyz } from '../aims/aim'
import { computeMetrics } from '../aims/metrics'
import { deltaE2000 } from '../color/deltaE2000'
import { checkPlans } from '../runs/checkPlans'
import { compareMetrics } from './compare'
import { kindOfPatch, patchKinds } from './patchKinds'

const aim = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 120,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  { white: { x: 0.3, y: 0.32 }, primaries: null as never, black: [0.1, 0.1, 0.1] },
)
const shown = (blue: number, luminance = 1) =>
  computeMetrics(
    checkPlans.usual.patches.map(({ name, rgb }) => {
      const [x, y, z] = targetXyz(aim, rgb)
      return { name, rgb, xyz: [x * luminance, y * luminance, z * blue * luminance] as const }
    }),
    aim,
  )
const number = (text: string) => Number(text.replace('−', '-').replace('+', ''))

test('differences are the second less the first, of the figures as shown; the other way round they turn their sign', () => {
  const [a, b] = [shown(1.01), shown(0.95, 0.98)]
  const there = compareMetrics(a, b, 'de2000')
  const back = compareMetrics(b, a, 'de2000')
  there.figures.forEach((f, i) => {
    expect(back.figures[i].difference === '–' || number(back.figures[i].difference)).toBe(
      f.difference === '–' || -number(f.difference) + 0,
    )
    if (f.difference !== '–') expect(number(f.second) - number(f.first)).toBeCloseTo(number(f.difference), 9)
  })
  const luminance = there.figures.find((f) => f.name.startsWith('Luminance'))!
  expect(luminance).toMatchObject({ first: '120.0', second: '117.6', difference: '−2.4', nearer: 'first' })
  expect(there.figures.find((f) => f.name === 'Average ΔE2000')!.nearer).toBe('first')
})

test('patches are matched by their signal, the furthest apart first; what only one has read is counted', () => {
  const [a, whole] = [shown(1), shown(0.97)]
  const b = { ...whole, patches: whole.patches.slice(5).reverse() }
  const { patches, unmatched } = compareMetrics(a, b, 'de2000')
  expect(patches).toHaveLength(34)
  expect(unmatched).toBe(5)
  expect(patches.map((p) => p.apart)).toEqual(patches.map((p) => p.apart).sort((x, y) => y - x))
  for (const p of patches) {
    expect(p.change).toBeCloseTo(p.secondOff - p.firstOff, 12)
    expect(p.apart).toBeCloseTo(deltaE2000(p.first, p.second), 9)
  }
  expect(compareMetrics(a, a, 'deitp').patches.every((p) => p.apart < 1e-9 && Math.abs(p.change) < 1e-9)).toBe(true)
})

test('displays that round signals to 8 and to 10 bits have read the same patches', () => {
  const rounded = (bits: number) => {
    const top = 2 ** bits - 1
    const m = shown(1)
    const round = (v: number) => Math.round(v * top) / top
    return { ...m, patches: m.patches.map((p) => ({ ...p, rgb: p.rgb.map(round) as unknown as typeof p.rgb })) }
  }
  expect(compareMetrics(rounded(8), rounded(10), 'de2000')).toMatchObject({ unmatched: 0 })
  expect(rounded(8).patches.filter((p) => kindOfPatch(p.rgb) === 'natural')).toHaveLength(14)
})

test('every patch is of one kind', () => {
  const counts = Object.fromEntries(patchKinds.map((k) => [k, 0]))
  for (const { rgb } of checkPlans.most.patches) counts[kindOfPatch(rgb)]++
  expect(counts).toMatchObject({ primary: 3, secondary: 3, natural: 14 })
  expect(counts.grey).toBe(2 + 9 + 4)
  expect(counts.other).toBeGreaterThan(60)
  expect([kindOfPatch([0.55, 0, 0]), kindOfPatch([0.75, 0.25, 0.25]), kindOfPatch([0.3, 0.3, 0.3])]).toEqual([
    'mixed',
    'mixed',
    'grey',
  ])
})
