import { resolveAim, targetXyz } from '../aims/aim'
import { judge } from '../aims/limits'
import { computeMetrics } from '../aims/metrics'
import { provePatches } from '../runs/patches'
import { cssOfLab } from './cssOfLab'
import { formatDate, formatLuminance, formatSigned, formatTemperature } from './figures'
import { writeReport } from './report'

const aim = resolveAim(
  {
    white: { kind: 'standard', name: 'D50' },
    luminance: 90,
    toneResponse: { kind: 'L*' },
    primaries: { kind: 'standard', name: 'opRGB' },
  },
  { white: { x: 0.3, y: 0.3 }, primaries: null as never, black: [0.1, 0.1, 0.1] },
)
const metrics = computeMetrics(
  provePatches.map(({ name, rgb }) => ({ name, rgb, xyz: targetXyz(aim, rgb) })),
  aim,
)
const facts = {
  title: 'Full run, <b>Sedge & Co</b>',
  display: 'Quillon Q27',
  workstation: 'sedge-02',
  instrument: 'Colorimeter',
  by: 'Marit "M" Oyen',
  at: Date.UTC(2026, 10, 24),
  dueAt: Date.UTC(2026, 11, 22),
  aimName: 'Atlas print',
  metrics,
  judgement: judge(metrics, { rules: [{ metric: 'worstDeltaE', near: 1, hard: 2 }] }),
  profileName: 'p.icc',
}

test('a report holds every patch, escapes what people typed, asks for nothing from outside, and is reproducible', () => {
  const html = writeReport(facts)
  for (const { name } of provePatches) expect(html).toContain(name)
  expect(html).toContain('&lt;b&gt;Sedge &amp; Co&lt;/b&gt;')
  expect(html).not.toContain('<b>Sedge')
  expect(html).not.toMatch(/src=|href=|<script|url\(/)
  expect(html).toContain('24 Nov 2026')
  expect(writeReport(facts)).toBe(html)
})

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
