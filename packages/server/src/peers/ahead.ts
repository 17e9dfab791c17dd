import type { DataSource } from 'typeorm'
import type { PeerAhead } from '@bichroma/contract'

/** Visits that Rounds has planned of members of a set, in the slots by which they belong to it. */
export async function aheadOf(data: DataSource, setId: number): Promise<PeerAhead | null> {
  const rows = await data.query<{ at: number; instrument: string }[]>(
    `SELECT visit.at AS at, instrument.model || ' ' || instrument.serial AS instrument
     FROM peer_member JOIN visit ON visit.display_id = peer_member.display_id AND visit.slot = peer_member.slot
       JOIN instrument ON instrument.id = visit.instrument_id
     WHERE set_id = ? AND visit.state = 'planned' ORDER BY visit.at`,
    [setId],
  )
  if (!rows.length) return null
  const instruments = new Set(rows.map((r) => r.instrument))
  return {
    from: rows[0].at,
    to: rows[rows.length - 1].at,
    members: rows.length,
    instrument: instruments.size === 1 ? rows[0].instrument : null,
  }
}
