import type { DataSource } from 'typeorm'
import { IsNull } from 'typeorm'
import { renameBuildingSchema, saveRoomSchema, validate, type SaveRoom } from '@bichroma/contract'
import { insertion, written } from '../data/atomically'
import { changesBetween, type Ledger } from '../ledger/ledger'
import type { Events } from '../http/events'
import { pastName } from './pastName'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { asEveryRoom, roomEntity, workstationEntity, type RoomRow } from './entities'
import { endWatch } from './light/endWatch'
import { listRooms } from './light/roomList'

/** What is asked of a room, as its row has it: what is left out stays what it is, and null takes it away. */
function changeOf(
  { name, building, light, allowMinutes, holdsRuns, level }: SaveRoom,
  before: Pick<RoomRow, 'levelLux' | 'levelSince'>,
  now: number,
): Partial<RoomRow> {
  const agreed = level && {
    levelLux: level.lux,
    levelSince: level.lux === before.levelLux ? before.levelSince : now,
    levelAllowed: level.allowed ?? null,
  }
  return {
    name,
    ...(building !== undefined && { building }),
    ...(light !== undefined && { light }),
    ...(allowMinutes !== undefined && { allowMinutes }),
    ...(holdsRuns !== undefined && { holdsRuns }),
    ...(level === null ? { levelLux: null, levelSince: null, levelAllowed: null } : agreed),
  }
}

/** Rooms, and what is wanted of their light. */
export function roomRoutes(
  api: Api,
  data: DataSource,
  events: Events,
  ledger: Ledger,
  now: () => number,
  /** A room was saved; `levelled`: the light that aims which follow it are told is another. */
  saved: (levelled: boolean) => void,
): void {
  const rooms = data.getRepository(roomEntity)
  const mustBe = async (id: number) => {
    const room = await rooms.findOneBy({ id, retiredAt: IsNull() })
    if (!room) throw new Refusal('not-found', `There is no room ${id}.`)
    return room
  }

  api.on('GET /rooms', () => listRooms(data, now()))
  api.on('POST /rooms', async (request, response) => {
    const input = validate(saveRoomSchema, request.body)
    const { name } = input
    const row = {
      building: null,
      light: null,
      ...asEveryRoom,
      ...changeOf(input, asEveryRoom, now()),
      name,
      retiredAt: null,
    }
    const id = await refusingTaken('room', () =>
      ledger.change(
        request.account,
        (take) => take(insertion(data.manager, roomEntity, row)),
        (id) => ({ act: 'added', thing: 'room', id, name, changes: changesBetween({}, roomTold(row)) }),
      ),
    )
    events.changed('register')
    response.status(201)
    return { id }
  })
  api.on('PUT /rooms/:id', async (request) => {
    const input = validate(saveRoomSchema, request.body)
    const before = await mustBe(idOf(request))
    const { id } = before
    const { name } = input
    const change = changeOf(input, before, now())
    const levelled = change.levelLux !== undefined && change.levelLux !== before.levelLux
    await refusingTaken('room', () =>
      ledger.change(
        request.account,
        (take) => {
          take(
            data
              .createQueryBuilder()
              .update(roomEntity)
              .set(change as never)
              .where({ id }),
          )
          // What was proposed was a change of what was agreed before.
          if (levelled)
            take(
              written(
                `UPDATE light_proposal SET state = 'lapsed', decided_at = ? WHERE room_id = ? AND state = 'open'`,
                [now(), id],
              ),
            )
        },
        () => ({
          act: 'changed',
          thing: 'room',
          id,
          name,
          changes: changesBetween(roomTold(before), roomTold({ ...before, ...change })),
        }),
      ),
    )
    events.changed('register')
    saved(levelled)
    return {}
  })
  api.on('DELETE /rooms/:id', async (request) => {
    const { id, name } = await mustBe(idOf(request))
    const there = await data.getRepository(workstationEntity).findOneBy({ roomId: id, retiredAt: IsNull() })
    if (there) throw new Refusal('conflict', `${there.name} is in ${name}. Move it or retire it first.`)
    ledger.change(
      request.account,
      (take) => {
        take(
          data
            .createQueryBuilder()
            .update(roomEntity)
            .set({ retiredAt: now(), name: pastName(name, now()) })
            .where({ id }),
        )
        // Its instrument is free to watch another.
        endWatch(take, { roomId: id })
      },
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
}

/** What the ledger tells of a room. */
const roomTold = ({ name, building, light, allowMinutes, holdsRuns, levelLux, levelAllowed }: Omit<RoomRow, 'id'>) => ({
  name,
  building,
  light,
  'minutes allowed': allowMinutes,
  'holds runs': holdsRuns,
  'agreed light, lx': levelLux,
  'follows by itself': levelAllowed,
})
