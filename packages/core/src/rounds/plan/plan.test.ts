import fc from 'fast-check'
import { lateCosts, madeStudio } from '../../test/madeStudio'
import { overdueFirst } from '../../test/overdueFirst'
import { explainShortages, isAsTold, planBound, planFaults, planRounds, type Plan, type PlanProblem } from '.'

const day = 1440
/** One person from eight to five, one instrument, nobody walks. */
const simple = (change: Partial<PlanProblem> = {}): PlanProblem => ({
  dayBounds: [0, day, 2 * day, 3 * day],
  places: 1,
  walk: [0],
  people: [{ place: 0, carries: 1, shifts: [0, 1, 2].map((d) => ({ from: d * day + 480, to: d * day + 1020 })) }],
  instruments: [{ place: 0, validUntil: Infinity, carrier: null, hangs: false }],
  visits: [visit()],
  ...change,
})
const visit = (change: Partial<PlanProblem['visits'][number]> = {}) => ({
  place: 0,
  windows: [0, 1, 2].map((d) => ({ from: d * day + 480, to: d * day + 1080 })),
  seat: 5,
  takeDown: 3,
  attended: false,
  warm: 30,
  options: [{ instrument: 0, run: 40 }],
  overnight: false,
  costs: lateCosts(0, 1, 3),
  ...change,
})

describe('plans of a thousand made-up studios', () => {
  const studios = fc.record({
    seed: fc.integer({ min: 0, max: 1e6 }),
    visits: fc.integer({ min: 1, max: 24 }),
    people: fc.integer({ min: 1, max: 4 }),
    instruments: fc.integer({ min: 1, max: 6 }),
    days: fc.integer({ min: 1, max: 9 }),
    rooms: fc.integer({ min: 1, max: 4 }),
    due: fc.constant([6, 6] as const),
  })
  const effort = 0.004

  it('can be carried out: nobody and nothing is in two places, hours, windows, warm-up, fit and certificates are kept @long @long', () => {
    fc.assert(
      fc.property(studios, (made) => {
        const problem = madeStudio(made.seed, made)
        expect(planFaults(problem, planRounds(problem, { effort }))).toEqual([])
      }),
      { numRuns: 1000, seed: 1 },
    )
  })

  it('are the same from the same input, cost what they say, and no less than the bound @long', () => {
    fc.assert(
      fc.property(studios, (made) => {
        const problem = madeStudio(made.seed, made)
        const plan = planRounds(problem, { effort })
        expect(planRounds(problem, { effort })).toEqual(plan)
        expect(plan.cost.late).toBeCloseTo(latenessOf(problem, plan), 6)
        expect(planBound(problem).late).toBeLessThanOrEqual(plan.cost.late + 1e-6)
      }),
      { numRuns: 150, seed: 2 },
    )
  })

  it('keep what is pinned, and tell few people something else when something comes in between @long', () => {
    fc.assert(
      fc.property(studios, (made) => {
        const problem = madeStudio(made.seed, made)
        const before = planRounds(problem, { effort })
        const at = new Map(
          before.visits.map((v) => [v.visit, { person: v.person, instrument: v.instrument, at: v.at }]),
        )
        const visits = problem.visits.map((v, n) => {
          const told = at.get(n)
          return told ? { ...v, ...(n % 3 ? { told } : { pinned: told }) } : v
        })
        const again = { ...problem, visits }
        const after = planRounds(again, { effort })
        expect(planFaults(again, after)).toEqual([])
        // Nothing has changed, so nothing moves unless lateness falls by it.
        const moved = after.visits.filter((v) => visits[v.visit].told && !isAsTold(visits[v.visit].told!, v)).length
        const lost = after.unplanned.filter((v) => visits[v].told).length
        expect(after.cost.moved).toBe(moved + lost)
        expect(after.cost.late + 0.25 * after.cost.moved).toBeLessThanOrEqual(before.cost.late + 1e-6)
      }),
      { numRuns: 150, seed: 3 },
    )
  })
})

test('visits of one set come together: fewer days between them, no fault, and as little lateness @long', () => {
  const setOf = (n: number) => (n % 3 ? undefined : n % 2)
  const apart = (problem: PlanProblem, { visits }: Plan) => {
    const dayAt = (at: number) => problem.dayBounds.filter((b) => b <= at).length - 1
    return [0, 1].reduce((sum, set) => {
      const days = visits.filter((v) => setOf(v.visit) === set).map((v) => dayAt(v.at))
      return sum + (days.length > 1 ? Math.max(...days) - Math.min(...days) : 0)
    }, 0)
  }
  const [together, alone, late] = [[0], [0], [0]].map(([n]) => ({ sum: n }))
  for (let seed = 0; seed < 20; seed++) {
    const plain = madeStudio(seed, { visits: 18, people: 2, instruments: 3, days: 6, rooms: 3, due: [6, 6] })
    const problem = { ...plain, visits: plain.visits.map((v, n) => ({ ...v, set: setOf(n) })) }
    const [with_, without] = [planRounds(problem, { effort: 0.05 }), planRounds(plain, { effort: 0.05 })]
    expect(planFaults(problem, with_)).toEqual([])
    together.sum += apart(problem, with_)
    alone.sum += apart(problem, without)
    late.sum += with_.cost.late - without.cost.late
  }
  expect(together.sum).toBeLessThan(0.5 * alone.sum)
  // Lateness comes first: what is lost by being together is what chance makes of two searches.
  expect(late.sum / 20).toBeLessThan(0.05)
})

/** Lateness by the times alone. */
function latenessOf(problem: PlanProblem, plan: Plan): number {
  const dayAt = (at: number) => problem.dayBounds.filter((b) => b <= at).length - 1
  const last = problem.dayBounds.length - 1
  return (
    plan.visits.reduce((sum, v) => sum + problem.visits[v.visit].costs[dayAt(v.readyAt)], 0) +
    plan.unplanned.reduce((sum, v) => sum + problem.visits[v].costs[last], 0)
  )
}

describe('a plan', () => {
  it('seats the next display while the first one runs alone, when there are two instruments', () => {
    const instruments = [0, 1].map(() => ({ place: 0, validUntil: Infinity, carrier: null, hangs: false }))
    const options = [0, 1].map((instrument) => ({ instrument, run: 40 }))
    const problem = simple({
      instruments,
      people: [{ ...simple().people[0], carries: 2, shifts: [{ from: 480, to: 546 }] }],
      visits: [visit({ options }), visit({ options })],
    })
    const { visits, unplanned } = planRounds(problem)
    expect(unplanned).toEqual([])
    expect(visits[1].at).toBeLessThan(visits[0].readyAt)
    expect(planRounds({ ...problem, people: [{ ...problem.people[0], carries: 1 }] }).unplanned).toHaveLength(1)
  })

  it('hangs an instrument over night where the artists have gone, and takes it down in the morning', () => {
    const evening = [0, 1].map((d) => ({ from: d * day + 1000, to: (d + 1) * day + 540 }))
    const { visits } = planRounds(simple({ visits: [visit({ windows: evening, overnight: true })] }))
    expect(visits[0]).toMatchObject({ at: 1000, readyAt: 1045, takeDownAt: day + 480 })
  })

  it('goes where nobody comes: an instrument that hangs there needs no person', () => {
    const problem = simple({
      people: [],
      instruments: [{ place: 0, validUntil: Infinity, carrier: null, hangs: true }],
      visits: [visit(), visit()],
    })
    const { visits } = planRounds(problem)
    expect(visits.map((v) => [v.person, v.at])).toEqual([
      [null, 480],
      [null, 528],
    ])
  })

  it('walks the shorter way when all are equally late', () => {
    // A row of five rooms, a minute apart; the instrument lies in the first.
    const places = 5
    const walk = Array.from({ length: 25 }, (_, n) => Math.abs((n % 5) - Math.floor(n / 5)))
    const visits = [3, 1, 4, 2].map((place) => visit({ place, attended: true }))
    const { cost } = planRounds(simple({ places, walk, visits }))
    expect(cost.walk).toBe(8)
  })

  it('is as good as the best of all orders, for a few visits that compete for one day @long', () => {
    const uniform = fc.sample(
      fc.array(fc.record({ run: fc.integer({ min: 20, max: 160 }), weight: fc.integer({ min: 1, max: 5 }) }), {
        minLength: 5,
        maxLength: 6,
      }),
      { numRuns: 25, seed: 4 },
    )
    for (const some of uniform) {
      const visits = some.map(({ run, weight }) =>
        visit({ attended: true, options: [{ instrument: 0, run }], costs: lateCosts(-1, weight, 3) }),
      )
      const problem = simple({
        visits,
        people: [{ ...simple().people[0], shifts: [0, 1, 2].map((d) => ({ from: d * day + 480, to: d * day + 780 })) }],
      })
      expect(planRounds(problem, { effort: 0.2 }).cost.late).toBeCloseTo(best(some), 6)
    }
  })

  it('takes the bound’s word: it is what the best plan costs where hands alone are short', () => {
    const visits = [3, 2, 1].map((weight) =>
      visit({ attended: true, options: [{ instrument: 0, run: 502 }], costs: lateCosts(-1, weight, 3) }),
    )
    const problem = simple({ visits })
    expect(planRounds(problem).cost.late).toBe(3 + 4 + 3)
    expect(planBound(problem).late).toBeCloseTo(10, 0)
    expect(planBound(problem).prices[0].resource.kind).toMatch(/hands|instruments/)
  })

  it('refuses numbers that do not fit each other', () => {
    expect(() => planRounds(simple({ walk: [] }))).toThrow(/Walking/)
    expect(() => planRounds(simple({ visits: [visit({ place: 1 })] }))).toThrow(/place/)
    expect(() => planRounds(simple({ visits: [visit({ costs: [0, 2, 1, 3] })] }))).toThrow(/fall/)
    expect(() => planRounds(simple({ visits: [visit({ options: [] })] }))).toThrow(/instrument/)
  })
})

/** The least lateness over all orders, each packed day by day. */
function best(some: readonly { run: number; weight: number }[]): number {
  let least = Infinity
  const order = (left: readonly number[], dayNumber: number, minutes: number, cost: number) => {
    if (cost >= least) return
    if (!left.length) least = cost
    for (const v of left) {
      const rest = left.filter((other) => other !== v)
      const whole = some[v].run + 8
      const next = minutes + whole <= 300 ? [dayNumber, minutes + whole] : [dayNumber + 1, whole]
      if (next[0] > 2) order(rest, dayNumber, minutes, cost + lateCosts(-1, some[v].weight, 3)[3])
      else order(rest, next[0], next[1], cost + lateCosts(-1, some[v].weight, 3)[next[0]])
    }
  }
  order([...some.keys()], 0, 0, 0)
  return least
}

describe('what is missing', () => {
  const kinds = (problem: PlanProblem) => {
    const found = explainShortages(problem, planRounds(problem))
    return found.map((s) => s.reliefs.map((r) => r.kind).sort())
  }
  const late = { costs: [0, 1, 2, 9] }

  it('is an instrument where people could do more with another one', () => {
    const twoAtOnce = [
      visit({ ...late, options: [{ instrument: 0, run: 400 }] }),
      visit({ ...late, options: [{ instrument: 0, run: 400 }] }),
    ]
    const [shortage] = kinds(simple({ people: [{ ...simple().people[0], carries: 2 }], visits: twoAtOnce }))
    expect(shortage).toContain('instrument')
    expect(shortage).not.toContain('person')
  })

  it('is hands where somebody has to stay, and a longer day would do too', () => {
    const instruments = [0, 1].map(() => simple().instruments[0])
    const stays = () =>
      visit({ ...late, attended: true, options: [0, 1].map((instrument) => ({ instrument, run: 270 })) })
    expect(kinds(simple({ instruments, visits: [stays(), stays()] }))).toEqual([['hours', 'person']])
  })

  it('is the workstation’s hours where nobody works while it may be used, and a certificate that ran out', () => {
    const windows = [{ from: 1030, to: 1400 }]
    expect(kinds(simple({ visits: [visit({ ...late, windows })] }))).toEqual([['hours', 'windows']])
    const ranOut = [{ ...simple().instruments[0], validUntil: 100 }]
    expect(kinds(simple({ instruments: ranOut, visits: [visit(late)] }))).toEqual([['certificate']])
  })

  it('is nothing when all are made in time', () => {
    expect(kinds(simple({ visits: [visit(), visit()] }))).toEqual([])
  })
})

describe('looking for faults', () => {
  const problem = madeStudio(5, { visits: 20, people: 2, instruments: 4, days: 5 })
  const plan = planRounds(problem, { effort: 0.1 })
  const changed = (change: (v: Plan['visits'][number]) => Partial<Plan['visits'][number]>): string[] => {
    const n = plan.visits.findIndex((v) => v.person !== null)
    return planFaults(problem, { ...plan, visits: plan.visits.map((v, m) => (m === n ? { ...v, ...change(v) } : v)) })
  }

  it('sees a display that is seated cold, too soon, or read for too short', () => {
    expect(changed((v) => ({ wakeAt: v.at })).join()).toMatch(/cold/)
    expect(changed((v) => ({ readyAt: v.readyAt - 1 })).join()).toMatch(/as long as its run/)
    expect(changed((v) => ({ takeDownAt: v.readyAt - 2 })).join()).toMatch(/before it is ready/)
  })

  it('sees people outside their hours and in two places, and an instrument that is another’s', () => {
    expect(
      changed((v) => ({
        at: v.at - 600,
        readyAt: v.readyAt - 600,
        takeDownAt: v.takeDownAt - 600,
        endsAt: v.endsAt - 600,
      })).join(),
    ).toMatch(/hours|windows/)
    const second = plan.visits[1]
    expect(planFaults(problem, { ...plan, visits: [...plan.visits, { ...second }] }).join()).toMatch(/told 2 times/)
    expect(planFaults(problem, { ...plan, visits: plan.visits.slice(1) }).join()).toMatch(/told 0 times/)
    expect(changed(() => ({ instrument: 99 })).join()).toMatch(/does not fit/)
  })

  it('finds none in going to what is most overdue, which comes later to many @long', () => {
    const made = madeStudio(3, { visits: 60, people: 2, instruments: 4, days: 5, due: [10, 5], byDay: true })
    const plain = overdueFirst(made, (v) => made.due[v])
    expect(planFaults(made, plain).filter((f) => !/carries|back in time/.test(f))).toEqual([])
    expect(planRounds(made, { effort: 0.1 }).cost.late).toBeLessThan(plain.cost.late)
  })
})
