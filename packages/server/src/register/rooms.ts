import type { DataSource } from 'typeorm'
import { In, IsNull } from 'typeorm'
import { convertXyzToChromaticity, correlatedColorTemperature, type Triple } from '@bichroma/core/color'
import {
  readRoomLightSchema,
  renameBuildingSchema,
  saveRoomSchema,
  validate,
  type Room,
  type RoomLightEntry,
  type SaveRoom,
  type yup,
} from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import { insertion } from '../data/atomically'
import { changesBetween, type Ledger } from '../ledger/ledger'
import type { Events } from '../http/events'
import type { Holds } from './holds'
import { pastName } from './pastName'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { instrumentEntity, roomEntity, roomLightEntity, workstationEntity, type RoomLightRow } from './entities'

/** Readings of a room's light that are given at once. */
const mostEntries = 500

/** Rooms, and the log of their light. */
export function roomRoutes(
  api: Api,
  data: DataSource,
  hub: CourierHub,
  holds: Holds,
  events: Events,
  ledger: Ledger,
  now: () => number,
): void {
  const rooms = data.getRepository(roomEntity)
  const schema = saveRoomSchema as unknown as yup.Schema<SaveRoom>
  const mustBe = async (id: number) => {
    const room = await rooms.findOneBy({ id, retiredAt: IsNull() })
    if (!room) throw new Refusal('not-found', `There is no room ${id}.`)
    return room
  }

  api.on('GET /rooms', async (): Promise<Room[]> => {
    const newest = await newestLights(data)
    return (await rooms.find({ where: { retiredAt: IsNull() }, order: { id: 'ASC' } })).map(
      ({ retiredAt: _retired, ...r }) => ({ ...r, newestLight: newest.get(r.id) ?? null }),
    )
  })
  api.on('POST /rooms', async (request, response) => {
    const { name, building = null, light = null } = validate(schema, request.body)
    const row = { name, building, light, retiredAt: null }
    const id = await refusingTaken('room', () =>
      ledger.change(
        request.account,
        (take) => take(insertion(data.manager, roomEntity, row)),
        (id) => ({ act: 'added', thing: 'room', id, name, changes: changesBetween({}, { name, building, light }) }),
      ),
    )
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('PUT /rooms/:id', async (request) => {
    const { name, building, light } = validate(schema, request.body)
    const before = await mustBe(idOf(request))
    const { id } = before
    // What is left out stays what it is; null takes it away.
    const change = { name, ...(building !== undefined && { building }), ...(light !== undefined && { light }) }
    await refusingTaken('room', () =>
      ledger.change(
        request.account,
        (take) =>
          take(
            data
              .createQueryBuilder()
              .update(roomEntity)
              .set(change as never)
              .where({ id }),
          ),
        () => ({ act: 'changed', thing: 'room', id, name, changes: changesBetween({ ...before }, change) }),
      ),
    )
    events.changed('register')
    return {}
  })
  api.on('DELETE /rooms/:id', async (request) => {
    const { id, name } = await mustBe(idOf(request))
    const there = await data.getRepository(workstationEntity).findOneBy({ roomId: id, retiredAt: IsNull() })
    if (there) throw new Refusal('conflict', `${there.name} is in ${name}. Move it or retire it first.`)
    ledger.change(
      request.account,
      (take) =>
        take(
          data
            .createQueryBuilder()
            .update(roomEntity)
            .set({ retiredAt: now(), name: pastName(name, now()) })
            .where({ id }),
        ),
      () => ({ act: 'retired', thing: 'room', id, name }),
    )
    events.changed('register')
    return {}
  })
  api.on('PUT /buildings', async (request) => {
    const { from, to } = validate(renameBuildingSchema, request.body)
    const count = await rooms.countBy({ building: from })
    if (!count) throw new Refusal('not-found', `No room is in a building called ${from}.`, 'from')
    ledger.change(
      request.account,
      (take) => take(data.createQueryBuilder().update(roomEntity).set({ building: to }).where({ building: from })),
      () => ({
        act: 'changed',
        thing: 'room',
        id: null,
        name: `the building ${to}`,
        changes: [{ field: 'building', from, to }],
      }),
    )
    events.changed('register')
    return {}
  })
  api.on('GET /rooms/:id/light', async (request) => {
    const { id } = await mustBe(idOf(request))
    return withNames(
      data,
      await data
        .getRepository(roomLightEntity)
        .find({ where: { roomId: id }, order: { at: 'DESC' }, take: mostEntries }),
    )
  })
  api.on('POST /rooms/:id/light', async (request, response) => {
    const { instrumentId } = validate(readRoomLightSchema, request.body)
    const room = await mustBe(idOf(request))
    const row = await readLight(data, hub, holds, ledger, room, instrumentId, request.account, now())
    events.changed('register')
    response.status(201)
    return (await withNames(data, [row]))[0]
  })
}

/** Reads the light where an instrument lies and logs it. Throws Refusal with what stands in the way. */
async function readLight(
  data: DataSource,
  hub: CourierHub,
  holds: Holds,
  ledger: Ledger,
  room: { id: number; name: string },
  instrumentId: number,
  account: { id: number; name: string },
  at: number,
): Promise<RoomLightRow> {
  const instrument = await data.getRepository(instrumentEntity).findOneBy({ id: instrumentId })
  const workstationId = instrument && hub.workstationOfInstrument(instrument.serial)
  if (!instrument || !workstationId)
    throw new Refusal(
      'conflict',
      'This instrument is not plugged in anywhere. Plug it in in this room.',
      'instrumentId',
    )
  const { roomId, name } = await data.getRepository(workstationEntity).findOneByOrFail({ id: workstationId })
  if (roomId !== room.id)
    throw new Refusal(
      'conflict',
      `This instrument is at ${name}, which is not in ${room.name}. Carry it there first.`,
      'instrumentId',
    )
  const inRun = { sentence: 'This instrument is in a run. Wait for it, or choose another.', field: 'instrumentId' }
  try {
    const { value } = await holds.besideRuns({ instrumentIds: [instrumentId] }, inRun, () =>
      hub.send(workstationId, 'instrument.readAmbient', { serial: instrument.serial }),
    )
    const [x, y, z] = value.xyz as unknown as Triple
    const lit = value.illuminanceLux > 0 && Math.min(x, y, z) > 0
    const chromaticity = lit ? convertXyzToChromaticity([x, y, z]) : null
    const row = {
      roomId: room.id,
      at,
      illuminanceLux: value.illuminanceLux,
      kelvin: (chromaticity && correlatedColorTemperature(chromaticity)?.cct) ?? null,
      instrumentId,
      accountId: account.id,
    }
    const id = ledger.change(
      account,
      (take) => take(insertion(data.manager, roomLightEntity, row)),
      () => ({
        act: 'measured',
        thing: 'room',
        id: room.id,
        name: room.name,
        evidence: {
          lux: row.illuminanceLux,
          kelvin: row.kelvin,
          instrument: `${instrument.model} ${instrument.serial}`,
        },
      }),
    )
    return { ...row, id }
  } catch (error) {
    if (error instanceof CourierGone)
      throw new Refusal('conflict', `The courier on ${name} is away. Start it, then try again.`)
    if (error instanceof DeviceRefusal) throw new Refusal('conflict', error.sentence)
    throw error
  }
}

async function withNames(data: DataSource, rows: readonly RoomLightRow[]): Promise<RoomLightEntry[]> {
  const instruments = new Map(
    (await data.getRepository(instrumentEntity).find()).map((i) => [i.id, `${i.model} ${i.serial}`]),
  )
  const accounts = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
  return rows.map(({ id, at, illuminanceLux, kelvin, instrumentId, accountId }) => ({
    id,
    at,
    illuminanceLux,
    kelvin,
    instrument: instruments.get(instrumentId) ?? 'an instrument',
    by: accounts.get(accountId) ?? 'someone',
  }))
}

/** A room with the newest reading of its light. */
export async function roomOf(data: DataSource, id: number): Promise<Room> {
  const { retiredAt: _retired, ...room } = await data.getRepository(roomEntity).findOneByOrFail({ id })
  const newest = await data
    .getRepository(roomLightEntity)
    .find({ where: { roomId: id }, order: { id: 'DESC' }, take: 1 })
  return { ...room, newestLight: (await withNames(data, newest))[0] ?? null }
}

/** The newest reading of every room's light, by room. */
export async function newestLights(data: DataSource): Promise<Map<number, RoomLightEntry>> {
  const rows = await data
    .getRepository(roomLightEntity)
    .createQueryBuilder('light')
    // SQLite gives the other columns of the row that holds the largest.
    .select('MAX(light.id)', 'id')
    .groupBy('light.roomId')
    .getRawMany<{ id: number }>()
  const newest = await data.getRepository(roomLightEntity).findBy({ id: In(rows.map((r) => r.id)) })
  const named = await withNames(data, newest)
  return new Map(newest.map((row, i) => [row.roomId, named[i]]))
}
