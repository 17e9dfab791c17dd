import type { Triple } from '../color/matrix3'
import { nearestSent, signalThatArrives } from './signalCodes'

const grey = (v: number): Triple => [v, v, v]

test.each([8, 10, 12])('limited range of %d bits: every code that it has is reached, and arrives as it is', (bits) => {
  // ITU-R BT.709-6: black at 16 and white at 235, times what the further bits make of them.
  const codes = 219 * 2 ** (bits - 8)
  const limited = { bits, range: 'limited' } as const
  const reached = new Set<number>()
  for (let n = 0; n < 2 ** bits; n++)
    reached.add(Math.round(codes * signalThatArrives(grey(n / (2 ** bits - 1)), limited)[0]))
  expect([...reached].sort((a, b) => a - b)).toEqual(Array.from({ length: codes + 1 }, (_, k) => k))
  for (let k = 0; k <= codes; k++) {
    expect(nearestSent(grey(k / codes), limited)[0]).toBeCloseTo(k / codes, 12)
    expect(signalThatArrives(nearestSent(grey(k / codes), limited), limited)[0]).toBeCloseTo(k / codes, 12)
  }
})

test('nothing is nearer than what is called nearest, and both ends stay where they are', () => {
  const limited = { bits: 8, range: 'limited' } as const
  for (let i = 0; i <= 1000; i++) {
    const v = i / 1000
    expect(Math.abs(nearestSent(grey(v), limited)[0] - v)).toBeLessThanOrEqual(0.5 / 219 + 1e-12)
    // By way of the workstation's values it may be half of one of those further.
    expect(Math.abs(signalThatArrives(grey(v), limited)[0] - v)).toBeLessThanOrEqual(0.5 / 219 + 0.5 / 255 + 1e-12)
  }
  for (const range of ['full', 'limited'] as const)
    for (const end of [0, 1]) expect(nearestSent(grey(end), { bits: 8, range })).toEqual(grey(end))
  const [below, above, middle] = nearestSent([-1, 2, 0.5], limited)
  expect([below, above]).toEqual([0, 1])
  expect(middle).toBeCloseTo(110 / 219, 12)
})

test('full range arrives as it was drawn', () => {
  for (let n = 0; n < 256; n++)
    expect(signalThatArrives(grey(n / 255), { bits: 8, range: 'full' })[0]).toBeCloseTo(n / 255, 15)
})
