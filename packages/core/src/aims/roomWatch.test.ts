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
