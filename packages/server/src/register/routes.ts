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
import { newCourierKey } from './courierKeys'
import type { Events } from '../http/events'
import { insertion } from '../data/atomically'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
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
  ledger: Ledger,
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
    const row = { ...input, courierKeyHash: null, courierSeenAt: null }
    const id = await refusingTaken('workstation', () =>
      ledger.change(
        request.account,
        (take) => take(insertion(data.manager, workstationEntity, row)),
        (id) => ({ act: 'added', thing: 'workstation', id, name: input.name, changes: changesBetween({}, input) }),
      ),
    )
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('POST /workstations/:id/courier-key', async (request, response) => {
    const id = idOf(request)
    const workstation = await repository.workstations.findOneBy({ id })
    if (!workstation) throw new Refusal('not-found', `There is no workstation ${id}.`)
    response.status(201)
    const { key, statement } = newCourierKey(data, id)
    ledger.change(
      request.account,
      (take) => take(statement),
      () => ({
        act: 'changed',
        thing: 'workstation',
        id,
        name: workstation.name,
        changes: [{ field: 'courier key' }],
      }),
    )
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
      ledger.change(
        request.account,
        (take) => {
          const displayId = take(insertion(data.manager, displayEntity, { ...input, activeSlot: 1, delayMs: null }))
          for (let number = 1; number <= input.slots; number++)
            take(insertion(data.manager, slotEntity, { ...emptySlot, displayId, number }))
          return displayId
        },
        (id) => ({ act: 'added', thing: 'display', id, name: input.name, changes: changesBetween({}, input) }),
      ),
    )
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('PUT /displays/:id', async (request) => {
    const id = idOf(request)
    const input = validate(changeDisplaySchema, request.body)
    const before = await repository.displays.findOneBy({ id })
    if (!before) throw new Refusal('not-found', `There is no display ${id}.`)
    await limitsMustExist(input.limitsId)
    await refusingTaken('display', () =>
      ledger.change(
        request.account,
        (take) => take(data.createQueryBuilder().update(displayEntity).set(input).where({ id })),
        () => ({
          act: 'changed',
          thing: 'display',
          id,
          name: input.name ?? before.name,
          changes: changesBetween({ ...before }, input),
        }),
      ),
    )
    limitsChanged()
    changed()
    return {}
  })

  api.on('POST /displays/:id/name', (request) => showName(data, hub, holds, idOf(request)))
}
