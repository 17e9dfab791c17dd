import { baselinePatches, primariesAndSecondaries, provePatches, provePatchesOf, shapeColors } from './patches'
import { plannedReadings, runProgress } from './pace'
import { matrixParts } from './shapeParts'
import { runKindNames, runKinds } from './stages'

test('a run that has not begun is estimated whole; one that is done has nothing left', () => {
  const begun = runProgress('full', 'ready', 0, [])
  expect(begun.done).toBe(0)
  expect(begun.basis).toBe(0)
  const total = runKinds.full.stages.reduce((sum, s) => sum + plannedReadings('full')[s], 0)
  expect(begun.secondsLeft).toBeGreaterThan(total)
  expect(runProgress('full', 'file', 0, [1500]).secondsLeft).toBeLessThan(10)
})

test('time left follows the measured pace', () => {
  const slow = runProgress('full', 'prove', 0, Array(50).fill(3000))
  const fast = runProgress('full', 'prove', 0, Array(50).fill(1000))
  expect(slow.secondsLeft / fast.secondsLeft).toBeGreaterThan(2.5)
  expect(slow.basis).toBe(50)
})

test.each(runKindNames)(
  'progress never runs backwards through a run, however many readings a stage takes: %s',
  (kind) => {
    let last = 0
    for (const stage of runKinds[kind].stages)
      for (let i = 0; i <= plannedReadings(kind)[stage] + 40; i += 5) {
        const { done, secondsLeft } = runProgress(kind, stage, i, [1600])
        expect(done).toBeGreaterThanOrEqual(last)
        expect(done).toBeLessThanOrEqual(1)
        expect(secondsLeft).toBeGreaterThanOrEqual(0)
        last = done
      }
  },
)

describe('patches', () => {
  const key = (rgb: readonly number[]) => rgb.join()
  const shaped = new Set([
    ...shapeColors.map((p) => key(p.rgb)),
    ...Object.values(matrixParts).flatMap(({ levels }) => levels.filter((l) => l < 1).map((l) => key([l, l, l]))),
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

  test.each(Object.entries(matrixParts))('the grey levels of Shape rise up to white: %s', (_, { levels }) => {
    expect(levels.length).toBeGreaterThanOrEqual(10)
    levels.forEach((l, i) => expect(l).toBeGreaterThan(levels[i - 1] ?? 0))
    expect(levels[levels.length - 1]).toBe(1)
  })

  test('a spot run is a handful, all among those of a check', () => {
    const spot = provePatchesOf('spot')
    expect(spot.length).toBeLessThanOrEqual(10)
    const check = new Set(provePatchesOf('check').map((p) => key(p.rgb)))
    for (const p of spot) expect(check.has(key(p.rgb))).toBe(true)
  })
})

test('a display that is slow to write is estimated so', () => {
  const [quick, serial] = [2, 900].map(
    (s) => runProgress('full', 'ready', 0, [], plannedReadings('full'), s).secondsLeft,
  )
  expect(serial - quick).toBeCloseTo(898, 6)
})

test('a stage that tells its own progress is believed', () => {
  const at = (share: number) => runProgress('full', 'load', 0, [1000], plannedReadings('full'), 600, share)
  expect(at(0).secondsLeft - at(1).secondsLeft).toBeCloseTo(600, 6)
  expect(at(0.5).done).toBeGreaterThan(at(0.1).done)
})
