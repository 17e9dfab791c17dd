import type { DataSource } from 'typeorm'
import { soonDays } from '@bichroma/core/drift'
import { correctionAgain, ringDue } from '@bichroma/core/rounds'
import type { CorrectionFallsDue, InstrumentsDue, RingFallsDue } from '@bichroma/contract'

const day = 86_400_000
/** Instruments of one ring, and displays that are proposed for it, at most. */
const [mostInstruments, mostDisplays] = [8, 2]
/** Displays that are looked at for it. */
const mostLookedAt = 50
/** Corrections that are told by name. */
const mostCorrections = 20

interface Instrument {
  id: number
  name: string
  certifiedAt: number | null
  roomId: number | null
}

/** What of the instruments falls due soon: a ring, and corrections that are to be made again. */
export async function instrumentsDue(data: DataSource, now: number): Promise<InstrumentsDue> {
  const until = now + soonDays * day
  const ring = await ringFallsDue(data, now)
  const corrections = (await correctionsAgain(data)).filter((c) => c.at < until).sort((a, b) => a.at - b.at)
  return {
    ring: ring && ring.at < until ? ring : null,
    corrections: corrections.slice(0, mostCorrections),
    correctionsInAll: corrections.length,
  }
}

async function ringFallsDue(data: DataSource, now: number): Promise<RingFallsDue | null> {
  const instruments = await data.query<Instrument[]>(
    `SELECT instrument.id AS id, instrument.model || ' ' || instrument.serial AS name, certified_at AS certifiedAt,
       COALESCE(keep.room_id, workstation.room_id) AS roomId
     FROM instrument LEFT JOIN round_instrument AS keep ON keep.instrument_id = instrument.id
       LEFT JOIN instrument_seen ON instrument_seen.instrument_id = instrument.id
       LEFT JOIN workstation ON workstation.id = COALESCE(instrument_seen.workstation_id, brought_by)
     WHERE instrument.kept = 'in use' AND kind <> 'elsewhere' AND hangs_at IS NULL ORDER BY instrument.id`,
  )
  const [{ last, open }] = await data.query<[{ last: number | null; open: number }]>(
    `SELECT MAX(ended_at) FILTER (WHERE state = 'done') AS last, COUNT(*) FILTER (WHERE state = 'under way') AS open FROM ring`,
  )
  const due = open ? null : ringDue(instruments, last, now)
  if (!due) return null
  const named = instruments.find((i) => i.id === due.instrumentId)
  return {
    ...due,
    last,
    instrument: named?.name ?? null,
    instruments: instruments.slice(0, mostInstruments).map(({ id, name }) => ({ id, name })),
    displays: await displaysFor(data, instruments),
  }
}

/** Calibrated displays of several kinds, in the room where most of the instruments lie. */
async function displaysFor(data: DataSource, instruments: readonly Instrument[]): Promise<RingFallsDue['displays']> {
  const rooms = instruments.flatMap((i) => i.roomId ?? [])
  const most = rooms.reduce<number | null>((best, room) => {
    const count = (of: number | null) => rooms.filter((r) => r === of).length
    return count(room) > count(best) ? room : best
  }, null)
  const found = (where: string, ...parameters: unknown[]) =>
    data.query<{ id: number; name: string; room: string; panelKind: string }[]>(
      `SELECT display_id AS id, name, facts ->> 'room' AS room, facts ->> 'panelKind' AS panelKind
       FROM display_now WHERE judged_at IS NOT NULL ${where} LIMIT ${mostLookedAt}`,
      parameters,
    )
  const near = most === null ? [] : await found('AND room_id = ?', most)
  const rows = near.length ? near : await found('')
  // Of different kinds where there are: an instrument may read one kind otherwise than another.
  const kinds = rows.filter((r, n) => rows.findIndex((other) => other.panelKind === r.panelKind) === n)
  return [...new Set([...kinds, ...rows])].slice(0, mostDisplays).map(({ id, name, room }) => ({ id, name, room }))
}

/** The newest correction of each instrument for each model, and when it is to be made again. */
async function correctionsAgain(data: DataSource): Promise<CorrectionFallsDue[]> {
  const rows = await data.query<
    (Omit<CorrectionFallsDue, 'at' | 'why'> & {
      instrumentCertifiedAt: number | null
      referenceCertifiedAt: number | null
    })[]
  >(
    `SELECT correction.id AS id, display_id AS displayId, display.name AS displayName,
       own.model || ' ' || own.serial AS instrument, MAX(made_at) AS madeAt, own.certified_at AS instrumentCertifiedAt,
       reference.certified_at AS referenceCertifiedAt
     FROM correction JOIN display ON display.id = display_id JOIN instrument AS own ON own.id = instrument_id
       JOIN instrument AS reference ON reference.id = reference_id
     WHERE own.kept = 'in use' AND display.kept = 'in use'
     GROUP BY instrument_id, display.maker, display.model`,
  )
  return rows.map(({ instrumentCertifiedAt, referenceCertifiedAt, ...row }) => ({
    ...row,
    ...correctionAgain({ at: row.madeAt, instrumentCertifiedAt, referenceCertifiedAt }),
  }))
}
