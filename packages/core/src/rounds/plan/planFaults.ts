import type { Plan, PlannedVisit, PlanProblem, Stretch } from './problem'

/**
 * What is wrong with a plan, looked at from the outside: it knows nothing of how plans are made, and reads times alone.
 * Empty for a plan that can be carried out.
 */
export function planFaults(problem: PlanProblem, { visits, unplanned }: Plan): string[] {
  const faults: string[] = []
  const { people, instruments } = problem
  const walk = (a: number, b: number) => problem.walk[a * problem.places + b]
  const seen = new Map<number, number>()
  for (const v of [...visits.map((p) => p.visit), ...unplanned]) seen.set(v, (seen.get(v) ?? 0) + 1)
  for (const v of problem.visits.keys())
    if (seen.get(v) !== 1) faults.push(`visit ${v} is told ${seen.get(v) ?? 0} times`)

  for (const one of visits) faults.push(...visitFaults(problem, one))

  // No person in two places: what each does with hands, in order, with the way between.
  for (const [p, person] of people.entries()) {
    const acts = visits
      .filter((v) => v.person === p)
      .flatMap((v) => actsOf(problem, v))
      .sort((a, b) => a.from - b.from || a.to - b.to)
    for (const [n, act] of acts.entries()) {
      const before = acts[n - 1]
      const shift = person.shifts.find((s) => act.from >= s.from && act.to <= s.to)
      if (!shift) faults.push(`person ${p} works outside their hours at ${act.from}`)
      if (before && act.from < before.to + walk(before.place, act.place))
        faults.push(`person ${p} is in two places at ${act.from}`)
    }
    // Each day begins and ends where they are at home.
    for (const [d, from] of problem.dayBounds.slice(0, -1).entries()) {
      const hours = person.shifts.filter((s) => s.from >= from && s.from < problem.dayBounds[d + 1])
      const own = acts.filter((a) => a.from >= from && a.from < problem.dayBounds[d + 1])
      if (!hours.length || !own.length) continue
      const [first, last] = [own[0], own[own.length - 1]]
      if (first.from < hours[0].from + walk(person.place, first.place))
        faults.push(`person ${p} sets out too early on day ${d}`)
      if (last.to + walk(last.place, person.place) > hours[hours.length - 1].to)
        faults.push(`person ${p} is not back in time on day ${d}`)
      const held = new Set(
        visits
          .filter((v) => v.person === p && v.at < problem.dayBounds[d + 1] && v.endsAt > from)
          .map((v) => v.instrument),
      )
      if (held.size > person.carries) faults.push(`person ${p} carries ${held.size} instruments on day ${d}`)
    }
  }

  // No instrument in two places, and none with two people on one day.
  for (const [k, instrument] of instruments.entries()) {
    const own = visits.filter((v) => v.instrument === k).sort((a, b) => a.at - b.at)
    for (const [n, v] of own.entries()) {
      const before = own[n - 1]
      if (
        before &&
        v.at <
          before.endsAt +
            (instrument.hangs ? 0 : walk(problem.visits[before.visit].place, problem.visits[v.visit].place))
      )
        faults.push(`instrument ${k} is in two places at ${v.at}`)
      if (instrument.hangs !== (v.person === null)) faults.push(`instrument ${k} is used by nobody at ${v.at}`)
      if (instrument.carrier !== null && instrument.carrier !== v.person) faults.push(`instrument ${k} is another's`)
      const day = problem.dayBounds.findIndex((b) => b > v.at) - 1
      const also = own.find(
        (o) => o.person !== v.person && o.at >= problem.dayBounds[day] && o.at < problem.dayBounds[day + 1],
      )
      if (also) faults.push(`instrument ${k} is with two people on day ${day}`)
    }
  }
  return faults
}

function visitFaults(problem: PlanProblem, one: PlannedVisit): string[] {
  const visit = problem.visits[one.visit]
  const option = visit.options.find((o) => o.instrument === one.instrument)
  if (!option) return [`visit ${one.visit} is made with an instrument that does not fit`]
  const name = `visit ${one.visit}`
  const holds: [boolean, string][] = [
    [one.readyAt === one.at + visit.seat + option.run, 'does not last as long as its run'],
    [one.takeDownAt >= one.readyAt, 'is taken down before it is ready'],
    [one.endsAt === one.takeDownAt + visit.takeDown, 'ends too early'],
    [!visit.attended || one.takeDownAt === one.readyAt, 'is left alone'],
    [visit.windows.some((w) => w.from <= one.at && w.to >= one.endsAt), 'lies outside its windows'],
    [one.wakeAt >= 0 && one.at - one.wakeAt >= visit.warm, 'is seated cold'],
    [one.readyAt <= problem.instruments[one.instrument].validUntil, 'is read past the certificate'],
    [
      !visit.pinned ||
        (visit.pinned.at === one.at &&
          visit.pinned.person === one.person &&
          visit.pinned.instrument === one.instrument),
      'was pinned elsewhere',
    ],
  ]
  return holds.filter(([is]) => !is).map(([, fault]) => `${name} ${fault}`)
}

/** What a person does with hands: seating and taking down, or both and the run between when they stay. */
function actsOf(problem: PlanProblem, one: PlannedVisit): (Stretch & { place: number })[] {
  const { place, seat, attended } = problem.visits[one.visit]
  return attended
    ? [{ from: one.at, to: one.endsAt, place }]
    : [
        { from: one.at, to: one.at + seat, place },
        { from: one.takeDownAt, to: one.endsAt, place },
      ]
}
