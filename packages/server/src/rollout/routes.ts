import type { DataSource } from 'typeorm'
import { Raw } from 'typeorm'
import { formatDate } from '@bichroma/core'
import { placeProfileSchema, validate, type Placement, type RolloutRow } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import type { CourierHub } from '../couriers/hub'
import { idOf, type Api } from '../access/api'
import { displayEntity, workstationEntity } from '../register/entities'
import { placementEntity, type PlacementRow } from './entities'
import type { Rollout } from './rollout'

export function rolloutRoutes(api: Api, data: DataSource, hub: CourierHub, rollout: Rollout): void {
  api.on('GET /rollout', async (): Promise<RolloutRow[]> => {
    const displays = await data.getRepository(displayEntity).find({ order: { id: 'ASC' } })
    const workstations = new Map((await data.getRepository(workstationEntity).find()).map((w) => [w.id, w.name]))
    const accounts = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
    const placements = new Map(
      (
        await data
          .getRepository(placementEntity)
          .findBy({ state: Raw((column) => `${column} <> 'withdrawn'`) as never })
      ).map((p) => [p.displayId, p]),
    )
    const slots = new Map(
      (
        await data.query<{ id: number; slot: number }[]>(
          `SELECT run.id AS id, run.slot AS slot FROM placement JOIN run ON run.id = placement.run_id
           WHERE placement.state <> 'withdrawn'`,
        )
      ).map((r) => [r.id, r.slot]),
    )
    const newestOf = new Map((await newestProfiles(data)).map((r) => [r.displayId, r]))
    return displays.map((display) => {
      const newest = newestOf.get(display.id)
      const placement = placements.get(display.id)
      return {
        displayId: display.id,
        displayName: display.name,
        workstationId: display.workstationId,
        workstationName: workstations.get(display.workstationId)!,
        courierOnline: hub.helloOf(display.workstationId) !== null,
        newest: newest
          ? {
              runId: newest.runId,
              profileHash: newest.profileHash,
              slot: newest.slot,
              filedAt: newest.filedAt,
              description: `${newest.label}, slot ${newest.slot}, ${formatDate(newest.filedAt)}`,
            }
          : null,
        placement: placement ? shown(placement, accounts, slots) : null,
      }
    })
  })
  api.on('POST /placements', async (request, response) => {
    const id = await rollout.place(validate(placeProfileSchema, request.body).runId, request.account.id)
    response.status(201)
    return { id }
  })
  api.on('POST /placements/:id/verify', async (request) => {
    await rollout.verify(idOf(request))
    return {}
  })
}

/** The newest profile that was filed for each display. */
const newestProfiles = (data: DataSource) =>
  data.query<{ displayId: number; runId: number; profileHash: string; slot: number; label: string; filedAt: number }[]>(
    // By the index of runs with profiles: the plus keeps the store from looking for the many runs that are done.
    `SELECT run.display_id AS displayId, run.id AS runId, profile_hash AS profileHash, slot, label,
       COALESCE(summary ->> 'at', started_at) AS filedAt
     FROM display JOIN run ON run.id =
       (SELECT id FROM run AS filed WHERE filed.display_id = display.id AND profile_hash IS NOT NULL AND +state = 'done'
          AND withdrawn_at IS NULL ORDER BY started_at DESC, id DESC LIMIT 1)`,
  )

const shown = (
  { accountId, ...rest }: PlacementRow,
  accounts: Map<number, string>,
  slots: Map<number, number>,
): Placement => ({
  ...rest,
  requestedBy: accounts.get(accountId) ?? 'someone',
  slot: slots.get(rest.runId)!,
})
