import { baselinePatches, primariesAndSecondaries, provePatches, shapeColors, shapeLevels } from './patches'
import { expectedReadings, runProgress } from './pace'
import { runKinds } from './stages'

test('a run that has not begun is estimated whole; one that is done has nothing left', () => {
  const begun = runProgress('full', 'ready', 0, [])
  expect(begun.done).toBe(0)
  expect(begun.basis).toBe(0)
  const total = runKinds.full.stages.reduce((sum, s) => sum + expectedReadings[s], 0)
  expect(begun.secondsLeft).toBeGreaterThan(total)
  expect(runProgress('full', 'file', 0, [1500]).secondsLeft).toBeLessThan(10)
})

test('time left follows the measured pace', () => {
  const slow = runProgress('full', 'prove', 0, Array(50).fill(3000))
  const fast = runProgress('full', 'prove', 0, Array(50).fill(1000))
  expect(slow.secondsLeft / fast.secondsLeft).toBeGreaterThan(2.5)
  expect(slow.basis).toBe(50)
})

test('progress never runs backwards through a run, whatever number of readings a stage takes', () => {
  let last = 0
  for (const stage of runKinds.full.stages)
    for (let i = 0; i <= expectedReadings[stage] + 40; i += 5) {
      const { done, secondsLeft } = runProgress('full', stage, i, [1600])
      expect(done).toBeGreaterThanOrEqual(last)
      expect(done).toBeLessThanOrEqual(1)
      expect(secondsLeft).toBeGreaterThanOrEqual(0)
      last = done
    }
})

describe('patches', () => {
  const key = (rgb: readonly number[]) => rgb.join()
  const shaped = new Set([
    ...shapeColors.map((p) => key(p.rgb)),
    ...shapeLevels.filter((l) => l < 1).map((l) => key([l, l, l])),
  ])

  test('Prove has 24 or more that shaping never aimed at, and names are unique', () => {
    expect(
      provePatches.filter((p) => !shaped.has(key(p.rgb)) && p.name !== 'White' && p.name !== 'Black').length,
    ).toBeGreaterThanOrEqual(24)
    expect(provePatches.filter((p) => shaped.has(key(p.rgb)))).toEqual([])
    expect(new Set(provePatches.map((p) => p.name)).size).toBe(provePatches.length)
  })

  test('Baseline has nine greys, primaries, secondaries, white and black', () => {
    expect(baselinePatches.filter(({ rgb: [r, g, b] }) => r === g && g === b && r > 0 && r < 1)).toHaveLength(9)
    for (const p of [...primariesAndSecondaries, { rgb: [1, 1, 1] }, { rgb: [0, 0, 0] }])
      expect(baselinePatches.some((b) => key(b.rgb) === key(p.rgb))).toBe(true)
  })

  test('Shape has 17 levels or more, rising, up to white', () => {
    expect(shapeLevels.length).toBeGreaterThanOrEqual(17)
    shapeLevels.forEach((l, i) => expect(l).toBeGreaterThan(shapeLevels[i - 1] ?? 0))
    expect(shapeLevels[shapeLevels.length - 1]).toBe(1)
  })
})
