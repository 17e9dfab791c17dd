import Database from 'better-sqlite3'
import { formatDate, formatSigned, type JudgedVerdict } from '@bichroma/core/aims'
import {
  instrumentChanges,
  instrumentStandings,
  soonDays,
  type InstrumentShift,
  type InstrumentStanding,
  type LightPoint,
} from '@bichroma/core/drift'
import type { FleetDrift, FleetGroup, Grouping, InstrumentReading, InstrumentTurn } from '@bichroma/contract'

const day = 86_400_000

/** A slot by what groups of the fleet are told by. */
interface Slot {
  model: string
  room: string
  instrument: string
  firstAt: number
  verdict: JudgedVerdict
  averageDeltaE: number
  leavesOrder: number
}

const slotsSql = `SELECT display.maker || ' ' || display.model AS model, room.name AS room,
    CASE instrument.kind WHEN 'elsewhere' THEN instrument.model ELSE instrument.model || ' ' || instrument.serial END AS instrument,
    first_at AS firstAt, verdict, average_delta_e AS averageDeltaE, leaves_order AS leavesOrder
  FROM slot_drift JOIN display ON display.id = slot_drift.display_id
    JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
    JOIN instrument ON instrument.id = slot_drift.instrument_id
  WHERE display.kept = 'in use'`

/**
 * The fleet's histories by groups, and how its instruments stand beside each other, as of `now`. Reads the store's file by
 * a handle of its own, so that it can be done in a thread.
 */
export function sumUpDrift(database: string, now: number): FleetDrift {
  const store = new Database(database, { readonly: true })
  try {
    const slots = store.prepare(slotsSql).all() as Slot[]
    const soon = (s: Slot) => s.leavesOrder < now + soonDays * day
    const groups = (of: (slot: Slot) => string) => groupsBy(slots, of, soon)
    const names = new Map(
      (
        store
          .prepare(
            `SELECT id, CASE kind WHEN 'elsewhere' THEN model ELSE model || ' ' || serial END AS name FROM instrument`,
          )
          .all() as { id: number; name: string }[]
      ).map((i) => [i.id, i.name]),
    )
    const shifts: InstrumentShift[] = []
    for (const row of store.prepare(`SELECT shifts FROM slot_drift WHERE shifts <> '[]'`).iterate())
      shifts.push(...(JSON.parse((row as { shifts: string }).shifts) as InstrumentShift[]))
    return {
      slots: slots.length,
      soon: slots.filter(soon).length,
      groups: {
        model: groups((s) => s.model),
        age: groups((s) => ageOf(now - s.firstAt)),
        room: groups((s) => s.room),
        instrument: groups((s) => s.instrument),
      } satisfies Record<Grouping, FleetGroup[]>,
      instruments: standingsOf(shifts, names),
      changes: changesOf(store, names, slots.length, now),
    }
  } finally {
    store.close()
  }
}

/** Checks that are looked through for instruments that have changed: a little more than the rule looks back. */
const changeDays = 320
/** Slots whose checks are looked through; of a larger fleet every so many displays tell enough. */
const slotsLookedAt = 500

/** Instruments that have begun to read otherwise, beyond chance. */
function changesOf(
  store: Database.Database,
  names: ReadonlyMap<number, string>,
  slots: number,
  now: number,
): InstrumentTurn[] {
  const rows = store
    .prepare(
      `SELECT display_id AS displayId, slot, label, at, instrument_id AS instrumentId, calibrated,
         figures ->> '$.luminance' AS luminance
       FROM validation WHERE display_id IN (SELECT id FROM display WHERE id % ? = 0) AND at BETWEEN ? AND ? ORDER BY display_id, slot, at, id`,
    )
    .iterate(Math.max(1, Math.ceil(slots / slotsLookedAt)), now - changeDays * day, now) as IterableIterator<
    LightPoint & { displayId: number; slot: number; label: string; calibrated: number; luminance: number | null }
  >
  const series: LightPoint[][] = []
  let last = ''
  for (const { displayId, slot, label, calibrated, luminance, ...point } of rows) {
    if (luminance === null) continue
    const of = `${displayId} ${slot} ${label}`
    // A calibration brings light back: a new stretch begins with it.
    if (of !== last || calibrated) series.push([])
    last = of
    series[series.length - 1].push({ ...point, luminance })
  }
  return instrumentChanges(
    series.map((points) => ({ points })),
    now,
  )
    .filter((c) => c.alarm)
    .map(({ instrumentId, since, kind, luminance, within, readings }): InstrumentTurn => {
      const name = names.get(instrumentId) ?? 'an instrument'
      const about = `${(100 * Math.abs(luminance)).toFixed(1)} % ± ${(100 * within).toFixed(1)}`
      const way = luminance > 0 ? 'bright' : 'dark'
      const sentence = `${name} ${kind === 'step' ? 'has read' : 'has come to read'} ${about} ${way} since about ${formatDate(since)}, beside the others and by ${readings} of its checks. Have it compared with a reference.`
      return { instrumentId, name, since, luminance, within, readings, sentence }
    })
}

/** How long a slot has been followed, in bands. */
function ageOf(ms: number): string {
  const months = ms / (30.44 * day)
  if (months < 6) return 'under 6 months'
  if (months < 12) return '6 to 12 months'
  if (months < 24) return '1 to 2 years'
  return 'over 2 years'
}

const quantile = (sorted: readonly number[], share: number) => {
  const at = share * (sorted.length - 1)
  const low = Math.floor(at)
  return sorted[low] + (sorted[Math.min(sorted.length - 1, low + 1)] - sorted[low]) * (at - low)
}

function groupsBy(slots: readonly Slot[], of: (slot: Slot) => string, soon: (slot: Slot) => boolean): FleetGroup[] {
  const groups = new Map<string, Slot[]>()
  for (const slot of slots) {
    const name = of(slot)
    const known = groups.get(name)
    if (known) known.push(slot)
    else groups.set(name, [slot])
  }
  return [...groups]
    .map(([name, own]): FleetGroup => {
      const sorted = own.map((s) => s.averageDeltaE).sort((a, b) => a - b)
      return {
        name,
        slots: own.length,
        least: sorted[0],
        quarter: quantile(sorted, 0.25),
        median: quantile(sorted, 0.5),
        threeQuarters: quantile(sorted, 0.75),
        most: sorted[sorted.length - 1],
        outside: own.filter((s) => s.verdict === 'outside').length,
        soon: own.filter(soon).length,
      }
    })
    .sort((a, b) => b.median - a.median)
}

function standingsOf(shifts: readonly InstrumentShift[], names: ReadonlyMap<number, string>): InstrumentReading[] {
  return instrumentStandings(shifts).map(({ errors, ...standing }) => {
    const name = names.get(standing.instrumentId) ?? 'an instrument'
    return { ...standing, name, sentence: evidenceOf(name, { ...standing, errors }) }
  })
}

function evidenceOf(name: string, s: InstrumentStanding): string {
  const figure = (word: string, value: number, error: number) =>
    `${word} ${formatSigned(value, 1)} ± ${error.toFixed(1)} %`
  const figures = [
    figure('luminance', s.luminance, s.errors.luminance),
    figure('X', s.x, s.errors.x),
    figure('Z', s.z, s.errors.z),
  ].join(', ')
  const basis = `on ${s.slots} ${s.slots === 1 ? 'slot' : 'slots'} that others read too (${s.readings} validations)`
  return s.stands
    ? `${name} reads differently from the others: ${figures} beside the trends ${basis}. Have it compared with a reference before its verdicts are trusted.`
    : `${name} reads like the others: ${figures} ${basis}.`
}
