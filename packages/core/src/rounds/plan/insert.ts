import { dayOf } from './problem'
import { apartOn, apartWeight, lateWeight, movedWeight } from './costs'
import type { Tours } from './tours'
import type { Candidate } from './tourWalk'

/** Where a visit is best put. */
export interface Place {
  readonly shift: number
  readonly candidate: Candidate
}

/** Where there are more visits than this, only the positions with the least detours are tried in a tour. */
const many = 300

/** So many tours that could take a visit in are looked at. */
const enough = 6

/**
 * The cheapest place for a visit: the day on which it costs least, and among the tours of that day the one that grows
 * least. `skips` is asked before a tour is tried; it lets a search pass some over. Null when it fits nowhere.
 */
export function bestPlace(tours: Tours, visit: number, skips: () => boolean = () => false): Place | null {
  const { tables } = tours
  const { problem, days, costs } = tables
  const { pinned } = problem.visits[visit]
  const kind = tables.kindOf[visit]
  const length =
    tables.seat[visit] + tables.takeDown[visit] + Math.min(...problem.visits[visit].options.map((o) => o.run))
  const own = visit * (days + 1)
  const search = new PlaceSearch(tours, visit)
  for (let day = 0; day < days;) {
    // Costs never fall with time; what comes later is no better, and what is no better than leaving it out is left out.
    const cost = costs[own + day]
    if (search.least < Infinity || (cost >= costs[own + days] && !pinned)) break
    const shifts: number[] = []
    const detours: number[] = []
    for (; day < days && costs[own + day] === cost; day++)
      for (let person = 0; person < problem.people.length; person++) {
        const shift = person * days + day
        if (tables.hours[shift] === 0 || (pinned && pinned.person !== person)) continue
        if (skips() !== length >= tours.noRoomFor[shift * tables.kinds + kind]) continue
        shifts.push(shift)
        detours.push(search.leastDetour(shift) + apartWeight * apartOn(tours, visit, day))
      }
    let found = 0
    for (let tried = 0; tried < shifts.length && found < enough; tried++) {
      bringLeast(detours, shifts, tried)
      if (lateWeight * cost + detours[tried] >= search.least) break
      const apart = apartWeight * apartOn(tours, visit, shifts[tried] % days)
      if (search.look(shifts[tried], lateWeight * cost + apart)) found++
      else if (!search.isPruned) {
        const room = shifts[tried] * tables.kinds + kind
        tours.noRoomFor[room] = Math.min(tours.noRoomFor[room], length)
      }
    }
  }
  return search.best
}

/** Brings the least of `by`, and what stands beside it in `also`, from behind to a position. */
function bringLeast(by: number[], also: number[], position: number): void {
  let least = position
  for (let n = position + 1; n < by.length; n++) if (by[n] < by[least]) least = n
  const [value, beside] = [by[least], also[least]]
  by[least] = by[position]
  also[least] = also[position]
  by[position] = value
  also[position] = beside
}

/** The search for one visit's place, over the tours that it is shown. */
class PlaceSearch {
  best: Place | null = null
  least = Infinity
  hasRoom = false
  /** Something was not tried, because it would have been no cheaper. */
  isPruned = false
  private readonly positions: number[] = []
  private readonly detours: number[] = []
  private readonly tries: number
  private readonly fits: Int32Array
  private readonly instruments: number
  private readonly heldHands: number

  constructor(
    private readonly tours: Tours,
    private readonly visit: number,
  ) {
    const { tables } = tours
    this.instruments = tables.problem.instruments.length
    this.fits = tables.run.subarray(visit * this.instruments, (visit + 1) * this.instruments)
    this.tries = tables.problem.visits.length > many ? 4 : Infinity
    this.heldHands = tables.seat[visit] + tables.takeDown[visit]
  }

  /** Tries a tour with each instrument that is there already, and with the nearest that nobody has; whether one can be walked. */
  look(shift: number, late: number): boolean {
    const { tours, fits } = this
    this.hasRoom = this.isPruned = false
    for (const k of tours.holding.held[shift]) if (fits[k] >= 0) this.lookWith(shift, late, k)
    const { problem, days } = tours.tables
    const person = problem.people[(shift / days) | 0]
    if (tours.holding.held[shift].length >= person.carries) return this.hasRoom
    const { pinned } = problem.visits[this.visit]
    const day = shift % days
    let chosen = -1
    for (const k of tours.tables.nearest[(shift / days) | 0]) {
      if (fits[k] < 0 || !tours.holding.isFree(k, day) || (pinned && pinned.instrument !== k)) continue
      // Who has it on the day before or after keeps it: then it may hang over night, and changes hands less often.
      if (this.tries < Infinity && tours.holding.isNeighbour(shift, k)) {
        chosen = k
        break
      }
      if (chosen < 0) chosen = k
      if (this.tries === Infinity) this.lookWith(shift, late, k)
    }
    if (chosen >= 0 && this.tries < Infinity) this.lookWith(shift, late, chosen)
    return this.hasRoom
  }

  private lookWith(shift: number, late: number, instrument: number): void {
    const { tours, visit } = this
    const { tables } = tours
    const { problem, days } = tables
    const { told, overnight, pinned } = problem.visits[visit]
    if (pinned && pinned.instrument !== instrument) return
    const hours = tables.hours[shift]
    const hands = this.heldHands + (tables.attended[visit] ? this.fits[instrument] : 0)
    const latest = tables.latestSeat[visit * days + (shift % days)]
    if (latest < 0) return
    const isFull =
      tours.hands[shift] + tours.walked[shift] + hands > hours ||
      this.busyMinutes(shift, instrument) + this.heldHands + this.fits[instrument] > tables.span[shift]
    const mayHang = overnight && tours.mayHang(shift, instrument)
    if (isFull && !mayHang) return
    const person = (shift / days) | 0
    const share = tours.hands[shift] / hours
    const moves = told && (told.person !== person || told.instrument !== instrument) ? movedWeight : 0
    const entries = tours.visits[shift]
    this.detours.length = this.positions.length = 0
    for (let position = 0; position <= entries.length; position++) {
      // Entries are seated in order: what comes after one that is seated too late is too late itself.
      if (position && tours.keptAt[entries[position - 1]] > latest) break
      const detour = this.detourAt(shift, position)
      if (late + detour + share + moves >= this.least) {
        this.isPruned = true
        continue
      }
      this.positions.push(position)
      this.detours.push(detour)
    }
    if (!isFull)
      for (let tried = 0; tried < this.tries && tried < this.positions.length; tried++) {
        bringLeast(this.detours, this.positions, tried)
        this.keep(shift, late + share, { visit, instrument, position: this.positions[tried], night: false })
      }
    const last = entries.length
    if (mayHang && !this.hasRoom && this.positions.includes(last))
      this.keepHanging(shift, share, { visit, instrument, position: last, night: true })
  }

  /** Minutes by which a tour grows at least, by the way there and on alone. */
  leastDetour(shift: number): number {
    let least = Infinity
    for (let position = 0; position <= this.tours.visits[shift].length; position++)
      least = Math.min(least, this.detourAt(shift, position))
    return least
  }

  /** Minutes of the way to the visit and on, instead of straight on, before the entry at a position. */
  private detourAt(shift: number, position: number): number {
    const { problem, days, walk, places, place } = this.tours.tables
    const entries = this.tours.visits[shift]
    const base = problem.people[(shift / days) | 0].place
    const here = place[this.visit]
    const before = position ? place[entries[position - 1]] : base
    const after = position < entries.length ? place[entries[position]] : base
    return walk[before * places + here] + walk[here * places + after] - walk[before * places + after]
  }

  /** Keeps a candidate when it can be walked and is the cheapest so far. */
  private keep(shift: number, cost: number, candidate: Candidate): void {
    const { tours } = this
    if (!tours.admits(shift, candidate)) return
    this.hasRoom = true
    const whole = cost + this.grown(shift)
    if (whole < this.least) {
      this.least = whole
      this.best = { shift, candidate }
    }
  }

  private keepHanging(shift: number, cost: number, candidate: Candidate): void {
    const { tours } = this
    const { days, costs, problem } = tours.tables
    if (!tours.admits(shift, candidate)) return
    this.hasRoom = true
    const own = this.visit * (days + 1)
    const late = costs[own + dayOf(problem.dayBounds, tours.last.readyAt[this.visit])]
    const whole = lateWeight * late + cost + this.grown(shift)
    if (whole >= this.least || late >= costs[own + days]) return
    this.least = whole
    this.best = { shift, candidate }
  }

  /** Minutes for which an instrument is in use on a shift, the night apart. */
  private busyMinutes(shift: number, instrument: number): number {
    const { tours } = this
    const { seat, takeDown, run } = tours.tables
    const entries = tours.visits[shift]
    let busy = 0
    for (let n = 0; n < entries.length; n++) {
      const v = entries[n]
      if (tours.instruments[shift][n] === instrument)
        busy += seat[v] + (tours.night[v] ? 0 : takeDown[v] + run[v * this.instruments + instrument])
    }
    return busy
  }

  private grown(shift: number): number {
    const { tours } = this
    return tours.last.walked - tours.walked[shift] + movedWeight * (tours.last.moved - tours.movedOf[shift])
  }
}
