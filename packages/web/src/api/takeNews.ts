import type { QueryClient } from '@tanstack/react-query'
import type { FleetNews, FloorSummary, Pulse, RunDetail, RunNews } from '@bichroma/contract'
import { patchLists } from './lists'
import { makeStale } from './makeStale'
import { putNews } from './putNews'

/** Puts what became of a run in its place: the stages that changed among those that are there. */
export function takeRun(client: QueryClient, { latest, stages, ...live }: RunNews): void {
  putNews<RunDetail>(client, ['runs', String(live.id)], (known) => {
    const last = known.log[known.log.length - 1]?.seq ?? -1
    const changed = new Map(stages.map((s) => [s.stage, s]))
    return {
      ...known,
      ...live,
      stages: [
        ...known.stages.map((s) => changed.get(s.stage) ?? s),
        ...stages.filter((s) => !known.stages.some((k) => k.stage === s.stage)),
      ],
      log: latest && latest.seq > last ? [...known.log, latest] : known.log,
    }
  })
}

/** Whether a list is of everything, in an order that no news changes: what it lacks is further down. */
const isPlain = (address: unknown) =>
  typeof address === 'string' && !/[?&](verdict|due|sort|standing|state)=/.test(address)

/** Puts what became of displays, workstations and runs in its place; asks anew only for what that cannot tell. */
export function takeNews(client: QueryClient, news: FleetNews): void {
  const { displays, rollout, workstations, runs, rooms, floor, pulse } = news
  const stale = (key: readonly unknown[]) => void makeStale(client, key as string[])
  patchLists(client, '/displays', displays, (d) => d.id)
  patchLists(client, '/rollout', rollout, (r) => r.displayId)
  patchLists(client, '/workstations', workstations, (w) => w.id)
  // A run that a list of runs lacks is a new one, and one that left the queue began later than it was asked for.
  const byStart = patchLists(
    client,
    '/runs',
    runs,
    (r) => r.id,
    (r) => r.startedAt,
  )
  for (const key of byStart.lacking) stale(key)
  // A list by verdict, due line or standing may now hold others.
  if (displays.length)
    for (const area of ['displays', 'rollout'])
      for (const [key] of client.getQueriesData({ queryKey: [area, 'list'] })) if (!isPlain(key.at(-1))) stale(key)
  for (const { id } of displays) stale(['displays', String(id)])
  if (rollout.length) for (const key of [['rollout', 'summary'], ['waves']]) stale(key)
  for (const { id, displayId } of runs) {
    stale(['displays', String(displayId)])
    stale(['runs', String(id)])
  }
  putNews<FloorSummary>(client, ['floor'], (known) => {
    const changed = new Map(rooms.map((r) => [r.id, r]))
    return { ...known, ...floor, rooms: known.rooms.map((r) => changed.get(r.id) ?? r) }
  })
  putNews<Pulse>(client, ['pulse'], () => pulse)
  stale(['needs'])
  if (runs.length || workstations.length) stale(['instruments'])
  if (workstations.length) stale(['found'])
  if (runs.some((r) => r.judged)) stale(['drift'])
}
