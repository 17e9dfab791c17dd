import { dayOf, type PlanProblem } from './problem'

/**
 * A problem as flat tables, for the many thousand times that tours are tried. A person's work on one day is a *shift*,
 * numbered person · days + day.
 */
export interface PlanTables {
  readonly problem: PlanProblem
  readonly days: number
  readonly places: number
  readonly walk: Int32Array
  /** Of each visit. */
  readonly place: Int32Array
  readonly seat: Int32Array
  readonly takeDown: Int32Array
  readonly attended: Uint8Array
  readonly warm: Int32Array
  /** Visits of one kind have the same windows and instruments, and are alike in whether somebody stays. */
  readonly kindOf: Int32Array
  readonly kinds: number
  /** 1 where an instrument hangs at the display, and nobody comes. */
  readonly alone: Uint8Array
  /** Minutes of a visit's run by an instrument (visit · instruments + instrument), or −1 where it does not fit. */
  readonly run: Int32Array
  /** The windows of visit v stand from windowsFrom[v] to windowsFrom[v + 1]. */
  readonly windowsFrom: Int32Array
  readonly opens: Int32Array
  readonly closes: Int32Array
  /** The first day on which a visit has a window. */
  readonly firstDay: Int32Array
  /** The first of a visit's windows that closes after a day begins (visit · days + day). */
  readonly windowOfDay: Int32Array
  /** The last instant of a day's windows (visit · days + day) at which a run by the quickest instrument would still fit. */
  readonly latestSeat: Int32Array
  /** The hours of shift s stand from hoursFrom[s] to hoursFrom[s + 1]. */
  readonly hoursFrom: Int32Array
  readonly begins: Int32Array
  readonly ends: Int32Array
  /** Minutes of each shift, and from its beginning to its end. */
  readonly hours: Int32Array
  readonly span: Int32Array
  /** Instruments that each person may have, the nearest to where their days begin first. */
  readonly nearest: readonly Int32Array[]
  /** The day on which a shift's person comes to work next, or −1. */
  readonly nextDay: Int32Array
  /** Costs: visit · (days + 1) + day. */
  readonly costs: Float64Array
  /** The other visits of a visit's set; none where it is in none. */
  readonly peers: ReadonlyMap<number, readonly number[]>
  /** Visits of each set. */
  readonly sets: readonly (readonly number[])[]
}

/** Visits by their sets, those of one alone left out. */
function setsOf(visits: PlanProblem['visits']): number[][] {
  const sets = new Map<number, number[]>()
  for (const [v, { set }] of visits.entries()) if (set !== undefined) sets.set(set, [...(sets.get(set) ?? []), v])
  return [...sets.values()].filter((own) => own.length > 1)
}

/** Lays a problem out flat. */
export function planTables(problem: PlanProblem): PlanTables {
  const { visits, people, instruments, dayBounds, places } = problem
  const days = dayBounds.length - 1
  const of = (value: (visit: (typeof visits)[number]) => number) => Int32Array.from(visits, value)
  const run = new Int32Array(visits.length * instruments.length).fill(-1)
  for (const [v, { options }] of visits.entries())
    for (const option of options) run[v * instruments.length + option.instrument] = option.run
  const windows = offsets(visits.map((v) => v.windows))
  const byShift = people.flatMap(({ shifts }) => {
    const own: (typeof shifts)[number][][] = Array.from({ length: days }, () => [])
    for (const shift of shifts)
      if (shift.from >= dayBounds[0] && shift.from < dayBounds[days]) own[dayOf(dayBounds, shift.from)].push(shift)
    return own
  })
  const hours = offsets(byShift)
  const costs = new Float64Array(visits.length * (days + 1))
  for (const [v, visit] of visits.entries()) costs.set(visit.costs, v * (days + 1))
  const nextDay = new Int32Array(byShift.length).fill(-1)
  for (let s = byShift.length - 2; s >= 0; s--)
    if ((s + 1) % days !== 0) nextDay[s] = byShift[s + 1].length ? (s + 1) % days : nextDay[s + 1]
  const sets = setsOf(visits)
  return {
    problem,
    days,
    places,
    walk: Int32Array.from(problem.walk),
    place: of((v) => v.place),
    seat: of((v) => v.seat),
    takeDown: of((v) => v.takeDown),
    attended: Uint8Array.from(visits, (v) => (v.attended ? 1 : 0)),
    warm: of((v) => v.warm),
    ...kindsOf(problem),
    alone: Uint8Array.from(visits, (v) => (v.options.some((o) => instruments[o.instrument].hangs) ? 1 : 0)),
    run,
    windowsFrom: windows.from,
    opens: windows.begins,
    closes: windows.ends,
    ...windowsByDay(problem, windows.from),
    hoursFrom: hours.from,
    begins: hours.begins,
    ends: hours.ends,
    hours: Int32Array.from(byShift, (own) => own.reduce((sum, { from, to }) => sum + to - from, 0)),
    span: Int32Array.from(byShift, (own) => (own.length ? own[own.length - 1].to - own[0].from : 0)),
    nearest: people.map((person, p) => {
      const way = (k: number) => problem.walk[person.place * places + instruments[k].place]
      const own = instruments.flatMap((i, k) => (!i.hangs && (i.carrier === null || i.carrier === p) ? [k] : []))
      return Int32Array.from(own.sort((a, b) => way(a) - way(b) || a - b))
    }),
    nextDay,
    costs,
    sets,
    peers: new Map(sets.flatMap((set) => set.map((v) => [v, set.filter((other) => other !== v)]))),
  }
}

function kindsOf({ visits }: PlanProblem) {
  const known = new Map<string, number>()
  const kindOf = Int32Array.from(visits, ({ windows, options, attended, overnight }) => {
    const key = JSON.stringify([windows, options.map((o) => o.instrument), attended, overnight])
    const kind = known.get(key) ?? known.size
    known.set(key, kind)
    return kind
  })
  return { kindOf, kinds: known.size }
}

function windowsByDay({ visits, dayBounds }: PlanProblem, windowsFrom: Int32Array) {
  const days = dayBounds.length - 1
  const windowOfDay = new Int32Array(visits.length * days)
  const latestSeat = new Int32Array(visits.length * days).fill(-1)
  for (const [v, { windows, seat, takeDown, options }] of visits.entries()) {
    const whole = seat + takeDown + Math.min(...options.map((o) => o.run))
    for (let d = 0; d < days; d++) {
      const first = windows.findIndex((w) => w.to > dayBounds[d])
      windowOfDay[v * days + d] = windowsFrom[v] + (first < 0 ? windows.length : first)
      for (const { from, to } of windows)
        if (from < dayBounds[d + 1] && to - whole >= dayBounds[d] && to - whole >= from)
          latestSeat[v * days + d] = Math.max(latestSeat[v * days + d], Math.min(to - whole, dayBounds[d + 1]))
    }
  }
  const firstDay = Int32Array.from(visits, (_, v) => {
    const first = latestSeat.subarray(v * days, (v + 1) * days).findIndex((at) => at >= 0)
    return Math.max(0, first)
  })
  return { windowOfDay, latestSeat, firstDay }
}

function offsets(lists: readonly (readonly { from: number; to: number }[])[]) {
  const from = new Int32Array(lists.length + 1)
  for (const [i, list] of lists.entries()) from[i + 1] = from[i] + list.length
  const flat = lists.flat()
  return { from, begins: Int32Array.from(flat, (s) => s.from), ends: Int32Array.from(flat, (s) => s.to) }
}
