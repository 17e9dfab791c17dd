import highsLoader, { type Highs } from 'highs'
import type { PlanProblem } from '../../packages/core/src/rounds'

let loaded: Promise<Highs> | undefined

/**
 * The least lateness (weighted days) of a reduced plan, or null when it was not proven within so many seconds: a
 * mixed-integer program over instants of a grid of minutes, solved by HiGHS. Nobody walks and nothing hangs over night. It
 * knows hours, windows, hands, instruments, warm-up, certificates and that a run may go on alone, in a form of its own. It
 * is easier than a plan in one thing: people, and instruments that fit the same, are counted and not told apart. So no plan
 * is better than what it gives.
 *
 * x(i,c,t): visit i is seated from t on with an instrument of class c. y(i,c,w,u): it is taken down from u on in the window
 * w, where it runs alone. Time-indexed, after J. P. Sousa, L. A. Wolsey, Math. Programming 54, 1992.
 */
export async function exactPlan(problem: PlanProblem, grid: number, seconds: number): Promise<number | null> {
  const solver = await (loaded ??= highsLoader())
  const { visits, people, instruments, dayBounds } = problem
  const days = dayBounds.length - 1
  const pieces = people.flatMap((p) => p.shifts)
  const dayOf = (t: number) => dayBounds.findIndex((from, d) => t >= from && t < dayBounds[d + 1])
  const isWorked = (from: number, to: number) => pieces.some((s) => s.from <= from && to <= s.to)
  const classes = classesOf(problem)
  const objective: string[] = []
  const rows: string[] = []
  const binaries: string[] = []
  const used = new Map<string, { most: number; terms: string[] }>()
  const use = (key: string, most: number, term: string) => {
    const one = used.get(key) ?? { most, terms: [] }
    one.terms.push(term)
    used.set(key, one)
  }
  const hands = (s: number, term: string) =>
    use(`hands ${s}`, pieces.filter((p) => p.from <= s && s < p.to).length, term)
  let constant = 0
  for (const [i, visit] of visits.entries()) {
    constant += visit.costs[days]
    const all: string[] = []
    const seated = (x: string, t: number) => {
      all.push(x)
      const gain = visit.costs[days] - visit.costs[dayOf(t)]
      if (gain > 0) objective.push(`- ${gain.toFixed(6)} ${x}`)
    }
    for (const [c, { members, count }] of classes.entries()) {
      const option = visit.options.find((o) => o.instrument === members[0])
      if (!option) continue
      const alone = visit.seat + option.run
      const whole = alone + visit.takeDown
      for (const [w, window] of visit.windows.entries()) {
        const seats: { t: number; x: string }[] = []
        for (let t = grid * Math.ceil(Math.max(window.from, visit.warm) / grid); t + whole <= window.to; t += grid)
          if (isWorked(t, t + (visit.attended ? whole : visit.seat)) && t + alone <= instruments[members[0]].validUntil)
            seats.push({ t, x: `x_${i}_${c}_${t}` })
        if (visit.attended) {
          for (const { t, x } of seats) {
            seated(x, t)
            for (let s = t; s < t + whole; s += grid) {
              hands(s, `+ ${x}`)
              use(`instruments ${c} ${s}`, count, `+ ${x}`)
            }
          }
          continue
        }
        const downs: { u: number; y: string }[] = []
        for (let u = grid * Math.ceil(window.from / grid); u + visit.takeDown <= window.to; u += grid)
          if (isWorked(u, u + visit.takeDown) && seats.some(({ t }) => dayOf(t) === dayOf(u) && t + alone <= u))
            downs.push({ u, y: `y_${i}_${c}_${w}_${u}` })
        const possible = seats.filter(({ t }) => downs.some(({ u }) => dayOf(u) === dayOf(t) && t + alone <= u))
        if (!possible.length) continue
        binaries.push(...downs.map((d) => d.y))
        for (const { t, x } of possible) {
          seated(x, t)
          for (let s = t; s < t + visit.seat; s += grid) hands(s, `+ ${x}`)
        }
        for (const { u, y } of downs) for (let s = u; s < u + visit.takeDown; s += grid) hands(s, `+ ${y}`)
        // What was seated is taken down, and not before it is ready.
        rows.push(`${possible.map((p) => p.x).join(' + ')} - ${downs.map((d) => d.y).join(' - ')} = 0`)
        for (const { u } of downs) {
          const ready = possible.filter(({ t }) => t + alone <= u).map((p) => p.x)
          const down = downs.filter((d) => d.u <= u).map((d) => d.y)
          rows.push(`${down.join(' + ')} - ${ready.join(' - ')} <= 0`)
        }
        for (let s = window.from; s < window.to; s += grid) {
          for (const { t, x } of possible) if (t <= s) use(`instruments ${c} ${s}`, count, `+ ${x}`)
          for (const { u, y } of downs) if (u + visit.takeDown <= s) use(`instruments ${c} ${s}`, count, `- ${y}`)
        }
      }
    }
    binaries.push(...all)
    if (all.length) rows.push(`${all.join(' + ')} <= 1`)
  }
  for (const { most, terms } of used.values()) if (terms.length > most) rows.push(`${terms.join(' ')} <= ${most}`)
  if (!objective.length) return constant
  const model = [
    'Minimize',
    ` obj: ${objective.join('\n ')}`,
    'Subject To',
    // A line of the format is at most 560 characters long.
    ...rows.map((row, n) => ` c${n}: ${row.replaceAll(/((?:\S+ ){20})/g, '$1\n  ')}`),
    'Binary',
    ...binaries.map((b) => ` ${b}`),
    'End',
  ].join('\n')
  const solved = solver.solve(model, { time_limit: seconds, mip_rel_gap: 1e-4, output_flag: false })
  return solved.Status === 'Optimal' ? constant + solved.ObjectiveValue : null
}

/** Instruments that are the same to every visit, counted. */
function classesOf({ instruments, visits }: PlanProblem) {
  const known = new Map<string, number[]>()
  for (const [k, { validUntil }] of instruments.entries()) {
    const fits = visits.map((v) => v.options.find((o) => o.instrument === k)?.run ?? null)
    const key = JSON.stringify([validUntil, fits])
    known.set(key, [...(known.get(key) ?? []), k])
  }
  return [...known.values()].map((members) => ({ members, count: members.length }))
}
