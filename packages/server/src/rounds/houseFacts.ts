import type { DataSource } from 'typeorm'
import { certificateDays } from '@bichroma/core/register'
import type { DaySpan, DaysOff, WalkMinutes } from '@bichroma/core/rounds'

// Who and what there is for rounds, as both the thread that plans and the routes that tell of it read it.

/** People who may go to displays, with what was said of them; who is locked does not. */
export const peopleQuery = `SELECT account.id AS id, name, role, goes, room_id AS roomId, carries, week, off, mail
  FROM account LEFT JOIN round_person ON account_id = account.id
  WHERE locked_at IS NULL AND role IN ('technician', 'administrator') ORDER BY name, account.id`

export interface PersonFacts {
  id: number
  name: string
  role: 'technician' | 'administrator'
  goes: number | null
  roomId: number | null
  carries: number | null
  week: string | null
  off: string | null
  mail: string | null
}

/** Instruments that somebody carries at once, until somebody says otherwise. */
const usualCarries = 2

/** Technicians go until somebody says otherwise; administrators only then. */
export const personOf = (row: PersonFacts) => ({
  id: row.id,
  name: row.name,
  goes: row.goes === null ? row.role === 'technician' : row.goes === 1,
  roomId: row.roomId,
  carries: row.carries ?? usualCarries,
  week: row.week === null ? null : (JSON.parse(row.week) as (DaySpan | null)[] | null),
  off: row.off === null ? [] : (JSON.parse(row.off) as (DaysOff & { why: string })[]),
  mail: row.mail,
})

/** Instruments in use, with what was said of them; `seen`: the room in which a courier had it last, or first. */
export const instrumentsQuery = `SELECT instrument.id AS id, instrument.maker || ' ' || instrument.model || ' ' || instrument.serial AS name,
    kind, certified_at AS certifiedAt, keep.room_id AS roomId, carrier_id AS carrierId, hangs_at AS hangsAt,
    display.name AS hangs, workstation.room_id AS seen, COALESCE(instrument_seen.corrections, '[]') AS corrections
  FROM instrument LEFT JOIN round_instrument AS keep ON keep.instrument_id = instrument.id
    LEFT JOIN instrument_seen ON instrument_seen.instrument_id = instrument.id
    LEFT JOIN workstation ON workstation.id = COALESCE(instrument_seen.workstation_id, brought_by)
    LEFT JOIN display ON display.id = hangs_at
  WHERE instrument.kept = 'in use' AND kind <> 'elsewhere' ORDER BY instrument.id`

export interface InstrumentFacts {
  id: number
  name: string
  kind: 'colorimeter' | 'spectroradiometer'
  certifiedAt: number | null
  roomId: number | null
  carrierId: number | null
  hangsAt: number | null
  hangs: string | null
  seen: number | null
  /** Kinds of panel that it holds a correction for, as JSON. */
  corrections: string
}

/** Whether a visit names an instrument, or somebody said where it is kept: then it is not forgotten. */
export async function roundsName(data: DataSource, instrumentId: number): Promise<boolean> {
  const [{ named }] = await data.query<[{ named: number }]>(
    `SELECT EXISTS (SELECT 1 FROM round_instrument WHERE instrument_id = ?) OR EXISTS (SELECT 1 FROM visit WHERE instrument_id = ?) AS named`,
    [instrumentId, instrumentId],
  )
  return named === 1
}

const day = 86_400_000

/** Until when a certificate holds, ms since 1970; null for an instrument that does not tell. */
export const validUntil = (certifiedAt: number | null): number | null =>
  certifiedAt === null ? null : certifiedAt + certificateDays * day

export const roomsQuery = `SELECT id, name, building FROM room WHERE retired_at IS NULL ORDER BY id`
export const walkQuery = `SELECT kind, a, b, minutes FROM walk`
export type WalkRow = WalkMinutes['between'][number]
