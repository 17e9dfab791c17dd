import fc from 'fast-check'
import { planFaults, planRounds } from '../plan'
import { atTime, daysAfter, dayStart, localDate, weekdayOf } from './localDays'
import { planStudio, whatIf } from './planStudio'
import type { RoundsFacts, RoundsVisit } from './studioFacts'
import { walkBetween } from './studioFacts'
import { studioProblem } from './studioProblem'
import { useSpans, useTimeNames, workSpans, type StudioHours } from './useTimes'
import { whatBreaks, type WeekHouse, type WeekVisit } from './whatBreaks'

const hour = 3_600_000
const workdays = (from: string, to: string) => [0, 1, 2, 3, 4, 5, 6].map((d) => (d < 5 ? { from, to } : null))
const hours: StudioHours = {
  zone: 'Europe/Oslo',
  desk: workdays('09:00', '17:30'),
  lunch: { from: '12:00', to: '12:45' },
  closed: [{ date: '2026-12-24', name: 'Lantern Eve' }],
}
const utc = (text: string) => Date.parse(text)

describe('days in a zone', () => {
  it('have 23 hours where clocks go forward and 25 where they go back', () => {
    const length = (date: string) => dayStart(daysAfter(date, 1), 'Europe/Oslo') - dayStart(date, 'Europe/Oslo')
    expect(length('2026-03-29') / hour).toBe(23)
    expect(length('2026-10-25') / hour).toBe(25)
    expect(length('2026-11-27') / hour).toBe(24)
  })

  it('give the instant of a time of day as the platform’s own calendar reads it, in any zone and on any day @long', () => {
    const zones = ['Europe/Oslo', 'America/St_Johns', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'Pacific/Apia', 'UTC']
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: 0, max: 1500 }),
        fc.integer({ min: 4, max: 23 }),
        fc.integer({ min: 0, max: 59 }),
        (zone, days, h, m) => {
          const date = daysAfter('2026-01-01', days)
          const time = `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`
          const at = atTime(date, time, zone)
          const parts = Object.fromEntries(
            new Intl.DateTimeFormat('en-GB', {
              timeZone: zone,
              year: 'numeric',
              month: '2-digit',
              day: '2-digit',
              hour: '2-digit',
              minute: '2-digit',
              hourCycle: 'h23',
            })
              .formatToParts(at)
              .map((p) => [p.type, p.value]),
          )
          expect(`${parts.year}-${parts.month}-${parts.day} ${parts.hour}:${parts.minute}`).toBe(`${date} ${time}`)
          expect(localDate(at, zone)).toBe(date)
        },
      ),
      { numRuns: 400, seed: 1 },
    )
  })

  it('know their weekday', () => {
    expect(weekdayOf('2026-11-27')).toBe(4)
    expect(weekdayOf('2026-11-30')).toBe(0)
  })
})

describe('when a workstation may be used', () => {
  const on = (times: Parameters<typeof useSpans>[0], first: string, days = 1) =>
    useSpans(times, hours, { first, days }).map(({ from, to }) => [
      new Date(from).toISOString().slice(0, 16),
      new Date(to).toISOString().slice(0, 16),
    ])

  it('is said in words that follow the studio’s desk hours, in its zone', () => {
    // Oslo is an hour ahead of UTC in November.
    expect(on(['desk'], '2026-11-27')).toEqual([
      ['2026-11-27T08:00', '2026-11-27T11:00'],
      ['2026-11-27T11:45', '2026-11-27T16:30'],
    ])
    expect(on(['lunch'], '2026-11-27')).toEqual([['2026-11-27T11:00', '2026-11-27T11:45']])
    expect(on(['after'], '2026-11-27')).toEqual([['2026-11-27T16:30', '2026-11-27T19:30']])
    expect(on(['before', 'desk', 'lunch', 'after'], '2026-11-27')).toEqual([['2026-11-27T06:00', '2026-11-27T19:30']])
  })

  it('lasts through a night, a weekend and a closed day when nobody is there', () => {
    expect(on(['night'], '2026-11-27', 4)).toEqual([
      ['2026-11-26T23:00', '2026-11-27T08:30'],
      ['2026-11-27T16:00', '2026-11-30T08:30'],
      ['2026-11-30T16:00', '2026-12-01T08:30'],
    ])
    expect(on(['night'], '2026-12-24')).toEqual([['2026-12-23T23:00', '2026-12-25T08:30']])
    expect(on(['desk', 'lunch', 'before', 'after'], '2026-12-24')).toEqual([])
  })

  it('lies an hour earlier by UTC once clocks have gone forward, and a night over that is an hour shorter', () => {
    expect(on(['desk'], '2026-03-27')[0][0]).toBe('2026-03-27T08:00')
    expect(on(['desk'], '2026-03-30')[0][0]).toBe('2026-03-30T07:00')
    const length = (first: string) => {
      const spans = useSpans(['night'], hours, { first, days: 4 })
      return Math.max(...spans.map((s) => s.to - s.from)) / hour
    }
    // From Friday evening to Monday morning, 64.5 hours but for the one that is not there.
    expect(length('2026-03-27')).toBe(63.5)
    expect(length('2026-11-27')).toBe(64.5)
    expect(length('2026-10-23')).toBe(65.5)
  })

  it('covers every minute of a week once, by all words together', () => {
    const spans = useSpans([...useTimeNames], hours, { first: '2026-11-23', days: 7 })
    expect(spans).toEqual([{ from: utc('2026-11-22T23:00Z'), to: utc('2026-11-30T08:30Z') }])
  })

  it('leaves people their lunch, closed days, days off and a week of their own', () => {
    const own = workdays('11:00', '15:00')
    const days = (off: { from: string; to: string }[]) =>
      workSpans(own, off, hours, { first: '2026-12-22', days: 4 }).map((s) =>
        new Date(s.from).toISOString().slice(0, 13),
      )
    expect(days([])).toEqual([
      '2026-12-22T10',
      '2026-12-22T11',
      '2026-12-23T10',
      '2026-12-23T11',
      '2026-12-25T10',
      '2026-12-25T11',
    ])
    expect(days([{ from: '2026-12-22', to: '2026-12-24' }])).toEqual(['2026-12-25T10', '2026-12-25T11'])
  })
})

const first = '2026-11-30'
const monday = (time: string) => atTime(first, time, hours.zone)
const visitOf = (displayId: number, change: Partial<RoundsVisit> = {}): RoundsVisit => ({
  displayId,
  roomId: 1 + (displayId % 3),
  times: ['desk', 'after'],
  options: [{ instrumentId: 7, run: 30 }],
  attended: false,
  due: monday('00:00') - 2 * 24 * hour,
  weight: 1,
  chance: null,
  matters: false,
  notBefore: null,
  pinned: null,
  told: null,
  begun: false,
  ...change,
})
const factsOf = (visits: readonly RoundsVisit[], change: Partial<RoundsFacts> = {}): RoundsFacts => ({
  hours,
  first,
  days: 7,
  now: monday('07:00'),
  minutes: { seat: 4, takeDown: 2, warm: 30 },
  walk: { rooms: 3, buildings: 10, between: [{ kind: 'room', a: '1', b: '2', minutes: 1 }] },
  rooms: [
    { id: 1, building: 'Mill' },
    { id: 2, building: 'Mill' },
    { id: 3, building: 'Barn' },
  ],
  people: [{ id: 4, roomId: 1, carries: 2, week: null, off: [] }],
  instruments: [{ id: 7, roomId: 1, validUntil: null, carrierId: null, hangsAt: null }],
  accepted: 0.1,
  visits,
  ...change,
})
const some = Array.from({ length: 12 }, (_, i) => visitOf(100 + i))

describe('the plan of a studio', () => {
  it('walks by what is said of two rooms, else of two buildings, else as is usual', () => {
    const { walk, rooms } = factsOf([])
    const [a, b, c] = rooms
    expect(walkBetween(walk, a, a)).toBe(0)
    expect(walkBetween(walk, b, a)).toBe(1)
    expect(walkBetween(walk, a, c)).toBe(10)
    expect(walkBetween({ ...walk, between: [{ kind: 'building', a: 'Barn', b: 'Mill', minutes: 22 }] }, a, c)).toBe(22)
  })

  it('has no fault, keeps to hours as the wall clock has them, and says why each visit is then @long', () => {
    const facts = factsOf(some)
    const { problem, zero } = studioProblem(facts)
    expect(planFaults(problem, planRounds(problem))).toEqual([])
    expect(zero).toBe(monday('00:00'))
    const { planned, unplanned, load } = planStudio(facts)
    expect(unplanned).toEqual([])
    expect(planned).toHaveLength(12)
    for (const v of planned) {
      expect(v.at).toBeGreaterThanOrEqual(monday('09:00'))
      expect(v.wakeAt).toBe(v.at - 30 * 60_000)
      expect(v.readyAt - v.at).toBe(34 * 60_000)
      expect(v.whyInstrument).toBe('only')
    }
    expect(planned.some((v) => v.whyThen === 'together' && v.besides > 0)).toBe(true)
    const [person] = load.people
    // Four minutes to seat and two to take down, twelve times; and the way.
    expect(person.busy).toBeGreaterThanOrEqual(12 * 6)
    expect(load.instruments[0].busy).toBe(12 * 36)
  })

  it('goes on over the night on which clocks change, in whole days as they are', () => {
    const facts = factsOf([visitOf(1, { times: ['night'], due: utc('2026-03-20T00:00Z') })], {
      first: '2026-03-27',
      now: utc('2026-03-27T08:00Z'),
    })
    const { problem } = studioProblem(facts)
    expect(problem.dayBounds[3] - problem.dayBounds[2]).toBe(23 * 60)
    const [visit] = planStudio(facts).planned
    // Hung on Friday in the last half hour of work, taken down on Monday in the first, by summer time.
    expect(new Date(visit.at).toISOString() >= '2026-03-27T16:00').toBe(true)
    expect(new Date(visit.endsAt).toISOString() <= '2026-03-30T07:30').toBe(true)
    expect(visit.takeDownAt).toBeGreaterThan(dayStart('2026-03-30', hours.zone))
  })

  it('tells nobody anything else when one visit falls away @long', () => {
    const before = planStudio(factsOf(some)).planned
    const told = before.slice(1).map((v) => visitOf(v.displayId, { told: v }))
    const after = planStudio(factsOf(told))
    expect(after.moved).toBe(0)
    expect(after.planned.map((v) => [v.displayId, v.at])).toEqual(before.slice(1).map((v) => [v.displayId, v.at]))
    expect(after.planned.every((v) => v.whyThen === 'told')).toBe(true)
  })

  it('keeps what goes on already, past hours and all, and plans nothing into it @long', () => {
    const at = monday('18:10')
    const begun = visitOf(100, { begun: true, pinned: { personId: 4, instrumentId: 7, at } })
    const { planned } = planStudio(factsOf([begun, ...some.slice(1)], { now: at + 60_000 }))
    const own = planned.find((v) => v.displayId === 100)!
    expect(own.at).toBe(at)
    for (const v of planned) if (v !== own) expect(v.at).toBeGreaterThanOrEqual(own.endsAt)
  })

  it('lets an instrument go only once its run has ended, however long that takes and at whatever second it began @long @long', () => {
    const at = monday('10:00') + 31_000
    const now = monday('12:50')
    const begun = visitOf(100, { begun: true, pinned: { personId: 4, instrumentId: 7, at } })
    const { planned, unplanned } = planStudio(factsOf([begun, ...some.slice(1)], { now }))
    expect(unplanned).toEqual([])
    expect(planned.find((v) => v.displayId === 100)!.readyAt).toBeGreaterThan(now)
    // One that an administrator began, who goes to no displays, takes nobody's time.
    const others = { ...begun, pinned: { personId: 99, instrumentId: 7, at } }
    expect(planStudio(factsOf([others], { now })).planned).toEqual([])
  })

  it('is where it was pinned, whatever people were told before', () => {
    const told = { personId: 4, instrumentId: 7, at: monday('15:00') }
    for (const time of ['10:00', '16:30']) {
      const pinned = { personId: 4, instrumentId: 7, at: monday(time) }
      const { planned, unplanned } = planStudio(factsOf([visitOf(1, { told, pinned })]))
      expect([unplanned, planned[0]?.at]).toEqual([[], monday(time)])
    }
  })

  it('moves what is told aside for what is pinned @long', () => {
    const [one, ...others] = planStudio(factsOf(some)).planned
    const told = others.map((v) => visitOf(v.displayId, { told: v }))
    const at = others[5].at
    const pinned = visitOf(one.displayId, { roomId: 1, pinned: { personId: 4, instrumentId: 7, at } })
    const facts = factsOf([pinned, ...told])
    const { planned, unplanned } = planStudio(facts)
    expect(planned.find((v) => v.displayId === one.displayId)?.at).toBe(at)
    expect(unplanned).toEqual([])
    const { problem } = studioProblem(facts)
    expect(planFaults(problem, planRounds(problem))).toEqual([])
  })

  it('says what no plan could hold, and what would help where there is too little @long', () => {
    const unfit = visitOf(1, { options: [] })
    const never = visitOf(2, { times: [] })
    const attended = Array.from({ length: 40 }, (_, i) =>
      visitOf(10 + i, { attended: true, options: [{ instrumentId: 7, run: 110 }] }),
    )
    const facts = factsOf([unfit, never, ...attended])
    const { unplanned } = planStudio(facts)
    expect(unplanned.find((u) => u.displayId === 1)?.why).toBe('no instrument fits')
    expect(unplanned.find((u) => u.displayId === 2)?.why).toBe('no time')
    const short = unplanned.filter((u) => u.why === 'no room')
    expect(short.length).toBeGreaterThan(5)
    expect(short[0].reliefs.map((r) => r.kind)).toContain('hours')
    const [asItIs, best] = whatIf(facts)
    expect(asItIs.relief).toBeNull()
    expect(best.planned).toBeGreaterThan(asItIs.planned)
  })

  it('is none for nobody, and for nothing', () => {
    expect(planStudio(factsOf([])).planned).toEqual([])
    expect(planStudio(factsOf(some, { people: [] })).unplanned).toHaveLength(12)
    expect(whatIf(factsOf([]))).toHaveLength(1)
  })
})

describe('what a move breaks', () => {
  const window = [{ from: monday('09:00'), to: monday('17:30') }]
  const weekVisit = (id: number, at: string | null, change: Partial<WeekVisit> = {}): WeekVisit => ({
    id,
    roomId: 1,
    personId: 4,
    instrumentId: 7,
    at: at === null ? null : monday(at),
    takeDownAt: at === null ? null : monday(at) + 34 * 60_000,
    endsAt: at === null ? null : monday(at) + 36 * 60_000,
    attended: false,
    options: [{ instrumentId: 7, run: 30 }],
    windows: window,
    pinned: false,
    ...change,
  })
  const house = (visits: WeekVisit[]): WeekHouse => ({
    now: monday('08:00'),
    minutes: { seat: 4, takeDown: 2, warm: 30 },
    people: [
      { id: 4, hours: window, carries: 2 },
      { id: 5, hours: window, carries: 1 },
    ],
    instruments: [
      { id: 7, validUntil: monday('16:00'), carrierId: null, hangsAt: null },
      { id: 8, validUntil: null, carrierId: 9, hangsAt: null },
    ],
    visits,
    days: [{ from: monday('00:00'), to: monday('24:00') }],
    walk: () => 5,
  })
  const visit = weekVisit(1, null)
  const move = (at: string, change: object = {}) => ({ personId: 4, instrumentId: 7, at: monday(at), ...change })

  it.each([
    ['past', '08:20', {}, {}],
    ['fit', '10:00', { instrumentId: 8 }, {}],
    ['unknown instrument', '10:00', { instrumentId: 99 }, {}],
    ['unknown person', '10:00', { personId: 6 }, {}],
    ['carrier', '10:00', { instrumentId: 8 }, { options: [{ instrumentId: 8, run: 30 }] }],
    ['certificate', '15:30', {}, {}],
    ['window', '10:00', {}, { windows: [{ from: monday('11:00'), to: monday('12:00') }] }],
  ] as const)('%s stands against it', (bar, at, change, own) => {
    expect(whatBreaks(house([]), { ...visit, ...own }, move(at, change)).bar).toBe(bar)
  })

  it('others make way, unless they are pinned; one whose display runs alone lets its person go', () => {
    const other = weekVisit(2, '10:00')
    expect(whatBreaks(house([other]), visit, move('10:20'))).toEqual({ bar: null, displaced: [2] })
    expect(whatBreaks(house([{ ...other, pinned: true }]), visit, move('10:20')).bar).toBe('pinned')
    expect(whatBreaks(house([other]), visit, move('11:00'))).toEqual({ bar: null, displaced: [] })
    const withAnother = { ...other, instrumentId: 6 }
    expect(whatBreaks(house([withAnother]), visit, move('10:12')).displaced).toEqual([])
    // An instrument is with one person on one day, and nobody carries more than they can: as the planner has it.
    expect(whatBreaks(house([other]), visit, move('15:00', { personId: 5 })).displaced).toEqual([2])
    const own = { ...withAnother, personId: 5 }
    expect(whatBreaks(house([own]), visit, move('15:00', { personId: 5 })).bar).toBe('carries')
    expect(whatBreaks(house([own]), visit, move('15:00')).bar).toBeNull()
    expect(whatBreaks(house([{ ...withAnother, attended: true }]), visit, move('10:12')).displaced).toEqual([2])
  })
})
