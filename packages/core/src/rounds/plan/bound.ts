import type { PlanProblem, Stretch } from './problem'

/** What nobody can do better than, and what holds everybody back. */
export interface PlanBound {
  /** Weighted days of lateness that no plan can be below. */
  readonly late: number
  /** By how much the bound falls with an hour more of a resource, the dearest first; those that cost nothing are left out. */
  readonly prices: readonly { readonly resource: Resource; readonly perHour: number }[]
  /** The day on which each visit is put at these prices, or −1: where it is best begun to look. */
  readonly days: Int32Array
}

/**
 * Hands: the hours of all people. Instruments: those that fit the same visits, by their numbers in the problem, while
 * somebody has them. Both may be those of some hours alone, where visits have no others. Nights: one for each instrument
 * that may hang until the next morning, counted as an hour.
 */
export type Resource =
  | { readonly kind: 'hands'; readonly within: readonly Stretch[] | null }
  | { readonly kind: 'instruments'; readonly of: readonly number[]; readonly within: readonly Stretch[] | null }
  | { readonly kind: 'nights'; readonly of: readonly number[] }

/**
 * A lower bound on lateness. Tours are let go: each visit is put on a day, and each day has only so many minutes of hands,
 * and of every set of instruments; what cannot do without them pays a price for their minutes (Lagrange multipliers, one
 * for each resource and day), and for any prices that are not negative
 *
 *   Σ over visits of min over days (cost + price of the minutes) − Σ price · minutes there are
 *
 * is at most what the best plan costs. Prices are found by steps along the subgradient; whatever they are, the bound holds.
 * M. Held, P. Wolfe, H. P. Crowder, Math. Programming 6, 1974.
 */
export function planBound(problem: PlanProblem, rounds = 300): PlanBound {
  const { visits, dayBounds } = problem
  const days = dayBounds.length - 1
  const groups = groupsOf(problem)
  const resources = resourcesOf(problem, groups)
  const counted = groups.flatMap((group, g) => group.visits.map((v) => ({ v, g })))
  const needs = needsOf(problem)
  const prices = resources.map(() => new Float64Array(days))
  const used = resources.map(() => new Float64Array(days))
  const placed = new Int32Array(visits.length).fill(-1)
  let best = -Infinity
  let bestPrices = prices.map((p) => p.slice())
  let bestPlaced = placed.slice()
  /** Prices by group and day: of a minute of hands, and of what else it takes. */
  const priceOf = groups.map(({ modes }) => modes.map(() => [new Float64Array(days), new Float64Array(days)] as const))
  let [scale, sinceBetter] = [1, 0]
  const upper = counted.reduce((sum, { v }) => sum + visits[v].costs[days], 0)
  for (let round = 0; round < rounds; round++) {
    for (const u of used) u.fill(0)
    for (const [g, { modes }] of groups.entries())
      for (const [m, mode] of modes.entries())
        for (const [i, list] of [mode.hands, mode.held].entries()) {
          const into = priceOf[g][m][i].fill(0)
          for (const r of list) for (let d = 0; d < days; d++) into[d] += prices[r][d]
        }
    let value = 0
    for (const { v, g } of counted) {
      const { costs } = visits[v]
      const { can, modes } = groups[g]
      let [least, on, by] = [costs[days], -1, 0]
      for (let m = 0; m < modes.length; m++) {
        const { hands, held } = needs[modes[m].kind]
        const [ofHands, ofHeld] = priceOf[g][m]
        for (let d = 0; d < days; d++) {
          if (!can[d]) continue
          const cost = costs[d] + hands[v] * ofHands[d] + held[v] * ofHeld[d]
          if (cost < least) [least, on, by] = [cost, d, m]
        }
      }
      value += least
      placed[v] = on
      if (on < 0) continue
      const mode = modes[by]
      for (const r of mode.hands) used[r][on] += needs[mode.kind].hands[v]
      for (const r of mode.held) used[r][on] += needs[mode.kind].held[v]
    }
    let norm = 0
    for (const [r, { capacity }] of resources.entries())
      for (let d = 0; d < days; d++) {
        value -= prices[r][d] * capacity[d]
        const over = used[r][d] - capacity[d]
        if (over > 0 || prices[r][d] > 0) norm += over * over
      }
    if (value > best + 1e-9) {
      best = value
      bestPrices = prices.map((p) => p.slice())
      bestPlaced = placed.slice()
      sinceBetter = 0
    } else if (++sinceBetter > 8) {
      scale *= 0.7
      sinceBetter = 0
    }
    if (norm === 0) break
    // Polyak's step towards a value that is a little above the best that is known.
    const aim = best + 0.05 * (Math.abs(best) + 1e-3 * upper + 1e-9)
    const step = (scale * (aim - value)) / norm
    for (const [r, { capacity }] of resources.entries())
      for (let d = 0; d < days; d++) prices[r][d] = Math.max(0, prices[r][d] + step * (used[r][d] - capacity[d]))
  }
  // Where an instrument hangs, nothing is asked but a day on which there is a window.
  const hung = visits.reduce((sum, { options, windows, costs }) => {
    if (!options.some((o) => problem.instruments[o.instrument].hangs)) return sum
    const first = dayBounds.findIndex(
      (_, d) => d < days && windows.some((w) => w.to > dayBounds[d] && w.from < dayBounds[d + 1]),
    )
    return sum + costs[first < 0 ? days : first]
  }, 0)
  return {
    late: Math.max(0, best) + hung,
    prices: resources
      .map(({ resource }, r) => ({ resource, perHour: 60 * bestPrices[r].reduce((sum, p) => sum + p, 0) }))
      .filter((p) => p.perHour > 1e-6)
      .sort((a, b) => b.perHour - a.perHour),
    days: bestPlaced,
  }
}

/** Minutes of hands, and of its instrument, that a visit takes at least on the day on which it is seated. */
function needsOf({ visits, instruments }: PlanProblem) {
  const least = visits.map((v) =>
    Math.min(...v.options.filter((o) => !instruments[o.instrument].hangs).map((o) => o.run)),
  )
  return {
    day: {
      hands: Float64Array.from(visits, (v, n) => v.seat + v.takeDown + (v.attended ? least[n] : 0)),
      held: Float64Array.from(visits, (v, n) => v.seat + v.takeDown + least[n]),
    },
    // It is taken down on another day; of the instrument it takes the night.
    night: {
      hands: Float64Array.from(visits, (v) => v.seat),
      held: new Float64Array(visits.length).fill(60),
    },
  }
}

/** A way to make a visit, with the numbers of the resources that it takes from. */
interface Mode {
  readonly kind: 'day' | 'night'
  readonly hands: number[]
  readonly held: number[]
}

/** Visits that have the same instruments and windows, and so take from the same resources. */
interface Group {
  readonly visits: readonly number[]
  readonly instruments: readonly number[]
  readonly windows: readonly Stretch[]
  /** {@link windows} as text, to be told from others. */
  readonly hours: string
  readonly modes: readonly Mode[]
  /** Days on which a window lies. */
  readonly can: Uint8Array
}

function groupsOf({ visits, instruments, dayBounds }: PlanProblem): Group[] {
  const known = new Map<string, Group & { visits: number[] }>()
  for (const [n, v] of visits.entries()) {
    const own = v.options.map((o) => o.instrument).filter((k) => !instruments[k].hangs)
    if (!own.length) continue
    own.sort((a, b) => a - b)
    const key = JSON.stringify([own, v.windows, v.overnight])
    const group = known.get(key)
    if (group) group.visits.push(n)
    else
      known.set(key, {
        visits: [n],
        instruments: own,
        windows: v.windows,
        hours: JSON.stringify(v.windows),
        modes: [
          { kind: 'day', hands: [], held: [] },
          ...(v.overnight ? [{ kind: 'night' as const, hands: [], held: [] }] : []),
        ],
        can: Uint8Array.from(dayBounds.slice(1), (to, d) =>
          v.windows.some((w) => w.from < to && w.to > dayBounds[d]) ? 1 : 0,
        ),
      })
  }
  return [...known.values()]
}

/** So many distinct sets of windows at most are looked at by themselves. */
const mostWindows = 12

/** Every resource with its minutes by day, noted with the groups that take from it. */
function resourcesOf({ people, dayBounds }: PlanProblem, groups: readonly Group[]) {
  const days = Array.from({ length: dayBounds.length - 1 }, (_, d) => d)
  const windows = distinct(groups.map((g) => g.windows)).slice(0, mostWindows)
  const sets = distinct(groups.map((g) => g.instruments))
  /** Who works on each day, from when until when. */
  const shiftsOf = days.map((d) =>
    people.map(({ carries, shifts }) => ({
      carries,
      own: shifts.filter((s) => s.from >= dayBounds[d] && s.from < dayBounds[d + 1]),
    })),
  )
  const resources: { resource: Resource; capacity: Float64Array }[] = []
  const add = (resource: Resource, capacity: (day: number) => number, lists: number[][]) => {
    for (const list of lists) list.push(resources.length)
    resources.push({ resource, capacity: Float64Array.from(days, capacity) })
  }
  for (const within of [null, ...windows]) {
    const hours = within && JSON.stringify(within)
    const inside = groups.filter((g) => hours === null || g.hours === hours)
    // Hands of the evening are the day's too, wherever the instrument is taken down.
    const modes = (g: Group) => (within === null ? g.modes : g.modes.slice(0, 1))
    add(
      { kind: 'hands', within },
      (d) => shiftsOf[d].reduce((sum, { own }) => sum + own.reduce((all, s) => all + shared(s, within), 0), 0),
      inside.flatMap((g) => modes(g).map((m) => m.hands)),
    )
    for (const of of sets) {
      const fit = inside.filter((g) => isWithin(g.instruments, of))
      if (!fit.length) continue
      // An instrument is with one person on one day: from when they come until they go, and with so many at most.
      add(
        { kind: 'instruments', of, within },
        (d) =>
          longest(
            shiftsOf[d].map(({ own, carries }) => ({
              span: own.length ? shared({ from: own[0].from, to: own[own.length - 1].to }, within) : 0,
              carries,
            })),
            of.length,
          ),
        fit.map((g) => g.modes[0].held),
      )
      const nightly = fit.filter((g) => g.modes.length > 1)
      // Hung up by those alone who are still there when a window is open that outlasts them.
      const isThere = (to: number) => nightly.some((g) => g.windows.some((w) => w.from < to && w.to > to))
      if (within === null && nightly.length)
        add(
          { kind: 'nights', of },
          (d) => {
            const hanging = shiftsOf[d].filter(({ own }) => own.length && isThere(own[own.length - 1].to))
            return (
              60 *
              Math.min(
                of.length,
                hanging.reduce((sum, { carries }) => sum + carries, 0),
              )
            )
          },
          nightly.map((g) => g.modes[1].held),
        )
    }
  }
  return resources
}

const isWithin = (some: readonly number[], all: readonly number[]) => some.every((k) => all.includes(k))

/** Minutes of so many instruments, with those who are there longest. */
function longest(spans: readonly { span: number; carries: number }[], instruments: number): number {
  let [left, minutes] = [instruments, 0]
  for (const { span, carries } of [...spans].sort((a, b) => b.span - a.span)) {
    const some = Math.min(left, carries)
    minutes += some * span
    left -= some
  }
  return minutes
}

const shared = ({ from, to }: Stretch, within: readonly Stretch[] | null) =>
  within === null
    ? to - from
    : within.reduce((sum, w) => sum + Math.max(0, Math.min(to, w.to) - Math.max(from, w.from)), 0)

/** Lists without their likes. */
function distinct<T>(lists: readonly (readonly T[])[]): (readonly T[])[] {
  return [...new Map(lists.map((list) => [JSON.stringify(list), list])).values()]
}
