import type Database from 'better-sqlite3'
import type { RoundsVisit } from '@bichroma/core/rounds'

const day = 86_400_000
/** A member comes along with the first of its peer set that falls due where it would be due itself within so much of its calendar. */
const alongShare = 0.5

interface MemberRow {
  setId: number
  displayId: number
  dueAt: number
  everyDays: number
}

/** Peer sets whose members are read together, as far as they show the slots by which they belong to them. */
export interface SetsTogether {
  /** Displays that come along with one that falls due sooner, and when that does, ms since 1970. */
  readonly along: ReadonlyMap<number, number>
  /** Sets by the displays of their members, in the order of their age. */
  readonly sets: readonly (readonly number[])[]
}

/**
 * Which displays come along with which: of a peer set of which one falls due until an instant, those that would be due soon
 * after as well, so that from then on they fall due together.
 */
export function setsTogether(store: Database.Database, until: number): SetsTogether {
  const rows = store
    .prepare(
      `SELECT set_id AS setId, display.id AS displayId, due_at AS dueAt, check_every_days AS everyDays
       FROM peer_member JOIN display_now ON display_now.display_id = peer_member.display_id AND display_now.slot = peer_member.slot
         JOIN display ON display.id = peer_member.display_id
       WHERE display.kept = 'in use' AND due_at IS NOT NULL ORDER BY set_id, place`,
    )
    .all() as MemberRow[]
  const along = new Map<number, number>()
  const sets: number[][] = []
  for (const members of bySet(rows)) {
    if (members.length < 2) continue
    sets.push(members.map((m) => m.displayId))
    const first = Math.min(...members.map((m) => m.dueAt))
    if (first >= until) continue
    for (const { displayId, dueAt, everyDays } of members)
      if (dueAt > first && dueAt - first <= alongShare * everyDays * day)
        along.set(displayId, Math.min(first, along.get(displayId) ?? Infinity))
  }
  return { along, sets }
}

function bySet(rows: readonly MemberRow[]): MemberRow[][] {
  const sets = new Map<number, MemberRow[]>()
  for (const row of rows) {
    const known = sets.get(row.setId)
    if (known) known.push(row)
    else sets.set(row.setId, [row])
  }
  return [...sets.values()]
}

/**
 * Visits with those of one peer set marked as such, and left to one instrument that fits all of them: the one that they were told of or that is
 * there already, else the one that takes the least minutes. What is wrong with an instrument falls out of a difference that
 * it reads both ends of. A display in several sets goes with the oldest; where none fits all, each takes what it would.
 */
export function asSets(visits: readonly RoundsVisit[], sets: SetsTogether['sets']): RoundsVisit[] {
  const at = new Map(visits.map((v, i) => [v.displayId, i]))
  const made = [...visits]
  const settled = new Set<number>()
  for (const [set, members] of sets.entries()) {
    const places = members.flatMap((id) => (at.has(id) && !settled.has(id) ? [at.get(id)!] : []))
    if (places.length < 2) continue
    const own = places.map((i) => made[i])
    const common = own[0].options
      .map((o) => o.instrumentId)
      .filter((id) => own.every((v) => v.options.some((o) => o.instrumentId === id)))
    if (!common.length) {
      for (const i of places) made[i] = { ...made[i], set }
      continue
    }
    const known = (v: RoundsVisit) => v.pinned?.instrumentId ?? v.told?.instrumentId
    const votes = (id: number) => own.filter((v) => known(v) === id).length
    const minutes = (id: number) => own.reduce((sum, v) => sum + v.options.find((o) => o.instrumentId === id)!.run, 0)
    const best = common.reduce((a, b) =>
      votes(b) > votes(a) || (votes(b) === votes(a) && minutes(b) < minutes(a)) ? b : a,
    )
    for (const i of places) {
      settled.add(made[i].displayId)
      // What is pinned to another stays with it.
      const isElsewhere = made[i].pinned !== null && made[i].pinned.instrumentId !== best
      const options = isElsewhere ? made[i].options : made[i].options.filter((o) => o.instrumentId === best)
      made[i] = { ...made[i], set, options }
    }
  }
  return made
}
