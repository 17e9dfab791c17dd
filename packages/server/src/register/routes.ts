import { In, IsNull, type DataSource, type EntityManager } from 'typeorm'
import {
  changeDisplaysSchema,
  changeDisplaySchema,
  changeWorkstationSchema,
  keepInstrumentSchema,
  mostChanged,
  saveDisplaySchema,
  saveWorkstationSchema,
  validate,
  workstationListSchema,
} from '@bichroma/contract'
import { limitsEntity } from '../aims/entities'
import type { CourierHub } from '../couriers/hub'
import { newCourierKey } from './courierKeys'
import type { Events } from '../http/events'
import { atomically, insertion, type Take } from '../data/atomically'
import { storeFault } from '../data/storeFault'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { displayEntity, instrumentEntity, inUse, roomEntity, slotEntity, workstationEntity } from './entities'
import type { Holds } from './holds'
import { modelFacts } from './models'
import { pastName } from './pastName'
import { queryOf } from '../http/query'
import { endWatch } from './light/endWatch'
import { showName } from './showName'
import { listWorkstations } from './workstations'

/** The empty slots of a new display. */
export function insertSlots(take: Take, manager: EntityManager, displayId: number, slots: number): void {
  for (let number = 1; number <= slots; number++)
    take(insertion(manager, slotEntity, { ...emptySlot, displayId, number }))
}

/** Displays of one change that are written in one go. */
const changedAtOnce = 25

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
  now: () => number,
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

  const workstationOf = async (id: number) => {
    const row = await repository.workstations.findOneBy({ id, retiredAt: IsNull() })
    if (!row) throw new Refusal('not-found', `There is no workstation ${id}.`)
    return row
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
      repository.rooms.existsBy({ id: input.roomId, retiredAt: IsNull() }),
      '“Room” names none that is there; choose one from the list.',
      'roomId',
    )
    const row = { ...input, courierKeyHash: null, courierSeenAt: null, retiredAt: null, note: null }
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
    const workstation = await workstationOf(id)
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

  api.on('PUT /workstations/:id', async (request) => {
    const before = await workstationOf(idOf(request))
    const input = validate(changeWorkstationSchema, request.body)
    await mustExist(
      repository.rooms.existsBy({ id: input.roomId, retiredAt: IsNull() }),
      '“Room” names none that is there; choose one from the list.',
      'roomId',
    )
    await refusingTaken('workstation', () =>
      ledger.change(
        request.account,
        (take) => take(data.createQueryBuilder().update(workstationEntity).set(input).where({ id: before.id })),
        () => ({
          act: 'changed',
          thing: 'workstation',
          id: before.id,
          name: input.name,
          changes: changesBetween({ ...before }, input),
        }),
      ),
    )
    events.changed('register')
    changed()
    return {}
  })
  api.on('DELETE /workstations/:id', async (request) => {
    const { id, name } = await workstationOf(idOf(request))
    const standing = await repository.displays.findOneBy({ workstationId: id, kept: 'in use' })
    if (standing)
      throw new Refusal('conflict', `${standing.name} stands at ${name}. Move it, store it or retire it first.`)
    ledger.change(
      request.account,
      (take) =>
        take(
          data
            .createQueryBuilder()
            .update(workstationEntity)
            // Its name is free for the one that comes after it.
            .set({ retiredAt: now(), courierKeyHash: null, name: pastName(name, now()) })
            .where({ id }),
        ),
      () => ({ act: 'retired', thing: 'workstation', id, name }),
    )
    hub.dismiss(id)
    events.changed('register')
    changed()
    return {}
  })

  api.on('POST /displays', async (request, response) => {
    const input = validate(saveDisplaySchema, request.body)
    await mustExist(
      repository.workstations.existsBy({ id: input.workstationId, retiredAt: IsNull() }),
      '“Workstation” names none that is there; choose one from the list.',
      'workstationId',
    )
    await limitsMustExist(input.limitsId)
    const id = await refusingTaken('display', () =>
      ledger.change(
        request.account,
        (take) => {
          const row = { ...input, ...inUse, activeSlot: 1, delayMs: null, curves: null, curvesSince: null }
          const displayId = take(insertion(data.manager, displayEntity, row))
          insertSlots(take, data.manager, displayId, input.slots)
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

  api.on('POST /displays/change', async (request) => {
    const { ids, maker, model, ...change } = validate(changeDisplaysSchema, request.body)
    if (change.limitsId !== undefined) await limitsMustExist(change.limitsId)
    const rows = await repository.displays.find({
      where: ids ? { id: In(ids) } : { maker, model, kept: 'in use' },
      order: { id: 'ASC' },
      take: mostChanged + 1,
    })
    if (ids && rows.length < new Set(ids).size)
      throw new Refusal('invalid-input', '“Displays” names one that is not there; load the list anew.', 'ids')
    if (!rows.length) throw new Refusal('not-found', `There is no display of the model ${maker} ${model}.`)
    if (rows.length > mostChanged)
      throw new Refusal('too-large', `One change takes ${mostChanged} displays at most. Choose fewer.`)
    const { account } = request
    const others = rows.filter((row) => changesBetween({ ...row }, change).length)
    // Each one's own history tells of it. Some at a time, so that others are answered in between.
    for (let done = 0; done < others.length; done += changedAtOnce) {
      if (done) await new Promise((resolve) => setImmediate(resolve))
      try {
        atomically(data, (take) => {
          for (const row of others.slice(done, done + changedAtOnce)) {
            take(data.createQueryBuilder().update(displayEntity).set(change).where({ id: row.id }))
            const changes = changesBetween({ ...row }, change)
            take(ledger.entry(account, { act: 'changed', thing: 'display', id: row.id, name: row.name, changes }))
          }
        })
      } catch (error) {
        const fault = done ? storeFault(error) : null
        if (!fault) throw error
        throw new Refusal(
          'unavailable',
          `${fault.sentence} ${done} of ${others.length} displays were changed before that. Then send it again.`,
        )
      }
    }
    limitsChanged()
    changed()
    return { changed: others.length }
  })

  api.on('PUT /instruments/:id', async (request) => {
    const id = idOf(request)
    const { kept, why = null } = validate(keepInstrumentSchema, request.body)
    const instruments = data.getRepository(instrumentEntity)
    const before = await instruments.findOneBy({ id })
    if (!before || before.kind === 'elsewhere') throw new Refusal('not-found', `There is no instrument ${id}.`)
    const name = `${before.model} ${before.serial}`
    if (before.kept === kept) throw new Refusal('conflict', `${name} is ${kept} already.`)
    const sentence = `${name} is in a run. Wait for it, or stop it first.`
    await holds.besideRuns({ instrumentIds: [id] }, { sentence }, async () =>
      ledger.change(
        request.account,
        (take) => {
          take(
            data
              .createQueryBuilder()
              .update(instrumentEntity)
              .set({ kept, keptSince: now(), keptWhy: why })
              .where({ id }),
          )
          // Put away, it watches no room any more.
          if (kept !== 'in use') endWatch(take, { instrumentId: id })
        },
        () => ({
          act: kept === 'in use' ? 'returned' : kept,
          thing: 'instrument',
          id,
          name,
          why: why ?? undefined,
        }),
      ),
    )
    events.changed('register')
    return {}
  })

  api.on('GET /models', () => modelFacts(data))

  api.on('POST /displays/:id/name', (request) => showName(data, hub, holds, idOf(request)))
}
