import type { DataSource } from 'typeorm'
import { In, IsNull, Not } from 'typeorm'
import { formatDate } from '@bichroma/core'
import { placeProfileSchema, validate, type Placement, type RolloutRow } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import type { CourierHub } from '../couriers/hub'
import { idOf, type Api } from '../access/api'
import { displayEntity, workstationEntity } from '../register/entities'
import { runEntity } from '../runs/entities'
import { placementEntity, type PlacementRow } from './entities'
import type { Rollout } from './rollout'

export function rolloutRoutes(api: Api, data: DataSource, hub: CourierHub, rollout: Rollout): void {
  api.on('GET /rollout', async (): Promise<RolloutRow[]> => {
    const displays = await data.getRepository(displayEntity).find({ order: { id: 'ASC' } })
    const workstations = new Map((await data.getRepository(workstationEntity).find()).map((w) => [w.id, w.name]))
    const accounts = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
    const placements = await data.getRepository(placementEntity).findBy({ state: Not('withdrawn') })
    const filed = await data.getRepository(runEntity).find({
      select: { id: true, displayId: true, profileHash: true, slot: true, label: true, summary: true, startedAt: true },
      where: { state: 'done', profileHash: Not(IsNull()), withdrawnAt: IsNull() },
      order: { startedAt: 'DESC', id: 'DESC' },
    })
    const placedRuns = await data
      .getRepository(runEntity)
      .find({ select: { id: true, slot: true }, where: { id: In(placements.map((p) => p.runId)) } })
    const slots = new Map(placedRuns.map((r) => [r.id, r.slot]))
    return displays.map((display) => {
      const newest = filed.find((r) => r.displayId === display.id)
      const placement = placements.find((p) => p.displayId === display.id)
      return {
        displayId: display.id,
        displayName: display.name,
        workstationId: display.workstationId,
        workstationName: workstations.get(display.workstationId)!,
        courierOnline: hub.helloOf(display.workstationId) !== null,
        newest: newest
          ? {
              runId: newest.id,
              profileHash: newest.profileHash!,
              slot: newest.slot,
              filedAt: newest.summary?.at ?? newest.startedAt,
              description: `${newest.label}, slot ${newest.slot}, ${formatDate(newest.summary?.at ?? newest.startedAt)}`,
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

const shown = (
  { accountId, ...rest }: PlacementRow,
  accounts: Map<number, string>,
  slots: Map<number, number>,
): Placement => ({
  ...rest,
  requestedBy: accounts.get(accountId) ?? 'someone',
  slot: slots.get(rest.runId)!,
})
