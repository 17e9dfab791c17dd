import type Database from 'better-sqlite3'
import { chanceOutside } from '@bichroma/core/drift'
import { followedLuminance, worthFollowing, type Limits } from '@bichroma/core/aims'
import {
  checksFirst,
  dayStart,
  daysAfter,
  localDate,
  type DueBy,
  type RoundsFacts,
  type RoundsVisit,
} from '@bichroma/core/rounds'
import type { RunKind } from '@bichroma/core/runs'
import { studioSettingsOf } from '../studio/settingsOf'
import {
  instrumentsQuery,
  peopleQuery,
  personOf,
  roomsQuery,
  validUntil,
  walkQuery,
  type InstrumentFacts,
  type PersonFacts,
  type WalkRow,
} from './houseFacts'
import { fitsOf } from './fits'
import { runMinutes } from './runMinutes'
import { setsTogether, asSets } from './together'
import { roundsSetting, roundsSettingsOf, UseTimes, useTimesQuery } from './hours'

/** What a visit is for, beside what the planner has to know. */
export interface VisitPurpose {
  readonly displayId: number
  readonly kind: RunKind
  readonly slot: number
  readonly label: string
  readonly dueAt: number
  readonly dueBy: DueBy
  readonly options: RoundsVisit['options']
  readonly attended: boolean
}

export interface Gathered {
  readonly facts: RoundsFacts
  /** One for each visit of the facts. */
  readonly purposes: readonly VisitPurpose[]
}

interface DueRow {
  id: number
  maker: string
  model: string
  panelKind: string
  roomId: number
  workstationId: number
  slot: number
  label: string | null
  verdict: string | null
  judgedAt: number | null
  dueAt: number | null
  everyDays: number
  mattersAt: number | null
  mattersFrom: number | null
  drift: string | null
  limits: string
  /** Where its aim follows the room's light: what the slot holds, the least that it asks for, and what was agreed since. */
  luminance: number | null
  least: number | null
  levelLux: number | null
  levelSince: number | null
}

interface OpenRow {
  displayId: number
  kind: RunKind
  state: 'planned' | 'unplanned' | 'begun'
  personId: number | null
  instrumentId: number | null
  at: number | null
  pinned: number
  toldPersonId: number | null
  toldInstrumentId: number | null
  toldAt: number | null
  dueAt: number
  dueBy: DueBy
  slot: number
  label: string
}

const day = 86_400_000
/** What is taken for the chance of being outside where nobody has looked. */
const unknownChance = 0.5

/**
 * Everything that a plan is made from, read off the store: what falls due until its last day, who and what there is, and
 * what people were told.
 */
export function gatherRounds(store: Database.Database, { now, days }: { now: number; days: number }): Gathered {
  const settings = (name: string) => {
    const row = store.prepare('SELECT value FROM setting WHERE name = ?').pluck().get(name) as string | undefined
    return row === undefined ? undefined : (JSON.parse(row) as unknown)
  }
  const { hours, minutes, walk } = roundsSettingsOf(settings(roundsSetting))
  const { accepted } = studioSettingsOf(settings('studio'))
  const first = localDate(now, hours.zone)
  const until = dayStart(daysAfter(first, days), hours.zone)
  const rooms = store.prepare(roomsQuery).all() as { id: number; building: string | null }[]
  const instruments = store.prepare(instrumentsQuery).all() as InstrumentFacts[]
  const people = (store.prepare(peopleQuery).all() as PersonFacts[]).map(personOf).filter((p) => p.goes)
  const times = new UseTimes(store.prepare(useTimesQuery).all() as never)
  const known = new Set(rooms.map((r) => r.id))
  const roomOr = (...ids: (number | null)[]) => ids.find((id) => id !== null && known.has(id)) ?? rooms[0]?.id ?? 0
  const placeOf = (i: InstrumentFacts) => roomOr(i.roomId, i.seen)
  const fits = fitsOf(store, instruments)
  const minutesOf = runMinutes(store)

  const open = new Map(
    (
      store
        .prepare(
          `SELECT display_id AS displayId, kind, state, person_id AS personId, instrument_id AS instrumentId, at, pinned,
             told_person_id AS toldPersonId, told_instrument_id AS toldInstrumentId, told_at AS toldAt,
             due_at AS dueAt, due_by AS dueBy, slot, label
           FROM visit WHERE state IN ('planned', 'unplanned', 'begun')`,
        )
        .all() as OpenRow[]
    ).map((v) => [v.displayId, v]),
  )
  const blocked = new Map(
    store
      .prepare(
        `SELECT display_id, MAX(ended_at) FROM visit WHERE state = 'blocked' AND ended_at > ? GROUP BY display_id`,
      )
      .raw()
      .all(now - 2 * day) as [number, number][],
  )
  const dropped = new Set(
    store
      .prepare(
        // What was never judged is due at every moment; all else at one of its own.
        `SELECT display_id || ' ' || CASE due_by WHEN 'never judged' THEN due_by ELSE due_at END FROM visit
         WHERE state = 'dropped' AND reason IS NOT NULL`,
      )
      .pluck()
      .all() as string[],
  )
  const reported = new Map(
    store
      .prepare(`SELECT display_id, MIN(at) FROM desk_report WHERE state = 'open' GROUP BY display_id`)
      .raw()
      .all() as [number, number][],
  )
  const together = setsTogether(store, until)
  const due = store
    .prepare(
      `SELECT display.id AS id, display.maker AS maker, display.model AS model, display.panel_kind AS panelKind, display_now.room_id AS roomId,
         display_now.workstation_id AS workstationId, display_now.slot AS slot, display_now.label AS label,
         display_now.verdict AS verdict, judged_at AS judgedAt, due_at AS dueAt, check_every_days AS everyDays,
         matters_at AS mattersAt, matters_from AS mattersFrom,
         slot_drift.drift AS drift, limits.limits AS limits,
         follower.aim ->> '$.luminance' AS luminance, aim.aim ->> '$.luminance' AS least, level_lux AS levelLux,
         MAX(level_since, COALESCE(follower.written_at, 0)) AS levelSince
       FROM display_now JOIN display ON display.id = display_now.display_id JOIN limits ON limits.id = display.limits_id
         LEFT JOIN display_due ON display_due.display_id = display.id
         LEFT JOIN slot_drift ON slot_drift.display_id = display.id AND slot_drift.slot = display_now.slot
           AND slot_drift.at = judged_at
         LEFT JOIN slot AS follower ON follower.display_id = display.id AND follower.number = display_now.slot
           AND follower.aim ->> '$.fromRoom' = 1
         LEFT JOIN aim ON aim.name = follower.label
         LEFT JOIN room ON room.id = display_now.room_id
       WHERE rests IS NULL AND (due_at IS NULL OR due_at < ? OR display_now.verdict = 'outside')
         OR rests IS NULL AND follower.id IS NOT NULL AND level_lux IS NOT NULL
         OR display.id IN (SELECT display_id FROM desk_report WHERE state = 'open')
         OR display.id IN (SELECT display_id FROM visit WHERE state = 'begun')
         OR rests IS NULL AND display.id IN (SELECT display_id FROM visit WHERE state = 'planned' AND pinned)
         OR rests IS NULL AND display.id IN (SELECT value FROM json_each(?))
       ORDER BY display.id`,
    )
    .all(until, JSON.stringify([...together.along.keys()])) as DueRow[]

  const options = new Map<string, RoundsVisit['options']>()
  const visits: RoundsVisit[] = []
  const purposes: VisitPurpose[] = []
  for (const row of due) {
    const before = open.get(row.id)
    const begun = before?.state === 'begun'
    const { at, by } = withItsSet(dueNow(row, now, reported.get(row.id)), together.along.get(row.id))
    // The light that it follows changed by too little to calibrate again, and nothing else brings it here.
    if (!before && by !== 'light' && at >= until && !reported.has(row.id)) continue
    // Due at once since it was planned first, and not since now.
    const dueAt = by === 'never judged' && before?.dueBy === by ? before.dueAt : at
    if (!before && dropped.has(`${row.id} ${by === 'never judged' ? by : dueAt}`)) continue
    const chance = chanceOf(row, now, until)
    // Displays of one model share what fits them: thousands of lists would be sent from the thread otherwise.
    const optionsOf = (kind: 'check' | 'full') => {
      const key = `${kind} ${row.maker} ${row.model} ${row.panelKind}`
      const known =
        options.get(key) ??
        instruments
          .filter((i) => fits(i.id, row))
          .map((i) => ({ instrumentId: i.id, run: minutesOf(row, kind, i.id).minutes }))
      options.set(key, known)
      return known
    }
    const check = optionsOf('check')
    const full = optionsOf('full')
    const least = (options: typeof check) => Math.min(...options.map((o) => o.run))
    const wants: 'check' | 'full' =
      row.label === null || row.verdict === 'outside' || followsAnew(row)
        ? 'full'
        : check.length && !checksFirst(chance?.[0].chance ?? 0, least(check), least(full))
          ? 'full'
          : 'check'
    const kind = begun ? before.kind : wants
    const { hands } = minutesOf(row, kind === 'full' ? 'full' : 'check', 0)
    const purpose = {
      displayId: row.id,
      kind,
      slot: begun ? before.slot : row.slot,
      label: begun ? before.label : (row.label ?? ''),
      dueAt: begun ? before.dueAt : dueAt,
      dueBy: begun ? before.dueBy : by,
      options: kind === 'full' ? full : check,
      attended: kind === 'full' && hands,
    }
    const block = blocked.get(row.id)
    purposes.push(purpose)
    visits.push({
      displayId: row.id,
      roomId: row.roomId,
      times: times.of(row),
      options: purpose.options,
      attended: purpose.attended,
      due: dueAt,
      weight: 1,
      chance,
      matters: by === 'day',
      notBefore: latest(
        block === undefined ? null : dayStart(daysAfter(localDate(block, hours.zone), 1), hours.zone),
        // A judgement counts for the day only from then on.
        by === 'day' ? row.mattersFrom : null,
      ),
      pinned:
        before && (before.pinned || begun) && before.at !== null && before.instrumentId !== null
          ? { personId: before.personId, instrumentId: before.instrumentId, at: before.at }
          : null,
      told:
        before && before.toldAt !== null && before.toldInstrumentId !== null
          ? { personId: before.toldPersonId, instrumentId: before.toldInstrumentId, at: before.toldAt }
          : null,
      begun,
    })
  }

  return {
    purposes,
    facts: {
      hours,
      first,
      days,
      now,
      minutes,
      walk: { ...walk, between: store.prepare(walkQuery).all() as WalkRow[] },
      rooms,
      people: people.map(({ id, roomId, carries, week, off }) => ({
        id,
        roomId: roomOr(roomId, ...instruments.slice(0, 1).map(placeOf)),
        carries,
        week,
        off,
      })),
      instruments: instruments.map((i) => ({
        id: i.id,
        roomId: placeOf(i),
        validUntil: validUntil(i.certifiedAt),
        carrierId: i.carrierId,
        hangsAt: i.hangsAt,
      })),
      visits: asSets(visits, together.sets),
      accepted,
    },
  }
}

/** When a display falls due, and by what; what is due at once is so from now on, or since it was seen to be outside. */
function dueNow(row: DueRow, now: number, askedAt: number | undefined): { at: number; by: DueBy } {
  const { verdict, judgedAt, dueAt, everyDays, mattersAt } = row
  if (judgedAt === null || dueAt === null) return { at: now, by: 'never judged' }
  if (verdict === 'outside') return { at: judgedAt, by: 'outside' }
  // Somebody said that it looks wrong.
  if (askedAt !== undefined && askedAt < dueAt) return { at: askedAt, by: 'asked' }
  if (followsAnew(row) && row.levelSince! < dueAt) return { at: row.levelSince!, by: 'light' }
  if (dueAt === mattersAt) return { at: dueAt, by: 'day' }
  return { at: dueAt, by: dueAt < judgedAt + everyDays * day ? 'forecast' : 'calendar' }
}

/** What falls due by its own time alone comes along with the first of its peer set. */
const withItsSet = (own: { at: number; by: DueBy }, along: number | undefined): { at: number; by: DueBy } =>
  along !== undefined && along < own.at && (own.by === 'calendar' || own.by === 'forecast')
    ? { at: along, by: 'set' }
    : own

/** Whether its aim follows the light of its room, and that is agreed to be another than it was written for. */
const followsAnew = ({ luminance, least, levelLux }: DueRow): boolean =>
  luminance !== null && levelLux !== null && worthFollowing(luminance, followedLuminance(least ?? 0, levelLux))

/** The chance of being outside now and when the plan ends; null where its trends say nothing. */
function chanceOf(row: DueRow, now: number, until: number): RoundsVisit['chance'] {
  const both = (a: number, b: number) =>
    [
      { at: now, chance: a },
      { at: until, chance: b },
    ] as const
  if (row.verdict === 'outside') return both(1, 1)
  if (row.judgedAt === null) return both(unknownChance, unknownChance)
  if (row.drift === null) return null
  const drift = JSON.parse(row.drift) as Parameters<typeof chanceOutside>[0]
  const limits = JSON.parse(row.limits) as Limits
  const [a, b] = [chanceOutside(drift, limits, now), chanceOutside(drift, limits, until)]
  return a === null || b === null ? null : both(a, b)
}

const latest = (a: number | null, b: number | null): number | null => (a === null ? b : b === null ? a : Math.max(a, b))
