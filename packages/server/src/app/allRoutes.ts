import type { Request } from 'express'
import { In } from 'typeorm'
import { peopleRoutes } from '../access/people'
import { ledgerRoutes } from '../ledger/routes'
import { aimRoutes } from '../aims/routes'
import { describeApi } from './openapi/describe'
import { roomsAskedIn } from './roomsAsked'
import { driftRoutes } from '../drift/routes'
import { Api } from '../http/api'
import { foundRoutes } from '../floor/found'
import { inventoryRoutes } from '../floor/inventory/routes'
import { Places } from '../floor/places'
import { floorRoutes } from '../floor/routes'
import { displaysJudgedBy } from '../register/displaysJudgedBy'
import { roomEntity } from '../register/entities'
import { reviewRoutes } from '../review/routes'
import { correctionRoutes } from '../register/corrections'
import { lightRoutes } from '../register/light/lightRoutes'
import { roomRoutes } from '../register/rooms'
import { registerRoutes } from '../register/routes'
import { policyRoutes } from '../rollout/policies'
import { rolloutRoutes } from '../rollout/routes'
import { outlookRoutes } from '../runs/outlook'
import { runRoutes } from '../runs/routes'
import { backupRoutes } from '../studio/backups'
import { settingRoutes } from '../studio/settings'
import type { Parts } from './parts'

/** Puts up every route of the role table. Throws Error for one that nobody puts up. */
export function putUpRoutes(parts: Parts): Api {
  const { data, events, standings, contents, ledger, access, threads, holds, fleetDrift, drift, hub } = parts
  const { rollout, wanted, waves, rounds, peers, light, hours, levelled, engine, backups, news, now } = parts
  const api = new Api((request: Request) => access.accountOf(request), roomsAskedIn(data))
  access.routes(api)
  peopleRoutes(api, data, ledger, access, now, async (ids) =>
    (await data.getRepository(roomEntity).findBy({ id: In([...ids]) })).map(({ id }) => id),
  )
  ledgerRoutes(api, data, ledger)
  const limitsChanged = () => void drift.limitsChanged()
  registerRoutes(api, data, hub, holds, events, ledger, now, limitsChanged, () => news.changed())
  roomRoutes(api, data, events, ledger, now, (isLevelled) => {
    light.soon()
    if (isLevelled) rounds.replan()
  })
  lightRoutes(api, { data, hub, holds, events, threads, ledger, now, watch: light, hours, levelled })
  correctionRoutes(api, data, hub, holds, ledger, now, () => events.changed('register'))
  aimRoutes(api, data, (id) => displaysJudgedBy(data, id), limitsChanged, events, ledger, now)
  backupRoutes(api, backups)
  settingRoutes(api, data, contents, threads, events, ledger, limitsChanged)
  runRoutes(api, { data, hub, engine, contents, threads, ledger, changed: (runId) => news.run(runId) })
  outlookRoutes(api, data, hub)
  reviewRoutes(api, { data, contents, threads, drift, ledger, now, changed: (runId) => news.run(runId) })
  driftRoutes(api, data, fleetDrift, now)
  policyRoutes(api, {
    data,
    ledger,
    now,
    changed: () => {
      events.changed('rollout')
      wanted.soon()
    },
  })
  rolloutRoutes(api, { data, hub, contents, ledger, now, rollout, waves, wantedAnew: () => wanted.catchUp() })
  rounds.routes(api)
  peers.routes(api)
  foundRoutes(api, data, hub)
  const placesChanged = () => {
    events.changed('register')
    fleetDrift.forget()
    news.changed()
    wanted.soon()
  }
  const places = new Places({ data, holds, ledger, rollout, now, changed: placesChanged })
  places.routes(api)
  inventoryRoutes(api, { data, places, ledger, now, changed: placesChanged })
  floorRoutes(api, { data, hub, engine, standings, now })
  let description: string | null = null
  api.on('GET /openapi.json', (_request, response) => {
    description ??= JSON.stringify(describeApi())
    response.type('application/json').send(description)
  })
  api.on('GET /events', (request, response) =>
    events.listen(response, request.sessionID ?? `token ${request.account.name}`),
  )
  const missing = api.missing()
  if (missing.length) throw new Error(`Routes of the role table that nobody put up: ${missing.join(', ')}.`)
  return api
}
