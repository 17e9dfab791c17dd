import { isAsTold, type PlannedVisit } from './problem'
import type { PlanTables } from './tables'

/** A visit that might be put into a tour: before the entry at `position`, by an instrument, over night or not. */
export interface Candidate {
  readonly visit: number
  readonly instrument: number
  readonly position: number
  readonly night: boolean
}

const none = -1

/**
 * Who visits what in which order, and the times that follow: a tour for every shift, its entries in the order of seating.
 * Times are never stored as a decision; walking a tour from its beginning gives them, or says that it cannot be walked.
 */
export class Tours {
  /** Visits of each shift in order, and the instrument of each. */
  readonly visits: number[][]
  readonly instruments: number[][]
  /** Visits whose instrument hangs when a shift begins. */
  readonly hanging: number[][]
  /** The shift of each visit, or −1; its instrument; whether it hangs over night. */
  readonly shiftOf: Int32Array
  readonly instrumentOf: Int32Array
  readonly night: Uint8Array
  /** Who has an instrument on a day (instrument · days + day), or −1, and for how many visits. */
  readonly holder: Int32Array
  readonly uses: Int32Array
  /** The instruments that are with a shift. */
  readonly held: number[][]
  /** Minutes of walking, and of hands, in each shift. */
  readonly walked: Float64Array
  readonly hands: Float64Array
  /**
   * The shortest visit of each kind (shift · kinds + kind) that found no room in a shift since something left it; there is
   * no use in looking for a longer one. What differs within a kind is the way there alone, so this may err by a few minutes.
   */
  readonly noRoomFor: Int32Array
  /** How many of a shift's visits are not as they were told. */
  readonly movedOf: Int32Array

  /** Of the walk that was made last. */
  walkedLast = 0
  handsLast = 0
  movedLast = 0
  /** Of each visit, by the walk that met it last. */
  readonly seatAt: Int32Array
  readonly readyAt: Int32Array
  readonly takeDownAt: Int32Array
  private readonly closesAt: Int32Array
  /** When each visit is seated in the tours as they are. */
  readonly keptAt: Int32Array

  /** The visit that hangs at an instrument during a walk, and whether it has been fetched. */
  private readonly hung: Int32Array
  private readonly fetched: Int32Array
  private readonly kinds: readonly { readonly place: number; readonly validUntil: number; readonly carrier: number }[]
  private shift = 0
  private now = 0
  private here = 0

  constructor(readonly tables: PlanTables) {
    const { problem, days } = tables
    const shifts = problem.people.length * days
    const lists = () => Array.from({ length: shifts }, (): number[] => [])
    const count = problem.visits.length
    this.visits = lists()
    this.instruments = lists()
    this.hanging = lists()
    this.shiftOf = new Int32Array(count).fill(none)
    this.instrumentOf = new Int32Array(count).fill(none)
    this.night = new Uint8Array(count)
    this.holder = new Int32Array(problem.instruments.length * days).fill(none)
    this.uses = new Int32Array(problem.instruments.length * days)
    this.held = lists()
    this.noRoomFor = new Int32Array(shifts * tables.kinds).fill(forgotten)
    this.walked = new Float64Array(shifts)
    this.hands = new Float64Array(shifts)
    this.movedOf = new Int32Array(shifts)
    this.seatAt = new Int32Array(count)
    this.readyAt = new Int32Array(count)
    this.takeDownAt = new Int32Array(count)
    this.closesAt = new Int32Array(count)
    this.keptAt = new Int32Array(count)
    this.hung = new Int32Array(problem.instruments.length).fill(none)
    this.fetched = new Int32Array(problem.instruments.length)
    this.kinds = problem.instruments.map((i) => ({ ...i, carrier: i.carrier ?? none }))
  }

  /** The shift in whose morning an instrument is taken down that hangs over the night after `shift`; −1 for none. */
  morningAfter(shift: number): number {
    const next = this.tables.nextDay[shift]
    return next === none ? none : shift - (shift % this.tables.days) + next
  }

  /** Whether somebody may have an instrument on the day of a shift. */
  mayHold(shift: number, instrument: number): boolean {
    const { days, problem } = this.tables
    const person = (shift / days) | 0
    const { carrier, hangs } = problem.instruments[instrument]
    if (hangs || (carrier !== null && carrier !== person)) return false
    const holder = this.holder[instrument * days + (shift % days)]
    return holder === person || (holder === none && this.held[shift].length < problem.people[person].carries)
  }

  /** Whether a shift's person has an instrument on the day before or after. */
  isNeighbour(shift: number, instrument: number): boolean {
    const { days } = this.tables
    const [person, day] = [(shift / days) | 0, shift % days]
    const own = instrument * days
    return (
      (day > 0 && this.holder[own + day - 1] === person) || (day + 1 < days && this.holder[own + day + 1] === person)
    )
  }

  /** Whether an instrument may hang from a shift's evening until the same person's next morning. */
  mayHang(shift: number, instrument: number): boolean {
    const { days } = this.tables
    const morning = this.morningAfter(shift)
    if (morning === none || !this.mayHold(morning, instrument)) return false
    for (let d = (shift % days) + 1; d < morning % days; d++)
      if (this.holder[instrument * days + d] !== none) return false
    return true
  }

  /** Walks a shift's tour, with a candidate in it when there is one; false when it cannot be walked. */
  walk(shift: number, candidate?: Candidate): boolean {
    const entries = this.visits[shift]
    const { tables, hung, fetched, kinds } = this
    const person = (shift / tables.days) | 0
    this.walkedLast = this.handsLast = this.movedLast = 0
    const pending = this.hanging[shift]
    const count = entries.length + (candidate ? 1 : 0)
    if (count + pending.length === 0) return true
    const first = tables.hoursFrom[shift]
    if (first === tables.hoursFrom[shift + 1]) return false
    this.shift = shift
    this.now = tables.begins[first]
    const base = tables.problem.people[person].place
    this.here = base
    const held = this.held[shift]
    for (const k of held) hung[k] = fetched[k] = none
    const extra = candidate && !held.includes(candidate.instrument) ? candidate.instrument : none
    if (extra !== none) hung[extra] = fetched[extra] = none
    for (const visit of pending) {
      const instrument = this.instrumentOf[visit]
      hung[instrument] = visit
      fetched[instrument] = 1
      if (!this.takeDown(instrument)) return false
    }
    for (let n = 0; n < count; n++) {
      const isNew = candidate !== undefined && n === candidate.position
      const at = candidate && n > candidate.position ? n - 1 : n
      const visit = isNew ? candidate.visit : entries[at]
      const instrument = isNew ? candidate.instrument : this.instruments[shift][at]
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

  /** Whether a candidate can be walked, with the morning after where nights hang on it. Leaves the figures of its shift. */
  admits(shift: number, candidate: Candidate): boolean {
    const hasNights = candidate.night || this.visits[shift].some((v) => this.night[v])
    const canWalk = this.walk(shift, candidate)
    if (!hasNights) return canWalk
    if (!canWalk) {
      // Nights are counted by when they are ready; that is as it was.
      this.walk(shift)
      return false
    }
    const [walked, hands, moved, ready] = [
      this.walkedLast,
      this.handsLast,
      this.movedLast,
      this.readyAt[candidate.visit],
    ]
    const morning = this.morningAfter(shift)
    const list = this.hanging[morning]
    const was = this.instrumentOf[candidate.visit]
    if (candidate.night) {
      addInOrder(list, candidate.visit)
      this.instrumentOf[candidate.visit] = candidate.instrument
    }
    const can = this.walk(morning)
    const extra = this.walkedLast - this.walked[morning]
    if (candidate.night) {
      list.splice(list.indexOf(candidate.visit), 1)
      this.instrumentOf[candidate.visit] = was
    }
    this.walk(shift)
    this.readyAt[candidate.visit] = ready
    this.walkedLast = walked + extra
    this.handsLast = hands
    this.movedLast = moved
    return can
  }

  /** Puts a candidate into its shift; it must be one that is admitted. */
  insert(shift: number, { visit, instrument, position, night }: Candidate): void {
    const { days } = this.tables
    this.visits[shift].splice(position, 0, visit)
    this.instruments[shift].splice(position, 0, instrument)
    this.shiftOf[visit] = shift
    this.instrumentOf[visit] = instrument
    this.night[visit] = night ? 1 : 0
    this.hold(instrument, shift, shift % days, 1)
    const morning = night ? this.morningAfter(shift) : none
    if (morning !== none) {
      addInOrder(this.hanging[morning], visit)
      for (let d = (shift % days) + 1; d <= morning % days; d++) this.hold(instrument, shift, d, 1)
    }
    this.settle(shift)
  }

  /**
   * Takes a visit out of its tour. False when what is left cannot be walked any more: who comes sooner may seat in a window
   * that closes before the instrument is taken down.
   */
  remove(visit: number): boolean {
    const { days } = this.tables
    const shift = this.shiftOf[visit]
    const instrument = this.instrumentOf[visit]
    const at = this.visits[shift].indexOf(visit)
    this.visits[shift].splice(at, 1)
    this.instruments[shift].splice(at, 1)
    this.hold(instrument, shift, shift % days, -1)
    this.forget(shift)
    if (this.night[visit]) {
      const morning = this.morningAfter(shift)
      this.hanging[morning].splice(this.hanging[morning].indexOf(visit), 1)
      for (let d = (shift % days) + 1; d <= morning % days; d++) this.hold(instrument, shift, d, -1)
      this.night[visit] = 0
      for (let d = (shift % days) + 1; d <= morning % days; d++) this.forget(shift - (shift % days) + d)
      this.shiftOf[visit] = none
      const isWalked = this.settle(morning)
      return this.settle(shift) && isWalked
    }
    this.shiftOf[visit] = none
    return this.settle(shift)
  }

  /** Works a shift out anew, and the morning after where something hangs until then; false when one cannot be walked. */
  settle(shift: number): boolean {
    const isWalked = this.note(shift)
    return this.visits[shift].some((v) => this.night[v]) ? this.note(this.morningAfter(shift)) && isWalked : isWalked
  }

  private forget(shift: number) {
    const { kinds } = this.tables
    this.noRoomFor.fill(forgotten, shift * kinds, (shift + 1) * kinds)
  }

  private note(shift: number): boolean {
    const isWalked = this.walk(shift)
    this.walked[shift] = this.walkedLast
    this.hands[shift] = this.handsLast
    this.movedOf[shift] = this.movedLast
    for (const visit of this.visits[shift]) this.keptAt[visit] = this.seatAt[visit]
    return isWalked
  }

  /** A visit as it is planned, with its times. */
  planned(visit: number): PlannedVisit {
    const { tables } = this
    return {
      visit,
      person: (this.shiftOf[visit] / tables.days) | 0,
      instrument: this.instrumentOf[visit],
      at: this.seatAt[visit],
      wakeAt: this.seatAt[visit] - tables.warm[visit],
      readyAt: this.readyAt[visit],
      takeDownAt: this.takeDownAt[visit],
      endsAt: this.takeDownAt[visit] + tables.takeDown[visit],
    }
  }

  private hold(instrument: number, shift: number, day: number, by: 1 | -1) {
    const { days } = this.tables
    const person = (shift / days) | 0
    const at = instrument * days + day
    const before = this.uses[at]
    this.uses[at] += by
    if (before === 0) {
      this.holder[at] = person
      addInOrder(this.held[person * days + day], instrument)
    } else if (this.uses[at] === 0) {
      this.holder[at] = none
      const held = this.held[person * days + day]
      held.splice(held.indexOf(instrument), 1)
    }
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
    this.walkedLast += minutes
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
    this.handsLast += minutes
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
    const pinned = tables.problem.visits[visit].pinned
    const last = tables.ends[tables.hoursFrom[this.shift + 1] - 1]
    let from = this.now > tables.warm[visit] ? this.now : tables.warm[visit]
    if (pinned) {
      if (from > pinned.at) return false
      from = pinned.at
    }
    const day = this.shift % tables.days
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
      const { told } = tables.problem.visits[visit]
      const person = (this.shift / tables.days) | 0
      if (told && !isAsTold(told, { person, instrument, at })) this.movedLast++
      this.handsLast += seat
      if (attended) {
        this.takeDownAt[visit] = at + seat + run
        this.now = at + whole
        this.handsLast += run + tables.takeDown[visit]
      } else {
        this.hung[instrument] = night ? hangsOn : visit
        this.now = at + seat
      }
      return true
    }
    return false
  }
}

/** Longer than anything. */
const forgotten = 2 ** 30

/** It hangs at an instrument until the next morning. */
const hangsOn = -2

/** A list of numbers stays in order, so that it does not tell in what order it was filled. */
function addInOrder(list: number[], value: number) {
  list.push(value)
  list.sort((a, b) => a - b)
}
