import { day } from '../basics/day'
import { panelKindNames } from '../register/panelKinds'
import { dueOf, dueRulesOf, usualDays, type MatteringDay } from './due'
import { checksFirst, visitCosts } from './visitCosts'

const now = Date.UTC(2026, 10, 2)
const last = { verdict: 'within' as const, at: now - 10 * day }
const rules = dueRulesOf({ studio: { everyDays: 30 } }, 'oled')

describe('the rules of a display', () => {
  it('are the nearest that say something, part by part', () => {
    const found = dueRulesOf(
      { studio: { everyDays: 60, accepted: 0.2 }, room: { everyDays: 20 }, display: { accepted: 0.05 } },
      'white-led',
    )
    expect(found.everyDays).toMatchObject({ value: 20, from: 'room' })
    expect(found.accepted).toEqual({ value: 0.05, from: 'display' })
    expect(found.rests).toBeNull()
  })

  it('are those of its kind of panel while nobody says anything, with the reason', () => {
    for (const kind of panelKindNames)
      expect(dueRulesOf({}, kind)).toMatchObject({
        everyDays: { value: usualDays[kind].days, from: 'usual', why: expect.stringMatching(/\.$/) },
        accepted: { value: 0.1, from: 'usual' },
      })
    expect(usualDays.oled.days).toBeLessThan(usualDays['white-led'].days)
  })
})

describe('the due line', () => {
  it('is the sooner of calendar and forecast, and says what the other would be', () => {
    const calendar = now + 20 * day
    expect(dueOf({ last, rules, leavesAt: null, days: [], now })).toMatchObject({
      at: calendar,
      by: 'calendar',
      forecast: null,
    })
    expect(dueOf({ last, rules, leavesAt: now + 5 * day, days: [], now })).toMatchObject({
      at: now + 5 * day,
      by: 'forecast',
      calendar,
    })
    expect(dueOf({ last, rules, leavesAt: now + 25 * day, days: [], now })).toMatchObject({
      at: calendar,
      by: 'calendar',
      forecast: now + 25 * day,
    })
  })

  it('does not ask for what was just proven within at once, however near it is to its edge', () => {
    const fresh = { ...last, at: now - day }
    expect(dueOf({ last: fresh, rules, leavesAt: now, days: [], now })).toMatchObject({
      at: now + 2 * day,
      by: 'forecast',
    })
    const daily = dueRulesOf({ display: { everyDays: 4 } }, 'oled')
    expect(dueOf({ last: fresh, rules: daily, leavesAt: now - day, days: [], now })).toMatchObject({ at: now })
  })

  it('is now for what was never judged, and was when it was found outside', () => {
    expect(dueOf({ last: null, rules, leavesAt: null, days: [], now })).toMatchObject({
      at: now,
      by: 'never judged',
      calendar: null,
    })
    expect(dueOf({ last: { ...last, verdict: 'outside' }, rules, leavesAt: null, days: [], now })).toMatchObject({
      at: last.at,
      by: 'outside',
    })
  })

  it('moves forward to a day that matters, unless the last judgement is fresh enough for it or the day is over', () => {
    const opening: MatteringDay = { id: 1, name: 'Opening', at: now + 8 * day, freshDays: 5 }
    const due = (change: Partial<MatteringDay>, at = last.at) =>
      dueOf({ last: { ...last, at }, rules, leavesAt: null, days: [{ ...opening, ...change }], now })
    expect(due({})).toMatchObject({ at: opening.at, by: 'day', notBefore: now + 3 * day, day: { name: 'Opening' } })
    expect(due({ freshDays: 20 })).toMatchObject({ by: 'calendar' })
    expect(due({}, now + 4 * day)).toMatchObject({ by: 'calendar' })
    expect(due({ at: now - day })).toMatchObject({ by: 'calendar' })
    expect(due({ at: now + 90 * day })).toMatchObject({ by: 'calendar' })
  })

  it('is none for a display that rests, whatever else is said', () => {
    const rests = { kind: 'paused' as const, why: 'In the store', by: 'Marit' }
    const resting = dueRulesOf({ display: { rests } }, 'oled')
    expect(dueOf({ last, rules: resting, leavesAt: now, days: [], now })).toMatchObject({ at: null, by: null })
  })
})

describe('what lateness costs', () => {
  const dayBounds = Array.from({ length: 8 }, (_, d) => now + d * day)
  const costs = (change: Partial<Parameters<typeof visitCosts>[0]> = {}) =>
    visitCosts({
      due: now + 2 * day,
      weight: 1,
      accepted: 0.1,
      chanceAt: () => 0.5,
      matters: false,
      dayBounds,
      ...change,
    })

  it('is nothing until the due line, then the days outside that are to be expected', () => {
    expect(costs().slice(0, 3)).toEqual([0, 0, 0])
    expect(costs()[3]).toBeCloseTo(0.5, 9)
    expect(costs()[7]).toBeCloseTo(0.5 * (5 + 7), 9)
  })

  it('counts what is late already, and never falls', () => {
    const late = costs({ due: now - 4 * day, chanceAt: (at) => (at > now ? 0.2 : 0.9) })
    expect(late[0]).toBeCloseTo(4 * 0.9, 9)
    for (let d = 1; d < late.length; d++) expect(late[d]).toBeGreaterThanOrEqual(late[d - 1])
  })

  it('is dearer for a weightier display and before a day that matters, and grows where nobody knows', () => {
    expect(costs({ weight: 3 })[5]).toBeCloseTo(3 * costs()[5], 9)
    expect(costs({ matters: true })[5]).toBeCloseTo(5 * costs()[5], 9)
    const unknown = costs({ chanceAt: () => null })
    expect(unknown[3]).toBeGreaterThan(0.1)
    expect(unknown[5] - unknown[4]).toBeGreaterThan(unknown[4] - unknown[3])
  })
})

test('a display is checked first unless it will fail anyway', () => {
  expect(checksFirst(0.1, 8, 40)).toBe(true)
  expect(checksFirst(0.8, 8, 40)).toBe(true)
  expect(checksFirst(0.9, 8, 40)).toBe(false)
  expect(checksFirst(1, 8, 40)).toBe(false)
})
