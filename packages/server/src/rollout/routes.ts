import type { DataSource } from 'typeorm'
import { placeProfileSchema, rolloutListSchema, validate } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { idOf, type Api } from '../http/api'
import { queryOf } from '../http/query'
import { listRollout } from './listRollout'
import type { Rollout } from './rollout'

export function rolloutRoutes(api: Api, data: DataSource, hub: CourierHub, rollout: Rollout): void {
  api.on('GET /rollout', (request) => listRollout(data, hub, queryOf(request, rolloutListSchema)))
  api.on('POST /placements', async (request, response) => {
    const id = await rollout.place(validate(placeProfileSchema, request.body).runId, request.account)
    response.status(201)
    return { id }
  })
  api.on('POST /placements/:id/verify', async (request) => {
    await rollout.verify(idOf(request), request.account)
    return {}
  })
}
