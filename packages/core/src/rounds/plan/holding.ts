import type { PlanTables } from './tables'

/** Who has which instrument on which day: one person at most has it, for so many visits. */
export class Holding {
  /** Who has an instrument on a day (instrument · days + day), or −1, and for how many visits. */
  private readonly holder: Int32Array
  private readonly uses: Int32Array
  /** The instruments that are with each shift, in order of their numbers. */
  readonly held: number[][]

  constructor(private readonly tables: PlanTables) {
    const { problem, days } = tables
    this.holder = new Int32Array(problem.instruments.length * days).fill(none)
    this.uses = new Int32Array(problem.instruments.length * days)
    this.held = Array.from({ length: problem.people.length * days }, () => [])
  }

  /** Whether nobody has an instrument on a day. */
  isFree = (instrument: number, day: number): boolean => this.uses[instrument * this.tables.days + day] === 0

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

  /** Whether an instrument may hang from a shift's evening until the morning of a later one of the same person. */
  mayHang(shift: number, morning: number, instrument: number): boolean {
    const { days } = this.tables
    if (!this.mayHold(morning, instrument)) return false
    for (let d = (shift % days) + 1; d < morning % days; d++) if (!this.isFree(instrument, d)) return false
    return true
  }

  /** A visit more, or one less, for which a shift's person has an instrument on a day. */
  count(shift: number, instrument: number, day: number, by: 1 | -1): void {
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
}

const none = -1

/** A list of numbers stays in order, so that it does not tell in what order it was filled. */
export function addInOrder(list: number[], value: number) {
  list.push(value)
  list.sort((a, b) => a - b)
}
