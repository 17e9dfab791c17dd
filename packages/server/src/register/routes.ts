import type { DataSource } from 'typeorm'
import {
  changeDisplaySchema,
  saveDisplaySchema,
  saveWorkstationSchema,
  validate,
  workstationListSchema,
} from '@bichroma/contract'
import { limitsEntity } from '../aims/entities'
import type { CourierHub } from '../couriers/hub'
import { enrol } from './courierKeys'
import type { Events } from '../http/events'
import { atomically, insertion } from '../data/atomically'
import { insertRow } from '../data/insertRow'
import { idOf, type Api } from '../access/api'
import { Refusal } from '../http/problem'
import { refuseTaken, refusingTaken } from '../http/taken'
import { displayEntity, roomEntity, slotEntity, workstationEntity } from './entities'
import type { Holds } from './holds'
import { queryOf } from '../http/query'
import { showName } from './showName'
import { listWorkstations } from './workstations'

/** What a new slot holds. */
const emptySlot = {
  label: null,
  aim: null,
  resolvedAim: null,
  writtenAt: null,
  tablesHash: null,
  judgedRunId: null,
  unsure: false,
}

export function registerRoutes(
  api: Api,
  data: DataSource,
  hub: CourierHub,
  holds: Holds,
  events: Events,
  limitsChanged: () => void,
  /** A display was changed: it is told of by itself. */
  changed: () => void,
): void {
  const repository = {
    rooms: data.getRepository(roomEntity),
    workstations: data.getRepository(workstationEntity),
    displays: data.getRepository(displayEntity),
  }
  const mustExist = async (found: Promise<boolean>, sentence: string, field: string) => {
    if (!(await found)) throw new Refusal('invalid-input', sentence, field)
  }

  const limitsMustExist = (id: number) =>
    mustExist(
      data.getRepository(limitsEntity).existsBy({ id }),
      '“Limits” names none that are there; choose some from the list.',
      'limitsId',
    )

  api.on('GET /workstations', (request) => listWorkstations(data, hub, queryOf(request, workstationListSchema)))
  api.on('POST /workstations', async (request, response) => {
    const input = validate(saveWorkstationSchema, request.body)
    await mustExist(
      repository.rooms.existsBy({ id: input.roomId }),
      '“Room” names none that is there; choose one from the list.',
      'roomId',
    )
    const id = await insertRow(data.manager, workstationEntity, {
      ...input,
      courierKeyHash: null,
      courierSeenAt: null,
    }).catch(refuseTaken('workstation'))
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('POST /workstations/:id/courier-key', async (request, response) => {
    const id = idOf(request)
    if (!(await repository.workstations.existsBy({ id })))
      throw new Refusal('not-found', `There is no workstation ${id}.`)
    response.status(201)
    const key = await enrol(data, id)
    // Whoever holds the old one has no business here any more.
    hub.dismiss(id)
    return { key }
  })

  api.on('POST /displays', async (request, response) => {
    const input = validate(saveDisplaySchema, request.body)
    await mustExist(
      repository.workstations.existsBy({ id: input.workstationId }),
      '“Workstation” names none that is there; choose one from the list.',
      'workstationId',
    )
    await limitsMustExist(input.limitsId)
    const id = await refusingTaken('display', () =>
      atomically(data, (take) => {
        const displayId = take(insertion(data.manager, displayEntity, { ...input, activeSlot: 1, delayMs: null }))
        for (let number = 1; number <= input.slots; number++)
          take(insertion(data.manager, slotEntity, { ...emptySlot, displayId, number }))
        return displayId
      }),
    )
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('PUT /displays/:id', async (request) => {
    const id = idOf(request)
    const input = validate(changeDisplaySchema, request.body)
    if (!(await repository.displays.existsBy({ id }))) throw new Refusal('not-found', `There is no display ${id}.`)
    await limitsMustExist(input.limitsId)
    await repository.displays.update({ id }, input).catch(refuseTaken('display'))
    limitsChanged()
    changed()
    return {}
  })

  api.on('POST /displays/:id/name', (request) => showName(data, hub, holds, idOf(request)))
}
