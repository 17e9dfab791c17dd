import type { DataSource } from 'typeorm'
import {
  foundByHandSchema,
  handFilesSchema,
  linkSchema,
  placeProfileSchema,
  previewWaveSchema,
  rolloutListSchema,
  startWaveSchema,
  validate,
  waveItemListSchema,
  waveListSchema,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { written } from '../data/atomically'
import type { ContentStore } from '../data/contents'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import type { Ledger } from '../ledger/ledger'
import { displayEntity, workstationEntity } from '../register/entities'
import { sendHandFiles, takeFoundByHand } from './byHand'
import { displayRollout } from './displayRollout'
import { displayLinkEntity } from './entities'
import { listRollout, summarizeRollout } from './listRollout'
import type { Rollout } from './rollout'
import { listWaves, waveDetail } from './waves/listWaves'
import { planWave, previewOf } from './waves/preview'
import type { Waves } from './waves/waves'

interface RouteServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
  readonly contents: ContentStore
  readonly rollout: Rollout
  readonly waves: Waves
  /** Policies are looked at anew. */
  readonly wantedAnew: () => Promise<void>
}

export function rolloutRoutes(api: Api, services: RouteServices): void {
  const { data, hub, ledger, now, rollout, waves, wantedAnew } = services
  api.on('GET /rollout', (request) => listRollout(data, hub, queryOf(request, rolloutListSchema)))
  api.on('GET /rollout/summary', () => summarizeRollout(data, hub))
  api.on('GET /displays/:id/rollout', (request) => displayRollout(data, hub, idOf(request)))
  api.on('POST /rollout/files', (request, response) => {
    const { selection, does } = validate(handFilesSchema, request.body)
    return sendHandFiles(services, selection, does, response)
  })
  api.on('POST /rollout/found', (request) =>
    takeFoundByHand(services, validate(foundByHandSchema, request.body).text, request.account),
  )
  api.on('POST /placements', async (request, response) => {
    const id = await rollout.agreements.place(validate(placeProfileSchema, request.body).runId, request.account)
    response.status(201)
    return { id }
  })
  api.on('POST /placements/:id/verify', async (request) => {
    await rollout.verify(idOf(request), request.account)
    return {}
  })

  api.on('POST /waves/preview', async (request) => {
    const { selection } = validate(previewWaveSchema, request.body)
    await wantedAnew()
    return previewOf(await planWave(data, hub, selection, now()))
  })
  api.on('GET /waves', (request) => listWaves(data, queryOf(request, waveListSchema), now()))
  api.on('POST /waves', async (request, response) => {
    const { digest, ...input } = validate(startWaveSchema, request.body)
    await wantedAnew()
    const id = await waves.start(input, digest, request.account)
    response.status(201)
    return { id }
  })
  api.on('GET /waves/:id', (request) =>
    waveDetail(data, hub, idOf(request), queryOf(request, waveItemListSchema), now()),
  )
  api.on('POST /waves/:id/pause', async (request) => {
    await waves.pause(idOf(request), request.account)
    return {}
  })
  api.on('POST /waves/:id/go-on', async (request) => {
    await waves.goOn(idOf(request), false, request.account)
    return {}
  })
  api.on('POST /waves/:id/word', async (request) => {
    await waves.goOn(idOf(request), true, request.account)
    return {}
  })
  api.on('POST /waves/:id/undo', async (request) => {
    await waves.undo(idOf(request), request.account)
    return {}
  })

  api.on('POST /displays/:id/links', async (request) => {
    const { workstationId } = validate(linkSchema, request.body)
    const display = await data.getRepository(displayEntity).findOneBy({ id: idOf(request) })
    if (!display) throw new Refusal('not-found', `There is no display ${idOf(request)}.`)
    const workstation = await data.getRepository(workstationEntity).findOneBy({ id: workstationId })
    if (!workstation || workstation.retiredAt !== null)
      throw new Refusal('invalid-input', '“Workstation” names none that is there; choose one.', 'workstationId')
    const known = await data.getRepository(displayLinkEntity).existsBy({ displayId: display.id, workstationId })
    if (known || workstationId === display.workstationId)
      throw new Refusal('conflict', `${display.name} is reached from ${workstation.name} already.`, 'workstationId')
    ledger.change(
      request.account,
      (take) =>
        take(
          written('INSERT INTO display_link (display_id, workstation_id) VALUES (?, ?)', [display.id, workstationId]),
        ),
      () => ({
        act: 'changed',
        thing: 'display',
        id: display.id,
        name: display.name,
        changes: [{ field: 'also reached from', to: workstation.name }],
      }),
    )
    rollout.tend([workstationId])
    return {}
  })
  api.on('DELETE /displays/:id/links/:workstationId', async (request) => {
    const displayId = idOf(request)
    const workstationId = idOf(request, 'workstationId')
    const link = await data.getRepository(displayLinkEntity).findOneBy({ displayId, workstationId })
    const display = await data.getRepository(displayEntity).findOneBy({ id: displayId })
    if (!link || !display) throw new Refusal('not-found', 'This display is not reached from there.')
    const { name } = await data.getRepository(workstationEntity).findOneByOrFail({ id: workstationId })
    const current = await rollout.agreements.currentOf(displayId, workstationId)
    ledger.change(
      request.account,
      (take) => {
        take(written('DELETE FROM display_link WHERE id = ?', [link.id]))
        rollout.agreements.leaveBehind(take, request.account, display, workstationId, current)
      },
      () => ({
        act: 'changed',
        thing: 'display',
        id: displayId,
        name: display.name,
        changes: [{ field: 'also reached from', from: name }],
      }),
    )
    rollout.tend([workstationId])
    return {}
  })
}
