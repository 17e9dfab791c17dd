import type { DataSource } from 'typeorm'
import { convertXyzToChromaticity, correlatedColorTemperature, type Triple } from '@bichroma/core/color'
import {
  lightStanding,
  readingsKeptMs,
  roomLightProblem,
  watchEveryMs,
  type LightStanding,
  type RoomLightRange,
} from '@bichroma/core/aims'
import type { CommandResult, HoldsRuns, WatchState } from '@bichroma/contract'
import { CourierGone, DeviceRefusal, type CourierHub } from '../../couriers/hub'
import { atomically, changesInAll, written } from '../../data/atomically'
import { Gathered } from '../../data/gathered'
import { logFault } from '../../data/log'
import { patiently } from '../../data/patiently'
import type { Ledger } from '../../ledger/ledger'
import type { Holds } from '../holds'
import { followReading, keepReading, type Followed } from './keepReading'
import { LightTurns } from './lightTurns'
import { reviewLevel, type WorkingHours } from './levels'

interface WatchServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly holds: Holds
  readonly ledger: Ledger
  readonly now: () => number
  /** The studio's zone, and when people work there. */
  readonly hours: () => Promise<WorkingHours>
  /** Readings came, or a watch stands otherwise. */
  readonly read: () => void
  /** A room's light went out of what is wanted for too long, or came back; whoever waits for it looks again. */
  readonly turned: () => void
  /** The level that aims follow is another. */
  readonly levelled: () => void
}

/** Wall time between two looks at what is to be read, ms. */
const lookMs = 15_000
/** Studio time after which an instrument that refused is asked again, and one that is missing is told, ms. */
const [againMs, missingMs] = [60_000, 60_000]
/** Wall time that comings are gathered for, ms. */
const gatherMs = 300
/** Wall time for which a look waits for what it asked; what answers later is stored all the same, ms. */
const patienceMs = 5000
/** Old readings that go in one write, and studio time between two looks for them, ms. */
const [thinnedAtOnce, thinEveryMs] = [2000, 3_600_000]

interface WatchRow extends Omit<Followed, 'range'> {
  readonly instrumentId: number
  readonly serial: string
  readonly since: number
  readonly state: WatchState
  readonly stateSince: number
  readonly says: string | null
  readonly light: string | null
  readonly levelLux: number | null
}

const watchColumns = `light_watch.room_id AS roomId, light_watch.instrument_id AS instrumentId, serial, since, state, state_since AS stateSince, says,
  light, allow_minutes AS allowMinutes, level_lux AS levelLux, read_at AS readAt, out_since AS outSince, back_since AS backSince,
  worst_lux AS worstLux, worst_kelvin AS worstKelvin, told_at AS toldAt, desk_day AS deskDay, at_desk AS atDesk`

/** A reading of a room as an instrument gave it. Temperature null where it has none. */
export function lightRead({ illuminanceLux, xyz }: CommandResult<'instrument.readAmbient'>): {
  illuminanceLux: number
  kelvin: number | null
} {
  const [x, y, z] = xyz as unknown as Triple
  const chromaticity = illuminanceLux > 0 && Math.min(x, y, z) > 0 ? convertXyzToChromaticity([x, y, z]) : null
  return { illuminanceLux, kelvin: (chromaticity && correlatedColorTemperature(chromaticity)?.cct) ?? null }
}

/** How the light of the room is in which a run is to be made. */
export interface LightThere {
  readonly roomId: number
  readonly room: string
  readonly standing: LightStanding
  readonly holdsRuns: HoldsRuns
  /** What is wrong with it, since when. */
  readonly problem: string | null
  readonly outSince: number | null
  /** The instrument that watches it. */
  readonly instrumentId: number
}

/**
 * Reads the rooms that an instrument was left in, every five minutes, and follows their light. A run takes the instrument
 * away; once it is let go, it is read again. What fails is tried again, and nothing else fails with it.
 */
export class LightWatch {
  private looking: Promise<void> = Promise.resolve()
  private timer: NodeJS.Timeout | null = null
  private readonly gathered = new Gathered(
    () => this.look(),
    () => gatherMs,
  )
  private closed = false
  private thinnedAt = -Infinity
  /** Readings that are under way, by room: a courier that does not answer holds up nobody else. */
  private readonly asked = new Map<number, Promise<void>>()
  /** Something was stored that nobody was told of. */
  private changed = false
  /** When an instrument refused last, by its room. */
  private readonly refusedAt = new Map<number, number>()
  /** Since when nobody has an instrument, by its room. */
  private readonly missedSince = new Map<number, number>()
  private readonly turns = new LightTurns()

  constructor(private readonly services: WatchServices) {}

  start(): void {
    this.timer = setInterval(() => void this.look(), lookMs).unref()
    void this.look()
  }

  /** A courier has come, or a run let go of an instrument. */
  soon(): void {
    this.gathered.soon()
  }

  /** Looks at all watches, after a look that is going on. */
  look(): Promise<void> {
    this.looking = this.looking
      .then(() => this.lookOnce())
      .catch((error: unknown) => {
        if (!this.closed) logFault('The light of rooms was looked at', error)
      })
    return this.looking
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.timer) clearInterval(this.timer)
    this.gathered.close()
    this.turns.close()
    await this.looking
    // Couriers have hung up by now.
    await Promise.all(this.asked.values())
  }

  /** How the light is where a workstation stands; null where nothing watches it. */
  async at(workstationId: number): Promise<LightThere | null> {
    const [row] = await this.services.data.query<(WatchRow & { room: string; holdsRuns: HoldsRuns })[]>(
      `SELECT ${watchColumns}, room.name AS room, holds_runs AS holdsRuns
       FROM light_watch JOIN room ON room.id = light_watch.room_id JOIN instrument ON instrument.id = light_watch.instrument_id
       WHERE light_watch.room_id = (SELECT room_id FROM workstation WHERE id = ?)`,
      [workstationId],
    )
    if (!row) return null
    const range = rangeOf(row)
    const { roomId, room, holdsRuns, outSince, instrumentId } = row
    return {
      roomId,
      room,
      holdsRuns,
      outSince,
      instrumentId,
      standing: lightStanding(row, this.services.now()),
      problem:
        outSince === null || !range
          ? null
          : roomLightProblem({ illuminanceLux: row.worstLux!, kelvin: row.worstKelvin }, range),
    }
  }

  /** Resolves once a room's light is not out for too long any more, as far as anybody knows. */
  back(roomId: number, signal: AbortSignal): Promise<void> {
    const isOut = async () => {
      const row = (await this.watches()).find((w) => w.roomId === roomId)
      return row !== undefined && lightStanding(row, this.services.now()) === 'out too long'
    }
    return this.turns.backIn(isOut, signal)
  }

  private watches(): Promise<WatchRow[]> {
    return this.services.data.query<WatchRow[]>(
      `SELECT ${watchColumns} FROM light_watch JOIN room ON room.id = light_watch.room_id
         JOIN instrument ON instrument.id = light_watch.instrument_id ORDER BY light_watch.room_id`,
    )
  }

  private async lookOnce(): Promise<void> {
    if (this.closed) return
    const rows = await this.watches()
    for (const row of rows)
      if (!this.asked.has(row.roomId)) {
        const asked = this.see(row).finally(() => this.asked.delete(row.roomId))
        this.asked.set(row.roomId, asked)
      }
    let timer: NodeJS.Timeout | undefined
    const late = new Promise((resolve) => (timer = setTimeout(resolve, patienceMs)))
    await Promise.race([Promise.all(this.asked.values()), late])
    clearTimeout(timer)
    if (this.closed) return
    const now = this.services.now()
    const standing = (rows.length ? await this.watches() : []).map(
      (row) => [row.roomId, lightStanding(row, now)] as const,
    )
    if (this.turns.compare(new Map(standing))) this.services.turned()
    if (this.changed) this.services.read()
    this.changed = false
    if (rows.length) await this.thin()
  }

  /** Reads one room if it is time. */
  private async see(row: WatchRow): Promise<void> {
    try {
      if (await this.seeOne(row)) this.changed = true
    } catch (error) {
      if (!this.closed) logFault(`The light of room ${row.roomId} is read`, error)
    }
  }

  /** The same; true when something was stored. */
  private async seeOne(row: WatchRow): Promise<boolean> {
    const { hub, holds, now } = this.services
    const place = hub.workstationOfInstrument(row.serial)
    if (place === null) return this.isMissing(row)
    this.missedSince.delete(row.roomId)
    const where = await this.placeOf(place)
    if (where.roomId !== row.roomId) return this.stands(row, 'elsewhere', where.name)
    // A clock that was set back does not stop it.
    const isSoon = (at: number | null | undefined, within: number) => Math.abs(now() - (at ?? -Infinity)) < within
    if (row.state === 'reading' && isSoon(row.readAt, watchEveryMs)) return false
    if (row.state === 'refused' && isSoon(this.refusedAt.get(row.roomId), againMs)) return false
    try {
      const answer = await holds.briefly({ instrumentIds: [row.instrumentId] }, () =>
        hub.send(place, 'instrument.readAmbient', { serial: row.serial }),
      )
      if (answer === null) return this.stands(row, 'in a run', null)
      return await this.store(row, lightRead(answer.value))
    } catch (error) {
      if (error instanceof CourierGone) return this.isMissing(row)
      if (!(error instanceof DeviceRefusal)) throw error
      this.refusedAt.set(row.roomId, now())
      return this.stands(row, 'refused', error.sentence)
    }
  }

  /** Nobody has its instrument: told once that has been so for a minute, for couriers come and go. */
  private async isMissing(row: WatchRow): Promise<boolean> {
    const now = this.services.now()
    const since = this.missedSince.get(row.roomId) ?? now
    this.missedSince.set(row.roomId, since)
    return now - since >= missingMs ? this.stands(row, 'away', null) : false
  }

  private async placeOf(workstationId: number): Promise<{ roomId: number; name: string }> {
    const [row] = await this.services.data.query<{ roomId: number; name: string }[]>(
      'SELECT room_id AS roomId, name FROM workstation WHERE id = ?',
      [workstationId],
    )
    return row
  }

  /** Stores that a watch stands otherwise; true when it does. */
  private async stands(row: WatchRow, state: WatchState, says: string | null): Promise<boolean> {
    if (row.state === state && row.says === says) return false
    await this.write((take) =>
      take(
        written(`UPDATE light_watch SET state = ?, says = ?, state_since = ? WHERE room_id = ? AND instrument_id = ?`, [
          state,
          says,
          this.services.now(),
          row.roomId,
          row.instrumentId,
        ]),
      ),
    )
    return true
  }

  private async store(row: WatchRow, read: { illuminanceLux: number; kelvin: number | null }): Promise<boolean> {
    const { data, now, hours } = this.services
    const working = await hours()
    const at = Math.round(now())
    const { roomId, instrumentId } = row
    const kept = await this.write((take) => {
      const before = changesInAll(data)
      take(
        written(
          `UPDATE light_watch SET state = 'reading', says = NULL, state_since = CASE WHEN state = 'reading' THEN state_since ELSE ? END
           WHERE room_id = ? AND instrument_id = ? AND since = ?`,
          [at, roomId, instrumentId, row.since],
        ),
      )
      // It was ended while the instrument was reading, or begun anew.
      if (changesInAll(data) === before) return false
      const range = rangeOf(row)
      const reading = { roomId, at, ...read, instrumentId, accountId: null }
      keepReading(take, reading, range)
      followReading(take, { ...row, range }, reading, working.dateOf(at))
      return true
    })
    // Once a day what its hours say of the level is looked at.
    if (kept && row.levelLux !== null && row.readAt !== null && working.dateOf(row.readAt) !== working.dateOf(at)) {
      const made = await reviewLevel(this.services, roomId, working).catch((error: unknown) => {
        logFault(`The level of room ${roomId} is looked at`, error)
        return false
      })
      if (made) this.services.levelled()
    }
    return kept
  }

  /** Lets go of old readings; what each hour was stays. */
  private async thin(): Promise<void> {
    const { data, now } = this.services
    if (Math.abs(now() - this.thinnedAt) < thinEveryMs) return
    this.thinnedAt = now()
    for (let gone = thinnedAtOnce; gone === thinnedAtOnce && !this.closed;) {
      const before = changesInAll(data)
      await this.write((take) =>
        take(
          written(
            `DELETE FROM room_light WHERE id IN
             (SELECT id FROM room_light WHERE account_id IS NULL AND at < ? ORDER BY at LIMIT ${thinnedAtOnce})`,
            [now() - readingsKeptMs],
          ),
        ),
      )
      gone = changesInAll(data) - before
      await new Promise((resolve) => setImmediate(resolve))
    }
  }

  private write<T>(work: Parameters<typeof atomically<T>>[1]): Promise<T> {
    return patiently(() => atomically(this.services.data, work))
  }
}

const rangeOf = ({ light }: WatchRow): RoomLightRange | null =>
  light === null ? null : (JSON.parse(light) as RoomLightRange | null)
