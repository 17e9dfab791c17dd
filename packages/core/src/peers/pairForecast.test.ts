import { convertChromaticityToUv, convertXyzToUv } from '../color/chromaticity'
import { standardWhites } from '../color/encodings'
import type { PairDifference } from './differences'
import { forecastPair, type MemberRates } from './pairForecast'
import { usualPeerLimits } from './peerLimits'

const day = 86_400_000
const D65 = standardWhites.D65
const still = { slope: 0, deviation: 0 }
const rates = (light: number, z = 0, deviation = 0): MemberRates => ({
  light: { slope: light, deviation },
  x: still,
  z: { slope: z, deviation },
})
const pair = (luminance = 0, u = 0, v = 0): PairDifference => ({
  pair: [1, 2],
  average: 0,
  worst: { deltaE: 0, patch: '' },
  white: { luminance, u, v, deltaUv: Math.hypot(u, v) },
  greys: [],
})
const ahead = (one: MemberRates | null, other: MemberRates | null, from = pair(), now = 0) =>
  forecastPair(from, [one, other], usualPeerLimits, { white: D65, readAt: 0, now })

test('two of which one fades are told apart when it has lost what is allowed, from where they were', () => {
  // 3 % are allowed: ln 0.97 at a tenth of a thousandth a day.
  const alone = ahead(rates(0), rates(-1e-4))
  expect(alone).toMatchObject({ kind: 'crosses', by: 'luminance' })
  expect(Math.abs((alone as { at: number }).at / day + Math.log(0.97) / 1e-4)).toBeLessThan(8)
  // One that began brighter has further to go.
  const later = ahead(rates(0), rates(-1e-4), pair(0.01))
  expect((later as { at: number }).at).toBeGreaterThan((alone as { at: number }).at + 80 * day)
})

test('two that fade alike stay alike, however fast', () => {
  expect(ahead(rates(-4e-4, -2e-4), rates(-4e-4, -2e-4))).toEqual({ kind: 'steady' })
})

test('a white that yellows is told apart by its white, on the day on which it is that far away', () => {
  const found = ahead(rates(0), rates(0, -2e-4))
  expect(found).toMatchObject({ kind: 'crosses', by: 'white' })
  const days = (found as { at: number }).at / day
  const uv = convertChromaticityToUv(D65)
  const moved = (d: number) => {
    const z = ((1 - D65.x - D65.y) / D65.y) * Math.exp(-2e-4 * d)
    const { u, v } = convertXyzToUv([D65.x / D65.y, 1, z])
    return Math.hypot(u - uv.u, v - uv.v)
  }
  expect(moved(days)).toBeGreaterThan(0.002)
  expect(moved(days - 8)).toBeLessThan(0.002)
})

test('what is not sure has a span, and what nobody knows is said', () => {
  const sure = ahead(rates(0), rates(-2e-4))
  expect(sure).toMatchObject({ early: (sure as { at: number }).at, late: (sure as { at: number }).at })
  const unsure = ahead(rates(0, 0, 5e-5), rates(-2e-4, 0, 5e-5)) as { at: number; early: number; late: number | null }
  expect(unsure.early).toBeLessThan(unsure.at - 20 * day)
  expect(unsure.late === null || unsure.late > unsure.at + 20 * day).toBe(true)
  expect(ahead(null, rates(0))).toEqual({ kind: 'unknown' })
})

test('two that are apart already, or would be by now, are past it', () => {
  expect(ahead(null, null, pair(0.04))).toEqual({ kind: 'past' })
  expect(ahead(rates(0), rates(0), pair(0, 0.0021))).toEqual({ kind: 'past' })
  expect(ahead(rates(0), rates(-1e-3), pair(), 60 * day)).toEqual({ kind: 'past' })
})
