import { IsNull, type DataSource } from 'typeorm'
import { followedLuminance, roomLightProblem, watchSilenceMs, type RoomLightRange } from '@bichroma/core/aims'
import { dayStart, daysAfter } from '@bichroma/core/rounds'
import {
  decideLevelSchema,
  lightDaySchema,
  lightWeeksSchema,
  readRoomLightSchema,
  validate,
  type LightDay,
  type LightWeeks,
  type RoomLightEntry,
} from '@bichroma/contract'
import type { CourierHub } from '../../couriers/hub'
import { orRefusal } from '../../couriers/orRefusal'
import { written } from '../../data/atomically'
import type { Events } from '../../http/events'
import { idOf, type Api } from '../../http/api'
import { Refusal } from '../../http/problem'
import { queryOf } from '../../http/query'
import type { Threads } from '../../http/threads'
import type { Ledger } from '../../ledger/ledger'
import { instrumentEntity, roomEntity, workstationEntity } from '../entities'
import type { Holds } from '../holds'
import { endWatch } from './endWatch'
import { keepReading, lightHours } from './keepReading'
import { decideLevel, levelOf, type WorkingHours } from './levels'
import { lightRead, type LightWatch } from './lightWatch'
import { readByItself } from './roomList'
import { lightOfWeeks } from './weeksTask'

interface LightServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly holds: Holds
  readonly events: Events
  readonly threads: Threads
  readonly ledger: Ledger
  readonly now: () => number
  readonly watch: LightWatch
  readonly hours: () => Promise<WorkingHours>
  readonly levelled: () => void
}

/** Readings of a room's light that are given at once. */
const mostEntries = 500
/** Readings of one day that are given: one a minute, should somebody read that often. */
const mostOfDay = 1440
/** Weeks that are looked at unless others are asked for. */
const usualWeeks = 13
const week = 7 * 86_400_000

/** The log of rooms' light, what watches it, and the level that aims follow. */
export function lightRoutes(api: Api, services: LightServices): void {
  const { data, events, threads, ledger, now, watch, hours, levelled } = services
  const mustBe = async (id: number) => {
    const room = await data.getRepository(roomEntity).findOneBy({ id, retiredAt: IsNull() })
    if (!room) throw new Refusal('not-found', `There is no room ${id}.`)
    return room
  }

  api.on('GET /rooms/:id/light', async (request) => {
    const { id } = await mustBe(idOf(request))
    return data.query<RoomLightEntry[]>(
      `${entries} WHERE room_id = ? ORDER BY at DESC, light.id DESC LIMIT ${mostEntries}`,
      [id],
    )
  })
  api.on('POST /rooms/:id/light', async (request, response) => {
    const { instrumentId } = validate(readRoomLightSchema, request.body)
    const room = await mustBe(idOf(request))
    const id = await readByHand(services, room, instrumentId, request.account)
    events.changed('light')
    response.status(201)
    const [entry] = await data.query<RoomLightEntry[]>(`${entries} WHERE light.id = ?`, [id])
    return entry
  })

  api.on('POST /rooms/:id/watch', async (request, response) => {
    const { instrumentId } = validate(readRoomLightSchema, request.body)
    const { id, name } = await mustBe(idOf(request))
    const instrument = await data.getRepository(instrumentEntity).findOneBy({ id: instrumentId })
    if (!instrument || instrument.kept !== 'in use')
      throw new Refusal('conflict', 'This instrument is not in use. Choose another.', 'instrumentId')
    const [elsewhere] = await data.query<{ name: string }[]>(
      `SELECT name FROM light_watch JOIN room ON room.id = room_id WHERE instrument_id = ? AND room_id <> ?`,
      [instrumentId, id],
    )
    if (elsewhere)
      throw new Refusal('conflict', `This instrument watches ${elsewhere.name}. End that first.`, 'instrumentId')
    const [before] = await data.query<{ name: string }[]>(
      `SELECT model || ' ' || serial AS name FROM light_watch JOIN instrument ON instrument.id = instrument_id WHERE room_id = ?`,
      [id],
    )
    const told = `${instrument.model} ${instrument.serial}`
    if (before?.name === told) throw new Refusal('conflict', `${told} watches ${name} already.`, 'instrumentId')
    const at = now()
    ledger.change(
      request.account,
      (take) => {
        endWatch(take, { roomId: id })
        take(
          written(
            `INSERT INTO light_watch (room_id, instrument_id, since, set_by, state, state_since) VALUES (?, ?, ?, ?, 'away', ?)`,
            [id, instrumentId, at, request.account.name, at],
          ),
        )
      },
      () => ({
        act: 'changed',
        thing: 'room',
        id,
        name,
        changes: [{ field: 'watched by', ...(before && { from: before.name }), to: told }],
      }),
    )
    // Its first reading says at once whether it can.
    await watch.look()
    events.changed('light')
    response.status(201)
    return {}
  })
  api.on('DELETE /rooms/:id/watch', async (request) => {
    const { id, name } = await mustBe(idOf(request))
    const [before] = await data.query<{ name: string }[]>(
      `SELECT model || ' ' || serial AS name FROM light_watch JOIN instrument ON instrument.id = instrument_id WHERE room_id = ?`,
      [id],
    )
    if (!before) throw new Refusal('not-found', `Nothing watches the light of ${name}.`)
    ledger.change(
      request.account,
      (take) => endWatch(take, { roomId: id }),
      () => ({ act: 'changed', thing: 'room', id, name, changes: [{ field: 'watched by', from: before.name }] }),
    )
    await watch.look()
    events.changed('light')
    return {}
  })

  api.on('GET /rooms/:id/light/day', async (request): Promise<LightDay> => {
    const { id, light } = await mustBe(idOf(request))
    const { date: asked } = queryOf(request, lightDaySchema)
    const { zone, dateOf } = await hours()
    const date = asked ?? dateOf(now())
    const [from, until] = [dayStart(date, zone), dayStart(daysAfter(date, 1), zone)]
    const readings = await data.query<LightDay['readings']>(
      `SELECT at, illuminance_lux AS illuminanceLux, kelvin FROM room_light WHERE room_id = ? AND at >= ? AND at < ?
       ORDER BY at, id LIMIT ${mostOfDay}`,
      [id, from, until],
    )
    return {
      date,
      zone,
      from,
      until,
      readings,
      hours: await lightHours(data, id, from, until),
      times: await timesOf(data, id, light, [from, until], now()),
    }
  })
  api.on('GET /rooms/:id/light/weeks', async (request): Promise<LightWeeks> => {
    const { id, levelLux } = await mustBe(idOf(request))
    const weeks = Number(queryOf(request, lightWeeksSchema).weeks ?? usualWeeks)
    const working = await hours()
    const { zone } = working
    const asked = {
      file: String(data.options.database),
      roomId: id,
      from: now() - weeks * week,
      until: now() + 1,
      zone,
    }
    const light = await threads.run(lightOfWeeks, asked)
    const { level, change } = await levelOf(services, id, working)
    return {
      weeks,
      zone,
      ...light,
      level,
      change: change?.kind ?? null,
      followers: await followersOf(data, id, levelLux),
    }
  })
  api.on('PUT /rooms/:id/light/level', async (request) => {
    const input = validate(decideLevelSchema, request.body)
    const { id, name } = await mustBe(idOf(request))
    const [row] = await data.query<{ fromLux: number; toLux: number }[]>(
      `SELECT from_lux AS fromLux, to_lux AS toLux FROM light_proposal WHERE id = ? AND room_id = ? AND state = 'open'`,
      [input.proposalId, id],
    )
    if (!row || !decideLevel(services, id, input, request.account, { name, ...row }))
      throw new Refusal('conflict', 'This was decided already, or the light asks for it no more.', 'proposalId')
    events.changed('light', 'register')
    if (input.decision === 'accept') levelled()
    return {}
  })
}

const entries = `SELECT light.id AS id, at, illuminance_lux AS illuminanceLux, kelvin, model || ' ' || serial AS instrument,
    COALESCE(account.name, '${readByItself}') AS by
  FROM room_light AS light LEFT JOIN instrument ON instrument.id = instrument_id LEFT JOIN account ON account.id = account_id`

/** When a room's light was out of what was wanted in a span, what goes on included. */
async function timesOf(
  data: DataSource,
  roomId: number,
  range: RoomLightRange | null,
  [from, until]: readonly [number, number],
  now: number,
): Promise<LightDay['times']> {
  const rows = await data.query<
    { fromAt: number; untilAt: number | null; lux: number; kelvin: number | null; toldAt: number | null }[]
  >(
    `WITH asked (room, begins, ends, silent) AS (VALUES (?, ?, ?, ?))
     SELECT from_at AS fromAt, until_at AS untilAt, worst_lux AS lux, worst_kelvin AS kelvin, told_at AS toldAt
     FROM light_time, asked WHERE room_id = room AND from_at < ends AND until_at >= begins
     UNION ALL
     SELECT out_since, CASE WHEN read_at < silent THEN read_at END, worst_lux, worst_kelvin, told_at FROM light_watch, asked
     WHERE room_id = room AND out_since IS NOT NULL AND out_since < ends AND COALESCE(read_at, out_since) >= begins
     ORDER BY 1 LIMIT 500`,
    [roomId, from, until, now - watchSilenceMs],
  )
  return rows.map(({ fromAt, untilAt, lux, kelvin, toldAt }) => ({
    from: fromAt,
    until: untilAt,
    problem:
      (range && roomLightProblem({ illuminanceLux: lux, kelvin }, range)) ??
      `${Math.round(lux)} lx, out of what was wanted then`,
    told: toldAt !== null,
  }))
}

/** Slots of a room whose aim follows its light. */
async function followersOf(
  data: DataSource,
  roomId: number,
  levelLux: number | null,
): Promise<LightWeeks['followers']> {
  const rows = await data.query<
    { displayId: number; display: string; slot: number; label: string; luminance: number; least: number }[]
  >(
    `SELECT display.id AS displayId, display.name AS display, slot.number AS slot, slot.label AS label,
       slot.aim ->> '$.luminance' AS luminance, COALESCE(aim.aim ->> '$.luminance', 0) AS least
     FROM workstation JOIN display ON display.workstation_id = workstation.id AND display.kept = 'in use'
       JOIN slot ON slot.display_id = display.id AND slot.aim ->> '$.fromRoom' = 1 LEFT JOIN aim ON aim.name = slot.label
     WHERE workstation.room_id = ? ORDER BY display.name, slot.number LIMIT 200`,
    [roomId],
  )
  return rows.map(({ least, ...row }) => ({
    ...row,
    wanted: levelLux === null ? null : followedLuminance(least, levelLux),
  }))
}

/** Reads the light where an instrument lies and logs it; gives the reading's number. Throws Refusal with what stands in the way. */
async function readByHand(
  { data, hub, holds, ledger, now }: LightServices,
  room: { id: number; name: string; light: RoomLightRange | null },
  instrumentId: number,
  account: { id: number; name: string },
): Promise<number> {
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
  const { value } = await orRefusal(`The courier on ${name} is away. Start it, then try again.`, () =>
    holds.besideRuns({ instrumentIds: [instrumentId] }, inRun, () =>
      hub.send(workstationId, 'instrument.readAmbient', { serial: instrument.serial }),
    ),
  )
  const read = lightRead(value)
  const reading = { roomId: room.id, at: Math.round(now()), ...read, instrumentId, accountId: account.id }
  return ledger.change(
    account,
    (take) => keepReading(take, reading, room.light),
    () => ({
      act: 'measured',
      thing: 'room',
      id: room.id,
      name: room.name,
      evidence: {
        lux: read.illuminanceLux,
        kelvin: read.kelvin,
        instrument: `${instrument.model} ${instrument.serial}`,
      },
    }),
  )
}
