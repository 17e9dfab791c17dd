import { uniformFrom } from '../basics/random'
import {
  followedLuminance,
  followLight,
  hourOf,
  isOutTooLong,
  isSameLevel,
  levelChange,
  lightHoldsRun,
  lightLevel,
  lightPattern,
  lightStanding,
  watchEveryMs,
  watchSilenceMs,
  worthFollowing,
  type LightExcursion,
  type LightHour,
} from './roomWatch'
import { luminanceForRoom, roomLightProblem } from './roomLight'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour
const range = { lux: { from: 250, to: 460 } }
const start = Date.UTC(2026, 10, 2)

/** Follows a list of readings, five minutes apart unless they say otherwise. */
function follow(lux: readonly number[], gaps: readonly number[] = []) {
  let excursion: LightExcursion | null = null
  let last: number | null = null
  const ended: { from: number; until: number }[] = []
  let at = start
  for (const [i, illuminanceLux] of lux.entries()) {
    at += gaps[i] ?? watchEveryMs
    const step = followLight(excursion, { at, illuminanceLux, kelvin: null }, range, last)
    if (step.ended) ended.push({ from: step.ended.from, until: step.ended.until })
    excursion = step.excursion
    last = at
  }
  return { excursion, ended, at }
}

describe('light that is out of its band', () => {
  test('begins with the first reading out, ends with two within, and keeps the farthest', () => {
    const { ended, excursion } = follow([300, 470, 510, 465, 440, 430, 300])
    expect(excursion).toBeNull()
    expect(ended).toEqual([{ from: start + 2 * watchEveryMs, until: start + 5 * watchEveryMs }])
    expect(follow([300, 470, 510, 465]).excursion).toMatchObject({ worst: { illuminanceLux: 510 }, backSince: null })
    // Too dark by a half weighs more than too bright by a tenth.
    expect(follow([300, 506, 120, 500]).excursion!.worst.illuminanceLux).toBe(120)
  })
  test('fluttering about an edge is one time, not many', () => {
    const { ended, excursion } = follow([470, 450, 470, 450, 470, 450])
    expect(ended).toEqual([])
    expect(excursion).toMatchObject({ from: start + watchEveryMs, backSince: start + 6 * watchEveryMs })
  })
  test('a silence ends it with the last reading: nobody knows what was since', () => {
    const { ended, excursion, at } = follow([470, 480, 490], [watchEveryMs, watchEveryMs, watchSilenceMs + 1])
    expect(ended).toEqual([{ from: start + watchEveryMs, until: start + 2 * watchEveryMs }])
    expect(excursion!.from).toBe(at)
  })
  test('a room without a band has none, and one whose band was taken away has none any more', () => {
    const open = follow([470]).excursion
    expect(
      followLight(open, { at: start + 10 * minute, illuminanceLux: 900, kelvin: null }, null, start + 5 * minute),
    ).toMatchObject({
      excursion: null,
      ended: { from: start + 5 * minute, until: start + 5 * minute },
    })
  })
  test('over 500 random days: every reading out of the band lies in a time, no time is empty, and none overlap @long', () => {
    const random = uniformFrom(7)
    for (let n = 0; n < 500; n++) {
      const lux = Array.from({ length: 60 }, () => 200 + 400 * random())
      const gaps = lux.map(() => (random() < 0.05 ? 3 * hour : watchEveryMs))
      const { ended, excursion } = follow(lux, gaps)
      let at = start
      const times = [...ended, ...(excursion ? [{ from: excursion.from, until: Infinity }] : [])]
      for (const [i, one] of lux.entries()) {
        at += gaps[i]
        if (roomLightProblem({ illuminanceLux: one, kelvin: null }, range))
          expect(times.some((t) => t.from <= at && at <= t.until)).toBe(true)
      }
      for (const [i, t] of times.entries()) {
        expect(t.until).toBeGreaterThanOrEqual(t.from)
        if (i > 0) expect(t.from).toBeGreaterThan(times[i - 1].from)
        if (i > 0) expect(t.from).toBeGreaterThanOrEqual(times[i - 1].until)
      }
    }
  })
  test('temperature counts in mired: 500 K off at 3,000 K is farther than at 9,000 K', () => {
    const kelvins = { lux: { from: 0, to: 1000 }, kelvin: { from: 3000, to: 9000 } }
    const reading = (kelvin: number, at: number) => ({ at, illuminanceLux: 300, kelvin })
    const low = followLight(null, reading(2500, start), kelvins, start - watchEveryMs)
    const both = followLight(low.excursion, reading(9500, start + watchEveryMs), kelvins, start)
    expect(both.excursion!.worst.kelvin).toBe(2500)
  })
  test('it is told only after what the room allows, and not by a reading that is within', () => {
    const { excursion, at } = follow([300, 470, 480, 490, 470])
    expect(isOutTooLong(excursion!, at, 15)).toBe(true)
    expect(isOutTooLong(excursion!, at, 16)).toBe(false)
    const back = follow([300, 470, 480, 490, 470, 400])
    expect(isOutTooLong(back.excursion!, back.at, 15)).toBe(false)
  })
})

test('how light stands: unknown after a silence, else by what is out and told', () => {
  const watch = { readAt: start, outSince: null, toldAt: null }
  expect(lightStanding({ ...watch, readAt: null }, start)).toBe('unknown')
  expect(lightStanding(watch, start + watchSilenceMs)).toBe('within')
  expect(lightStanding(watch, start + watchSilenceMs + 1)).toBe('unknown')
  expect(lightStanding({ ...watch, outSince: start }, start)).toBe('out')
  expect(lightStanding({ ...watch, outSince: start, toldAt: start }, start)).toBe('out too long')
})

const hourly = (at: number, lux: number, outside = 0): LightHour => ({
  at,
  readings: 12,
  lux,
  least: lux - 10,
  most: lux + 10,
  kelvin: 4000,
  outside,
})

describe('by weekday and hour', () => {
  test('cells are by the clock of the zone, also where it is off by half an hour, and across daylight saving', () => {
    // 2 November 2026 is a Monday; 04:00 UTC is 09:30 in Kolkata, by the middle of the hour 10.
    const pattern = lightPattern([hourly(start + 4 * hour, 300)], 'Asia/Kolkata')
    expect(pattern[0][10]).toMatchObject({ lux: 300, readings: 12 })
    // Clocks went back on 25 October 2026: the same hour of the clock is another of UTC before and after.
    const winter = Date.UTC(2026, 9, 26, 8)
    const summer = Date.UTC(2026, 9, 19, 7)
    const oslo = lightPattern([hourly(winter, 400), hourly(summer, 200)], 'Europe/Oslo')
    expect(oslo[0][9]).toEqual({ readings: 24, lux: 300, least: 190, most: 410, outside: 0 })
    expect(oslo.flat().filter(Boolean)).toHaveLength(1)
  })
  test('means are weighted by readings, and the share outside too', () => {
    const one = { ...hourly(start, 100, 6), readings: 6 }
    const [[cell]] = lightPattern([one, hourly(start + 7 * day, 400, 0)], 'UTC')
    expect(cell!.lux).toBeCloseTo((6 * 100 + 12 * 400) / 18, 9)
    expect(cell!.outside).toBeCloseTo(6 / 18, 9)
  })
})

describe('the level that aims follow', () => {
  const counts = (at: number) => {
    const h = new Date(at).getUTCHours()
    return h >= 9 && h < 18
  }
  const days = (n: number, lux: (d: number, h: number) => number) =>
    Array.from({ length: n * 24 }, (_, i) => hourly(start + i * hour, lux(Math.floor(i / 24), i % 24)))
  const at = (n: number) => ({ now: start + n * day, zone: 'UTC', counts })

  test('is the middle of the working hours of the last fortnight, whatever the nights are', () => {
    const hours = days(10, (d, h) => (h >= 9 && h < 18 ? 400 + 10 * d : 5))
    const level = lightLevel(hours, at(10))!
    expect(level).toMatchObject({ days: 10, hours: 90, lux: 450 })
    expect(level.from).toBeCloseTo(420, 9)
    expect(level.to).toBeCloseTo(470, 9)
    // Older days have no say.
    expect(lightLevel([...days(3, () => 2000), ...hours], { ...at(10), now: start + 17.5 * day })!.lux).toBeLessThan(
      500,
    )
  })
  test('too few days or hours tell nothing', () => {
    expect(
      lightLevel(
        days(4, () => 400),
        at(4),
      ),
    ).toBeNull()
    const seldom = days(8, () => 400).filter((h) => [9, 10].includes(new Date(h.at).getUTCHours()))
    expect(lightLevel(seldom, at(8))).toBeNull()
  })
  test('is proposed where white would change by 8 % or more, and made only within what was allowed', () => {
    const level = { lux: 430, from: 400, to: 460, days: 10, hours: 90 }
    const known = { agreed: 510, declined: null, allowed: null }
    expect(levelChange(level, known)).toEqual({ kind: 'propose', lux: 430 })
    expect(levelChange(level, { ...known, agreed: 440 })).toEqual({ kind: 'none' })
    expect(levelChange(level, { ...known, allowed: { from: 400, to: 600 } })).toEqual({ kind: 'make', lux: 430 })
    expect(levelChange(level, { ...known, allowed: { from: 450, to: 600 } })).toEqual({ kind: 'propose', lux: 430 })
    // What was declined is not asked again, until the light is another once more.
    expect(levelChange(level, { ...known, declined: 425 })).toEqual({ kind: 'none' })
    expect(levelChange({ ...level, lux: 370, from: 340, to: 400 }, { ...known, declined: 425 }).kind).toBe('propose')
    expect(levelChange({ ...level, from: 150, to: 700 }, known)).toEqual({ kind: 'unsteady' })
    // Where nobody agreed on a level, one is proposed and never made.
    expect(levelChange(level, { ...known, agreed: null, allowed: { from: 400, to: 600 } }).kind).toBe('propose')
  })
  test('is told from five days of three hours each, the first instant of a fortnight on, and not what lies ahead', () => {
    const some = (n: number, each: number, begin = start) =>
      Array.from({ length: n * each }, (_, i) =>
        hourly(begin + Math.floor(i / each) * day + (9 + (i % each)) * hour, 300 + 50 * (i % 2)),
      )
    expect(lightLevel(some(5, 3), at(5))).toMatchObject({ days: 5, hours: 15 })
    expect(lightLevel(some(4, 9), at(4))).toBeNull()
    expect(lightLevel(some(5, 2), at(5))).toBeNull()
    const edge = { ...at(14), now: start + 14 * day + 9 * hour }
    expect(lightLevel(some(14, 3), edge)).toMatchObject({ hours: 42 })
    expect(lightLevel(some(14, 3), { ...edge, now: edge.now + 1 })).toMatchObject({ hours: 39, days: 13 })
    const now = start + 6 * day + 10 * hour
    expect(lightLevel(some(9, 3), { ...at(0), now })!.hours).toBe(18)
    // The third hour of a day makes it count, once it has begun.
    expect(lightLevel(some(9, 3), { ...at(0), now: now + hour })!.hours).toBe(18)
    expect(lightLevel(some(9, 3), { ...at(0), now: now + hour + 1 })!.hours).toBe(21)
  })
  test('its quartiles are those of its hours, in whatever order they were read', () => {
    const lux = [500, 90, 410, 300, 120, 1000, 250, 700, 333, 95, 640, 215, 480, 160, 505]
    const hours = lux.map((v, i) => hourly(start + Math.floor(i / 3) * day + (9 + (i % 3)) * hour, v))
    const sorted = [...lux].sort((a, b) => a - b)
    const level = lightLevel(hours, at(5))!
    expect(level.from).toBeCloseTo((sorted[3] + sorted[4]) / 2, 9)
    expect(level.to).toBeCloseTo((sorted[10] + sorted[11]) / 2, 9)
    // Two digits: nobody reads 333 lx off a wall.
    expect(level.lux).toBe(330)
    const dark = lux.map((_, i) => hourly(start + Math.floor(i / 3) * day + (9 + (i % 3)) * hour, 0))
    expect(lightLevel(dark, at(5))).toMatchObject({ lux: 0, from: 0, to: 0 })
  })
  test('is made at the very ends of what is allowed; light twice as bright at times as at others is still steady', () => {
    const level = { lux: 430, from: 300, to: 600, days: 10, hours: 90 }
    const known = { agreed: 800, declined: null, allowed: { from: 430, to: 430 } }
    expect(levelChange(level, known)).toEqual({ kind: 'make', lux: 430 })
    expect(levelChange(level, { ...known, allowed: { from: 431, to: 900 } }).kind).toBe('propose')
    expect(levelChange(level, { ...known, allowed: { from: 100, to: 429 } }).kind).toBe('propose')
    expect(levelChange({ ...level, to: 601 }, known).kind).toBe('unsteady')
    // Both quartiles come to the least of a display: how they differ does not matter.
    expect(levelChange({ ...level, lux: 430, from: 20, to: 200 }, known).kind).toBe('make')
  })
  test('is the same up to 8 % of white', () => {
    // 1,000 cd/m², and 7.9 and 8.1 % more.
    const lux = (white: number) => (white * Math.PI) / 0.85
    expect(isSameLevel(lux(1000), lux(1079))).toBe(true)
    expect(isSameLevel(lux(1079), lux(1000))).toBe(true)
    expect(isSameLevel(lux(1000), lux(1081))).toBe(false)
    expect(isSameLevel(lux(1081), lux(1000))).toBe(false)
    expect(worthFollowing(100, 103.9)).toBe(false)
    expect(worthFollowing(100, 104.1)).toBe(true)
    expect(worthFollowing(104.1, 100)).toBe(true)
  })
  test('dark rooms come to the least of a display, so no change among them counts', () => {
    expect(isSameLevel(20, 250)).toBe(true)
    expect(
      levelChange({ lux: 20, from: 5, to: 60, days: 9, hours: 80 }, { agreed: 60, declined: null, allowed: null }).kind,
    ).toBe('none')
  })
  test('aims that follow are as bright as paper, and no less than their own least', () => {
    expect(followedLuminance(100, 510)).toBe(luminanceForRoom(510))
    expect(followedLuminance(160, 510)).toBe(160)
    expect(worthFollowing(138, 116)).toBe(true)
    expect(worthFollowing(138, 135)).toBe(false)
  })
})

test('light is farther out the farther it is beyond either edge, by light or by colour', () => {
  const both = { lux: { from: 200, to: 400 }, kelvin: { from: 4000, to: 5000 } }
  type Reading = readonly [lux: number, kelvin: number | null]
  /** Which of two readings, one after the other, is kept as the farthest. */
  const farther = (first: Reading, second: Reading) => {
    const [a, b] = [first, second].map(([illuminanceLux, kelvin]) => ({ illuminanceLux, kelvin }))
    const open = followLight(null, { ...a, at: start }, both, null).excursion
    const { worst } = followLight(open, { ...b, at: start + minute }, both, start).excursion!
    return worst.illuminanceLux === a.illuminanceLux && worst.kelvin === a.kelvin ? 'first' : 'second'
  }
  expect(farther([800, 4500], [900, 4500])).toBe('second')
  expect(farther([900, 4500], [800, 4500])).toBe('first')
  expect(farther([100, 4500], [90, 4500])).toBe('second')
  // As far out as the one before is no farther.
  expect(farther([800, null], [800, 4500])).toBe('first')
  // 2 times too bright is 0.69 steps; 3,000 K lies 83 mired below 4,000 K, 3,500 K 36.
  expect(farther([800, 4500], [300, 3000])).toBe('second')
  expect(farther([800, 4500], [300, 3500])).toBe('first')
  expect(farther([300, 3000], [800, 4500])).toBe('first')
  // 6,500 K lies 46 mired above 5,000 K, 20,000 K 150.
  expect(farther([800, 4500], [300, 6500])).toBe('first')
  expect(farther([800, 4500], [300, 20_000])).toBe('second')
  expect(farther([300, 3000], [300, 6500])).toBe('first')
  // Without a temperature the light alone counts; in the dark it is not endlessly far.
  expect(farther([800, null], [300, 3000])).toBe('second')
  expect(farther([0, 4500], [0.1, 4500])).toBe('first')
})

test('two within a silence’s length belong together; one that comes later begins anew', () => {
  const open = followLight(null, { at: start, illuminanceLux: 900, kelvin: null }, range, null).excursion
  const next = (after: number) =>
    followLight(open, { at: start + after, illuminanceLux: 800, kelvin: null }, range, start)
  expect(next(watchSilenceMs)).toMatchObject({ ended: null, excursion: { from: start } })
  expect(next(watchSilenceMs + 1)).toMatchObject({
    ended: { until: start },
    excursion: { from: start + watchSilenceMs + 1 },
  })
})

test('only runs that the light spoils wait for it, unless the room holds all', () => {
  const run = { holdsRuns: 'needed', aimFollows: false, readFromStand: false } as const
  expect(lightHoldsRun(run)).toBe(false)
  expect(lightHoldsRun({ ...run, aimFollows: true })).toBe(true)
  expect(lightHoldsRun({ ...run, readFromStand: true })).toBe(true)
  expect(lightHoldsRun({ ...run, holdsRuns: 'all' })).toBe(true)
})

test('hours begin on the full hour of UTC', () => {
  expect(hourOf(start + 59 * minute)).toBe(start)
  expect(hourOf(start + hour)).toBe(start + hour)
})
