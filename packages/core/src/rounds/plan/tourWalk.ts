import { isAsTold } from './problem'
import type { PlanTables } from './tables'

/** A visit that might be put into a tour: before the entry at `position`, by an instrument, over night or not. */
export interface Candidate {
  readonly visit: number
  readonly instrument: number
  readonly position: number
  readonly night: boolean
}

/** One person's visits of one day in the order of seating, each with its instrument. */
export interface Tour {
  readonly shift: number
  readonly visits: readonly number[]
  readonly instruments: readonly number[]
  /** Visits whose instrument hangs when the day begins. */
  readonly hanging: readonly number[]
  /** The instruments that are with the person. */
  readonly held: readonly number[]
}

const none = -1
/** It hangs at an instrument until the next morning. */
const hangsOn = -2

/** Walks tours from their beginning, which gives their times, or says that they cannot be walked. */
export class TourWalk {
  /** Of the walk that was made last: minutes of walking, of hands, and how many visits are not as they were told. */
  walked = 0
  hands = 0
  moved = 0
  /** Of each visit, by the walk that met it last. */
  readonly seatAt: Int32Array
  readonly readyAt: Int32Array
  readonly takeDownAt: Int32Array
  private readonly closesAt: Int32Array
  /** The visit that hangs at each instrument, and whether it has been fetched. */
  private readonly hung: Int32Array
  private readonly fetched: Int32Array
  private readonly kinds: readonly { readonly place: number; readonly validUntil: number; readonly carrier: number }[]
  private shift = 0
  private now = 0
  private here = 0

  /** Whether each visit hangs over night, and its instrument, are looked up where they are kept. */
  constructor(
    private readonly tables: PlanTables,
    private readonly night: Uint8Array,
    private readonly instrumentOf: Int32Array,
  ) {
    const { visits, instruments } = tables.problem
    this.seatAt = new Int32Array(visits.length)
    this.readyAt = new Int32Array(visits.length)
    this.takeDownAt = new Int32Array(visits.length)
    this.closesAt = new Int32Array(visits.length)
    this.hung = new Int32Array(instruments.length).fill(none)
    this.fetched = new Int32Array(instruments.length)
    this.kinds = instruments.map((i) => ({ ...i, carrier: i.carrier ?? none }))
  }

  /** Walks a tour, with a candidate in it when there is one; false when it cannot be walked. */
  walk({ shift, visits: entries, instruments, hanging, held }: Tour, candidate?: Candidate): boolean {
    const { tables, hung, fetched, kinds } = this
    const person = (shift / tables.days) | 0
    this.walked = this.hands = this.moved = 0
    const count = entries.length + (candidate ? 1 : 0)
    if (count + hanging.length === 0) return true
    const first = tables.hoursFrom[shift]
    if (first === tables.hoursFrom[shift + 1]) return false
    this.shift = shift
    this.now = tables.begins[first]
    const base = tables.problem.people[person].place
    this.here = base
    for (const k of held) hung[k] = fetched[k] = none
    const extra = candidate && !held.includes(candidate.instrument) ? candidate.instrument : none
    if (extra !== none) hung[extra] = fetched[extra] = none
    for (const visit of hanging) {
      const instrument = this.instrumentOf[visit]
      hung[instrument] = visit
      fetched[instrument] = 1
      if (!this.takeDown(instrument)) return false
    }
    for (let n = 0; n < count; n++) {
      const isNew = candidate !== undefined && n === candidate.position
      const at = candidate && n > candidate.position ? n - 1 : n
      const visit = isNew ? candidate.visit : entries[at]
      const instrument = isNew ? candidate.instrument : instruments[at]
      const night = isNew ? candidate.night : this.night[visit] === 1
      if (hung[instrument] !== none && !this.takeDown(instrument)) return false
      if (fetched[instrument] === none) {
        fetched[instrument] = 1
        if (kinds[instrument].carrier !== person && !this.go(kinds[instrument].place)) return false
      }
      if (!this.seat(visit, instrument, night)) return false
    }
    // What still hangs comes down as it gets ready, but for what stays over night.
    for (;;) {
      let soonest = extra !== none && hung[extra] >= 0 ? extra : none
      for (const k of held)
        if (hung[k] >= 0 && (soonest === none || this.readyAt[hung[k]] < this.readyAt[hung[soonest]])) soonest = k
      if (soonest === none) break
      if (!this.takeDown(soonest)) return false
    }
    for (const k of held) if (!this.bringBack(k, person)) return false
    if (extra !== none && !this.bringBack(extra, person)) return false
    return this.go(base)
  }

  /** An instrument goes back to where it lies, unless it is this person's own, was not fetched, or hangs. */
  private bringBack(instrument: number, person: number): boolean {
    const { place, carrier } = this.kinds[instrument]
    if (this.fetched[instrument] === none || this.hung[instrument] === hangsOn || carrier === person) return true
    return this.go(place)
  }

  /** The first instant from `from` at which so many minutes lie within the shift's hours, or −1. */
  private within(from: number, minutes: number): number {
    const { hoursFrom, begins, ends } = this.tables
    for (let h = hoursFrom[this.shift]; h < hoursFrom[this.shift + 1]; h++) {
      const at = from > begins[h] ? from : begins[h]
      if (at + minutes <= ends[h]) return at
    }
    return none
  }

  private go(place: number): boolean {
    const minutes = this.tables.walk[this.here * this.tables.places + place]
    this.here = place
    if (minutes === 0) return true
    const at = this.within(this.now, minutes)
    if (at === none) return false
    this.now = at + minutes
    this.walked += minutes
    return true
  }

  private takeDown(instrument: number): boolean {
    const visit = this.hung[instrument]
    if (visit === hangsOn) return false
    const { tables } = this
    if (!this.go(tables.place[visit])) return false
    const minutes = tables.takeDown[visit]
    const ready = this.readyAt[visit]
    const at = this.within(ready > this.now ? ready : this.now, minutes)
    if (at === none || at + minutes > this.closesAt[visit]) return false
    this.takeDownAt[visit] = at
    this.now = at + minutes
    this.hands += minutes
    this.hung[instrument] = none
    return true
  }

  private seat(visit: number, instrument: number, night: boolean): boolean {
    const { tables, kinds } = this
    if (!this.go(tables.place[visit])) return false
    const run = tables.run[visit * kinds.length + instrument]
    const seat = tables.seat[visit]
    const whole = seat + run + tables.takeDown[visit]
    const attended = tables.attended[visit] === 1
    const { pinned, told } = tables.problem.visits[visit]
    const person = (this.shift / tables.days) | 0
    const last = tables.ends[tables.hoursFrom[this.shift + 1] - 1]
    let from = this.now > tables.warm[visit] ? this.now : tables.warm[visit]
    if (pinned) {
      if (from > pinned.at) return false
      from = pinned.at
    }
    const day = this.shift % tables.days
    // Nobody comes sooner than they said they would.
    if (
      told &&
      !pinned &&
      told.at > from &&
      told.person === person &&
      told.instrument === instrument &&
      told.at < tables.problem.dayBounds[day + 1]
    )
      from = told.at
    for (let w = tables.windowOfDay[visit * tables.days + day]; w < tables.windowsFrom[visit + 1]; w++) {
      const closes = tables.closes[w]
      if (closes - whole < from) continue
      if (tables.opens[w] > last) return false
      const at = this.within(from > tables.opens[w] ? from : tables.opens[w], attended ? whole : seat)
      if (at === none) return false
      if (at + whole > closes) continue
      if (at + seat + run > kinds[instrument].validUntil) return false
      if (!night && at + whole > last) return false
      if (pinned && at !== pinned.at) return false
      this.seatAt[visit] = at
      this.readyAt[visit] = at + seat + run
      this.closesAt[visit] = closes
      if (told && !isAsTold(told, { person, instrument, at })) this.moved++
      this.hands += seat
      if (attended) {
        this.takeDownAt[visit] = at + seat + run
        this.now = at + whole
        this.hands += run + tables.takeDown[visit]
      } else {
        this.hung[instrument] = night ? hangsOn : visit
        this.now = at + seat
      }
      return true
    }
    return false
  }
}
