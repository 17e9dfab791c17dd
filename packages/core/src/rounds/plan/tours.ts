import { addInOrder, Holding } from './holding'
import type { PlannedVisit } from './problem'
import type { PlanTables } from './tables'
import { TourWalk, type Candidate } from './tourWalk'

const none = -1

/**
 * Who visits what in which order: a tour for every shift, its entries in the order of seating. Times are never stored as a
 * decision; they follow from walking.
 */
export class Tours {
  /** Visits of each shift in order, and the instrument of each. */
  readonly visits: number[][]
  readonly instruments: number[][]
  /** Visits whose instrument hangs when a shift begins. */
  private readonly hanging: number[][]
  /** The shift of each visit, or −1; its instrument; whether it hangs over night. */
  readonly shiftOf: Int32Array
  readonly instrumentOf: Int32Array
  readonly night: Uint8Array
  readonly holding: Holding
  /** The last walk that was made, on trial or to settle. */
  readonly last: TourWalk
  /** Minutes of walking, and of hands, in each shift, and how many of its visits are not as they were told. */
  readonly walked: Float64Array
  readonly hands: Float64Array
  readonly movedOf: Int32Array
  /** When each visit is seated in the tours as they are. */
  readonly keptAt: Int32Array
  /**
   * The shortest visit of each kind (shift · kinds + kind) that found no room in a shift since something left it; there is
   * no use in looking for a longer one. What differs within a kind is the way there alone, so this may err by a few minutes.
   */
  readonly noRoomFor: Int32Array

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
    this.holding = new Holding(tables)
    this.last = new TourWalk(tables, this.night, this.instrumentOf)
    this.walked = new Float64Array(shifts)
    this.hands = new Float64Array(shifts)
    this.movedOf = new Int32Array(shifts)
    this.keptAt = new Int32Array(count)
    this.noRoomFor = new Int32Array(shifts * tables.kinds).fill(forgotten)
  }

  /** The shift in whose morning an instrument is taken down that hangs over the night after `shift`; −1 for none. */
  morningAfter(shift: number): number {
    const next = this.tables.nextDay[shift]
    return next === none ? none : shift - (shift % this.tables.days) + next
  }

  /** Whether an instrument may hang from a shift's evening until the same person's next morning. */
  mayHang(shift: number, instrument: number): boolean {
    const morning = this.morningAfter(shift)
    return morning !== none && this.holding.mayHang(shift, morning, instrument)
  }

  private walk(shift: number, candidate?: Candidate): boolean {
    return this.last.walk(
      {
        shift,
        visits: this.visits[shift],
        instruments: this.instruments[shift],
        hanging: this.hanging[shift],
        held: this.holding.held[shift],
      },
      candidate,
    )
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
      this.last.walked,
      this.last.hands,
      this.last.moved,
      this.last.readyAt[candidate.visit],
    ]
    const morning = this.morningAfter(shift)
    const list = this.hanging[morning]
    const was = this.instrumentOf[candidate.visit]
    if (candidate.night) {
      addInOrder(list, candidate.visit)
      this.instrumentOf[candidate.visit] = candidate.instrument
    }
    const can = this.walk(morning)
    const extra = this.last.walked - this.walked[morning]
    if (candidate.night) {
      list.splice(list.indexOf(candidate.visit), 1)
      this.instrumentOf[candidate.visit] = was
    }
    this.walk(shift)
    this.last.readyAt[candidate.visit] = ready
    this.last.walked = walked + extra
    this.last.hands = hands
    this.last.moved = moved
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
    this.holding.count(shift, instrument, shift % days, 1)
    const morning = night ? this.morningAfter(shift) : none
    if (morning !== none) {
      addInOrder(this.hanging[morning], visit)
      for (let d = (shift % days) + 1; d <= morning % days; d++) this.holding.count(shift, instrument, d, 1)
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
    this.holding.count(shift, instrument, shift % days, -1)
    this.forget(shift)
    if (this.night[visit]) {
      const morning = this.morningAfter(shift)
      this.hanging[morning].splice(this.hanging[morning].indexOf(visit), 1)
      for (let d = (shift % days) + 1; d <= morning % days; d++) this.holding.count(shift, instrument, d, -1)
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
    this.walked[shift] = this.last.walked
    this.hands[shift] = this.last.hands
    this.movedOf[shift] = this.last.moved
    for (const visit of this.visits[shift]) this.keptAt[visit] = this.last.seatAt[visit]
    return isWalked
  }

  /** A visit as it is planned, with its times. */
  planned(visit: number): PlannedVisit {
    const { tables } = this
    return {
      visit,
      person: (this.shiftOf[visit] / tables.days) | 0,
      instrument: this.instrumentOf[visit],
      at: this.last.seatAt[visit],
      wakeAt: this.last.seatAt[visit] - tables.warm[visit],
      readyAt: this.last.readyAt[visit],
      takeDownAt: this.last.takeDownAt[visit],
      endsAt: this.last.takeDownAt[visit] + tables.takeDown[visit],
    }
  }
}

/** Longer than anything. */
const forgotten = 2 ** 30
