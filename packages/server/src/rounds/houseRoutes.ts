import type { DataSource } from 'typeorm'
import {
  roleCovers,
  roundsSettingsSchema,
  saveRoundsInstrumentSchema,
  saveRoundsPersonSchema,
  saveUseTimesSchema,
  saveWalkSchema,
  validate,
  type RoundsSettings,
} from '@bichroma/contract'
import { dayStart, type UseTime } from '@bichroma/core/rounds'
import { accountEntity } from '../access/entities'
import { written } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { displayEntity, instrumentEntity, roomEntity, workstationEntity } from '../register/entities'
import { keptSetting } from '../studio/entities'
import { roundInstrumentEntity, roundPersonEntity } from './entities'
import { readHouse } from './house'
import { peopleQuery, personOf, type PersonFacts } from './houseFacts'
import { roundsSetting } from './hours'
import { roundsSettings } from './settings'

interface HouseServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
  /** Rounds are planned anew. */
  readonly changed: () => void
}

/** What rounds are made from: hours, people, instruments, ways, and when workstations may be used. */
export function houseRoutes(api: Api, { data, ledger, now, changed }: HouseServices): void {
  const roomThere = async (id: number | null, field: string) => {
    if (id === null) return null
    const row = await data.getRepository(roomEntity).findOneBy({ id })
    if (!row || row.retiredAt !== null)
      throw new Refusal('invalid-input', `“${field}” names no room that is there; choose one.`, field)
    return row.name
  }

  api.on('GET /rounds/house', async (request) => {
    const house = await readHouse(data, now())
    // Addresses are for those who give them.
    return roleCovers(request.account.role, 'administrator')
      ? house
      : { ...house, heads: [], people: house.people.map((p) => ({ ...p, mail: null })) }
  })

  api.on('PUT /rounds/settings', async (request) => {
    const value = validate(roundsSettingsSchema, request.body)
    const before = await roundsSettings(data)
    const flat = ({ hours, minutes, walk, heads }: RoundsSettings) => ({ ...hours, minutes, walk, heads })
    const days =
      before.hours.zone === value.hours.zone
        ? []
        : await data.query<{ id: number; date: string }[]>('SELECT id, date FROM mattering_day')
    ledger.change(
      request.account,
      (take) => {
        // Days begin when the zone has them.
        for (const { id, date } of days)
          take(written('UPDATE mattering_day SET at = ? WHERE id = ?', [dayStart(date, value.hours.zone), id]))
        return take(keptSetting(roundsSetting, value))
      },
      () => ({
        act: 'changed',
        thing: 'settings',
        id: null,
        name: 'hours and ways',
        changes: changesBetween(flat(before), flat(value)),
      }),
    )
    changed()
    return {}
  })

  api.on('PUT /rounds/ways', async (request) => {
    const { kind, a, b, minutes } = validate(saveWalkSchema, request.body)
    const names: string[] = []
    for (const [field, one] of [
      ['a', a],
      ['b', b],
    ] as const)
      names.push(
        kind === 'room'
          ? (await roomThere(Number.isSafeInteger(Number(one)) ? Number(one) : 0, field))!
          : await buildingThere(data, one, field),
      )
    if (a === b) throw new Refusal('invalid-input', '“To” must be another than “From”.', 'b')
    // The same way both ways.
    const [from, to] = a < b ? [a, b] : [b, a]
    ledger.change(
      request.account,
      (take) =>
        take(
          minutes === null
            ? written('DELETE FROM walk WHERE kind = ? AND a = ? AND b = ?', [kind, from, to])
            : written(
                `INSERT INTO walk (kind, a, b, minutes) VALUES (?, ?, ?, ?)
                 ON CONFLICT (kind, a, b) DO UPDATE SET minutes = excluded.minutes`,
                [kind, from, to, minutes],
              ),
        ),
      () => ({
        act: minutes === null ? 'removed' : 'changed',
        thing: 'settings',
        id: null,
        name: `the way from ${names[0]} to ${names[1]}`,
        ...(minutes !== null && { changes: [{ field: 'minutes', to: minutes }] }),
      }),
    )
    changed()
    return {}
  })

  api.on('PUT /rounds/times', async (request) => {
    const { level, of, times } = validate(saveUseTimesSchema, request.body)
    const subjectId = of ?? 0
    const name =
      level === 'studio'
        ? 'the studio'
        : level === 'room'
          ? (await roomThere(subjectId, 'of'))!
          : await workstationThere(data, subjectId)
    const before = await data.query<{ times: string }[]>(
      'SELECT times FROM use_times WHERE level = ? AND subject_id = ?',
      [level, subjectId],
    )
    const words = (t: readonly UseTime[] | null) => (t === null ? null : t.length ? t.join(', ') : 'never')
    const value = times === null ? null : [...new Set(times)]
    ledger.change(
      request.account,
      (take) =>
        take(
          value === null
            ? written('DELETE FROM use_times WHERE level = ? AND subject_id = ?', [level, subjectId])
            : written(
                `INSERT INTO use_times (level, subject_id, times) VALUES (?, ?, ?)
                 ON CONFLICT (level, subject_id) DO UPDATE SET times = excluded.times`,
                [level, subjectId, JSON.stringify(value)],
              ),
        ),
      () => ({
        act: value === null ? 'removed' : 'changed',
        thing: 'settings',
        id: null,
        name: `when workstations of ${name} may be used`,
        changes: changesBetween(
          { times: before[0] ? words(JSON.parse(before[0].times) as UseTime[]) : null },
          { times: words(value) },
        ),
      }),
    )
    changed()
    return {}
  })

  api.on('PUT /rounds/people/:id', async (request) => {
    const id = idOf(request)
    const value = validate(saveRoundsPersonSchema, request.body)
    const account = await data.getRepository(accountEntity).findOneBy({ id })
    if (!account || account.role === 'viewer')
      throw new Refusal('not-found', `There is no technician or administrator ${id}.`)
    await roomThere(value.roomId, 'roomId')
    const known = (await data.query<PersonFacts[]>(peopleQuery)).find((p) => p.id === id)
    const { name: _name, id: _id, ...before } = known ? personOf(known) : { name: '', id }
    ledger.change(
      request.account,
      (take) =>
        take(
          data
            .createQueryBuilder()
            .insert()
            .into(roundPersonEntity)
            .values({ accountId: id, ...value } as never)
            .orUpdate(['goes', 'room_id', 'carries', 'week', 'off', 'mail'], ['account_id']),
        ),
      () => ({
        act: 'changed',
        thing: 'account',
        id,
        name: `rounds of ${account.name}`,
        changes: changesBetween(before, { ...value }),
      }),
    )
    changed()
    return {}
  })

  api.on('PUT /rounds/instruments/:id', async (request) => {
    const id = idOf(request)
    const value = validate(saveRoundsInstrumentSchema, request.body)
    const instrument = await data.getRepository(instrumentEntity).findOneBy({ id })
    if (!instrument) throw new Refusal('not-found', `There is no instrument ${id}.`)
    const room = await roomThere(value.roomId, 'roomId')
    const carrier =
      value.carrierId === null ? null : await data.getRepository(accountEntity).findOneBy({ id: value.carrierId })
    if (value.carrierId !== null && (!carrier || carrier.role === 'viewer'))
      throw new Refusal('invalid-input', '“Carrier” names nobody who goes to displays; choose somebody.', 'carrierId')
    const display =
      value.hangsAt === null ? null : await data.getRepository(displayEntity).findOneBy({ id: value.hangsAt })
    if (value.hangsAt !== null && !display)
      throw new Refusal('invalid-input', '“Display” names none that is in the register; choose one.', 'hangsAt')
    const before = await data.getRepository(roundInstrumentEntity).findOneBy({ instrumentId: id })
    ledger.change(
      request.account,
      (take) =>
        take(
          data
            .createQueryBuilder()
            .insert()
            .into(roundInstrumentEntity)
            .values({ instrumentId: id, ...value })
            .orUpdate(['room_id', 'carrier_id', 'hangs_at'], ['instrument_id']),
        ),
      () => ({
        act: 'changed',
        thing: 'instrument',
        id,
        name: `${instrument.model} ${instrument.serial}`,
        changes: [
          ...(value.roomId === (before?.roomId ?? null) ? [] : [{ field: 'lies in', to: room }]),
          ...(value.carrierId === (before?.carrierId ?? null)
            ? []
            : [{ field: 'carried by', to: carrier?.name ?? null }]),
          ...(value.hangsAt === (before?.hangsAt ?? null) ? [] : [{ field: 'hangs at', to: display?.name ?? null }]),
        ],
      }),
    )
    changed()
    return {}
  })
}

async function buildingThere(data: DataSource, name: string, field: string): Promise<string> {
  const row = await data.getRepository(roomEntity).findOneBy({ building: name })
  if (!row) throw new Refusal('invalid-input', `“${field}” names no building that is there; choose one.`, field)
  return name
}

async function workstationThere(data: DataSource, id: number): Promise<string> {
  const row = await data.getRepository(workstationEntity).findOneBy({ id })
  if (!row || row.retiredAt !== null)
    throw new Refusal('invalid-input', '“of” names no workstation that is there; choose one.', 'of')
  return row.name
}
