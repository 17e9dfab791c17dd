import type { PlanProblem, PlanVisit, Stretch } from '../plan'
import { visitCosts } from '../visitCosts'
import { atTime, daysAfter } from './localDays'
import { walkBetween, type RoundsAppointment, type RoundsFacts, type RoundsVisit } from './studioFacts'
import { joined, useSpans, without, workSpans, type Span, type UseTime } from './useTimes'

const minute = 60_000
/** What somebody was told is kept open for so long after it should have begun, ms. */
export const graceMs = 60 * minute

/** A plan's problem, with what its numbers stand for. */
interface StudioProblem {
  readonly problem: PlanProblem
  /** ms since 1970 of the problem's minute 0. */
  readonly zero: number
  /** The visits of the problem, by their numbers in it. */
  readonly visits: readonly RoundsVisit[]
  /** Visits that no plan could hold, and why. */
  readonly impossible: readonly { readonly visit: RoundsVisit; readonly why: 'no instrument fits' | 'no time' }[]
}

/** The chance of being outside between two known ones, and on beyond them. */
const chanceBetween = (chance: RoundsVisit['chance']) => (at: number) => {
  if (!chance) return null
  const [a, b] = chance
  if (b.at <= a.at) return a.chance
  return Math.min(1, Math.max(0, a.chance + ((b.chance - a.chance) * (at - a.at)) / (b.at - a.at)))
}

/** What a studio knows, as the planner takes it: minutes and numbers. Minutes are whole, and days as long as the clock has them. */
export function studioProblem(facts: RoundsFacts): StudioProblem {
  const { hours, first, days, now, rooms, people, instruments, minutes } = facts
  const starts = Array.from({ length: days + 1 }, (_, d) => atTime(daysAfter(first, d), '00:00', hours.zone))
  const zero = starts[0]
  const toMinute = (at: number) => Math.round((at - zero) / minute)
  /** No longer than it is. */
  const stretch = ({ from, to }: Span): Stretch => ({
    from: Math.ceil((from - zero) / minute),
    to: Math.floor((to - zero) / minute),
  })
  const roomIndex = new Map(rooms.map((r, i) => [r.id, i]))
  const place = (roomId: number) => roomIndex.get(roomId) ?? 0
  const personIndex = new Map(people.map((p, i) => [p.id, i]))
  const instrumentIndex = new Map(instruments.map((k, i) => [k.id, i]))

  const appointment = ({ personId, instrumentId, at }: RoundsAppointment) => {
    const instrument = instrumentIndex.get(instrumentId)
    const person = personId === null ? null : personIndex.get(personId)
    return instrument === undefined || person === undefined ? null : { person, instrument, at: toMinute(at) }
  }

  const windowsByTimes = new Map<string, Span[]>()
  const windowsOf = (times: readonly UseTime[]) => {
    const key = [...times].sort().join()
    const known = windowsByTimes.get(key) ?? useSpans(times, hours, { first, days })
    windowsByTimes.set(key, known)
    return known
  }
  const end = starts[days]
  const whole = (run: number) => minutes.seat + run + minutes.takeDown

  const taken: RoundsVisit[] = []
  const planVisits: PlanVisit[] = []
  const impossible: { visit: RoundsVisit; why: 'no instrument fits' | 'no time' }[] = []
  for (const v of facts.visits) {
    const options = v.options.flatMap(({ instrumentId, run }) => {
      const instrument = instrumentIndex.get(instrumentId)
      const hangsAt = instrument === undefined ? null : instruments[instrument].hangsAt
      return instrument === undefined || (hangsAt !== null && hangsAt !== v.displayId)
        ? []
        : [{ instrument, run: Math.max(1, Math.round(run), stillRuns(v, facts)) }]
    })
    if (!options.length) {
      impossible.push({ visit: v, why: 'no instrument fits' })
      continue
    }
    const from = Math.max(v.notBefore ?? -Infinity, soonestOf(v, now, minutes.warm))
    const pinned = v.pinned && appointment(v.pinned)
    // Somebody who goes to no displays has begun it: nobody’s tour has to make room for that.
    if (v.begun && !pinned) continue
    // From the minute that it began in, whose beginning it has passed.
    const open = v.begun
      ? [{ from: v.pinned!.at - minute, to: end }]
      : without(windowsOf(v.times), [{ from: -Infinity, to: from }])
    // What begins on the last evening ends within the plan.
    const windows = joined(open.map((w) => ({ from: w.from, to: Math.min(w.to, end) })))
      .map(stretch)
      .filter((w) => options.some((o) => w.to - w.from >= whole(o.run)))
    if (!windows.length) {
      impossible.push({ visit: v, why: 'no time' })
      continue
    }
    const told = v.told && appointment(v.told)
    taken.push(v)
    planVisits.push({
      place: place(v.roomId),
      windows,
      seat: minutes.seat,
      takeDown: minutes.takeDown,
      attended: v.attended,
      // One that goes on has long been warm.
      warm: v.begun ? 0 : minutes.warm,
      options,
      overnight: !v.attended && v.times.includes('night'),
      costs: visitCosts({
        due: v.due,
        weight: v.weight,
        accepted: facts.accepted,
        chanceAt: chanceBetween(v.chance),
        matters: v.matters,
        dayBounds: starts,
      }),
      ...(v.set !== undefined && { set: v.set }),
      ...(pinned && { pinned }),
      ...(told && { told }),
    })
  }

  const n = rooms.length
  const walk = Array.from({ length: n * n }, (_, i) =>
    Math.round(walkBetween(facts.walk, rooms[Math.floor(i / n)], rooms[i % n])),
  )
  return {
    zero,
    visits: taken,
    impossible,
    problem: {
      dayBounds: starts.map(toMinute),
      walk,
      places: n,
      people: people.map((p) => ({
        shifts: joined([
          ...workSpans(p.week, p.off, hours, { first, days }),
          ...taken.flatMap((v) => overtime(v, p.id, facts)),
        ])
          .flatMap((s) => byDay(s, starts))
          .map(stretch)
          .filter((s) => s.to > s.from),
        place: place(p.roomId),
        carries: p.carries,
      })),
      instruments: instruments.map((i) => ({
        place: place(i.roomId),
        validUntil: i.validUntil === null ? Infinity : toMinute(i.validUntil),
        carrier: i.carrierId === null ? null : (personIndex.get(i.carrierId) ?? null),
        hangs: i.hangsAt !== null,
      })),
      visits: planVisits,
    },
  }
}

/** From when a visit may be seated: warm from now on, or as it was told or pinned while that is not long past. */
function soonestOf(v: RoundsVisit, now: number, warm: number): number {
  const soonest = now + warm * minute
  const kept = v.pinned ?? v.told
  return kept && kept.at > now - graceMs ? Math.min(soonest, kept.at) : soonest
}

/** Minutes for which a run that goes on lasts at least: it has not ended yet. */
const stillRuns = ({ begun, pinned }: RoundsVisit, { now, minutes }: RoundsFacts): number =>
  begun && pinned ? Math.ceil((now - pinned.at) / minute) - minutes.seat + 1 : 0

/** Whoever has begun a visit is there, whatever their hours say: with the way there and back. */
function overtime(v: RoundsVisit, personId: number, facts: RoundsFacts): Span[] {
  const { minutes, rooms, people, walk } = facts
  if (!v.begun || v.pinned?.personId !== personId) return []
  const option = v.options.find((o) => o.instrumentId === v.pinned!.instrumentId)
  const room = (id: number) => rooms.find((r) => r.id === id) ?? rooms[0]
  const way = walkBetween(walk, room(people.find((p) => p.id === personId)!.roomId), room(v.roomId)) * minute
  const run = Math.max(option?.run ?? 0, stillRuns(v, facts))
  const whole = (minutes.seat + run + minutes.takeDown + 1) * minute
  return [{ from: v.pinned.at - way - minute, to: v.pinned.at + whole + way }]
}

/** A span cut where days begin. */
const byDay = (span: Span, starts: readonly number[]): Span[] =>
  starts.slice(0, -1).flatMap((from, d) => {
    const part = { from: Math.max(span.from, from), to: Math.min(span.to, starts[d + 1]) }
    return part.to > part.from ? [part] : []
  })
