import type { DataSource } from 'typeorm'
import {
  visitReasonSchema,
  makePlanSchema,
  moveVisitSchema,
  tourSchema,
  unplannedListSchema,
  validate,
  weekSchema,
  type Capacity,
  type Page,
  type Visit,
} from '@bichroma/contract'
import type { RoundsRelief } from '@bichroma/core/rounds'
import { holds, pageOf } from '../data/pageOf'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import { toldVisits } from './entities'
import { instrumentsQuery, peopleQuery, type InstrumentFacts, type PersonFacts } from './houseFacts'
import { newestPlan, type RoundsPlanner } from './planner'
import { tourOf } from './tour'
import type { Visits } from './visits'
import { instrumentsDue } from './instrumentsDue'
import { planStanding, visitsAsTold, weekOf } from './week'

interface RoundsServices {
  readonly data: DataSource
  readonly planner: RoundsPlanner
  readonly visits: Visits
  readonly now: () => number
}

/** Days that are planned until somebody asks for others. */
const usualDays = 7

export function roundsRoutes(api: Api, { data, planner, visits, now }: RoundsServices): void {
  api.on('GET /rounds/plan', async () => ({ plan: await planStanding(data, planner.busy, now()) }))
  api.on('POST /rounds/plan', async (request) => {
    await planner.make(validate(makePlanSchema, request.body).days, request.account)
    return { plan: await planStanding(data, planner.busy, now()) }
  })
  api.on('POST /rounds/told', async (request) => ({ told: await visits.tell(request.account) }))
  api.on('GET /rounds/week', (request) =>
    weekOf(data, { working: planner.busy, now: now(), from: queryOf(request, weekSchema).from }),
  )
  api.on('GET /rounds/unplanned', (request) => listUnplanned(data, queryOf(request, unplannedListSchema), now()))
  api.on('GET /rounds/tour', (request) => tourOf(data, request.account, queryOf(request, tourSchema), now()))
  api.on('GET /rounds/instruments-due', () => instrumentsDue(data, now()))
  api.on('GET /rounds/capacity', () => capacityOf(data, planner, now))

  api.on('PUT /visits/:id', async (request) => {
    const move = validate(moveVisitSchema, request.body)
    const { displaced } = await visits.move(
      idOf(request),
      { personId: move.personId, instrumentId: move.instrumentId, at: move.at },
      request.account,
    )
    return { displaced: [...displaced] }
  })
  api.on('DELETE /visits/:id/pin', async (request) => {
    await visits.letGo(idOf(request), request.account)
    return {}
  })
  api.on('POST /visits/:id/begin', async (request, response) => {
    const runId = await visits.begin(idOf(request), request.account)
    response.status(201)
    return { id: runId }
  })
  api.on('POST /visits/:id/block', async (request) => {
    await visits.block(idOf(request), validate(visitReasonSchema, request.body).why, request.account)
    return {}
  })
  api.on('POST /visits/:id/drop', async (request) => {
    await visits.drop(idOf(request), validate(visitReasonSchema, request.body).why, request.account)
    return {}
  })
}

/** Visits that no plan could hold, the most overdue first. */
async function listUnplanned(
  data: DataSource,
  asked: { search?: string; cursor?: string; limit?: string },
  now: number,
): Promise<Page<Visit>> {
  const page = await pageOf<{ id: number }>(data, asked, {
    columns: 'visit.id AS id',
    from: 'visit JOIN display_now ON display_now.display_id = visit.display_id',
    where: [{ sql: `visit.state = 'unplanned'` }, holds('words', asked.search)],
    by: 'visit.due_at',
    id: 'visit.id',
  })
  const rows = await toldVisits(
    data,
    'visit.id IN (SELECT value FROM json_each(?))',
    [JSON.stringify(page.items.map((i) => i.id))],
    'visit.due_at, visit.id',
  )
  return { ...page, items: await visitsAsTold(data, rows, { now }) }
}

/** What this team can keep, and what one thing more would come to. */
async function capacityOf(data: DataSource, planner: RoundsPlanner, now: () => number): Promise<Capacity> {
  const plan = await newestPlan(data)
  if (!plan) throw new Refusal('conflict', 'Nothing is planned yet. Plan rounds first.')
  const outcomes = await planner.whatIf(plan.days || usualDays)
  const people = await data.query<PersonFacts[]>(peopleQuery)
  const instruments = await data.query<InstrumentFacts[]>(instrumentsQuery)
  const [{ displays }] = await data.query<[{ displays: number }]>('SELECT COUNT(*) AS displays FROM display_now')
  const names = new Map(instruments.map((i) => [i.id, i.name]))
  const nameOf = (relief: RoundsRelief | null) => {
    if (!relief) return 'as it is'
    const words = {
      hours: 'two hours more a day for everybody',
      person: 'one person more',
      windows: 'workstations free at any time',
      certificate: 'certificates that all hold',
    }
    return relief.kind === 'instrument'
      ? `one more like ${names.get(relief.likeId) ?? 'this instrument'}`
      : words[relief.kind]
  }
  const shares = [
    ...plan.load.people.map((p) => ({
      name: people.find((q) => q.id === p.id)?.name ?? 'somebody',
      share: p.of ? p.busy / p.of : 0,
    })),
    ...plan.load.instruments.map((i) => ({
      name: names.get(i.id) ?? 'an instrument',
      share: i.of ? i.busy / i.of : 0,
    })),
  ].sort((a, b) => b.share - a.share)
  const [tightest = null] = shares
  /** What everybody, or all instruments, together do of what they could. */
  const together = (loads: readonly { busy: number; of: number }[]) => {
    const of = loads.reduce((sum, l) => sum + l.of, 0)
    return of ? loads.reduce((sum, l) => sum + l.busy, 0) / of : 0
  }
  const share = Math.max(together(plan.load.people), together(plan.load.instruments))
  const standing = await planStanding(data, planner.busy, now())
  const behind = (standing?.unplanned ?? 0) + (standing?.late ?? 0)
  return {
    displays,
    // Where all is made in time, as many more as there are hours for; else those that are.
    keeps: behind ? Math.max(0, displays - behind) : share > 0 ? Math.floor(displays / Math.min(1, share)) : displays,
    tightest,
    outcomes: outcomes.map((o) => ({ ...o, name: nameOf(o.relief) })),
  }
}
