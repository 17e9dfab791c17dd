import { zoneClock } from '../basics/zoneClock'
import { luminanceForRoom, roomLightProblem, type RoomLightRange, type RoomLightReading } from './roomLight'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour

/** Between two readings of a watched room, ms. */
export const watchEveryMs = 5 * minute
/** After so long without a reading nobody knows how a watched room's light is, ms. */
export const watchSilenceMs = 20 * minute
/** Readings themselves are kept for so long, ms; what each hour was stays. */
export const readingsKeptMs = 31 * day

/** A reading with its instant, ms since 1970. */
export interface RoomLightAt extends RoomLightReading {
  readonly at: number
}

/** A time in which a room's light is not as it is wanted. */
export interface LightExcursion {
  /** The first reading that was out of the band, ms since 1970. */
  readonly from: number
  /** The first of the readings since which it is back in it; null while it is out. */
  readonly backSince: number | null
  /** The reading that was farthest out. */
  readonly worst: RoomLightReading
}

/** Steps of temperature that look alike are alike in mired, 1e6 ÷ K. */
const mired = (kelvin: number) => 1e6 / kelvin
/** Mired that weigh as much as light that is e times too bright or too dark. */
const miredPerStep = 100

/** How far light is out of its band: 0 within, 1 where it is e times too bright or too dark, or 100 mired off. */
function farOut({ illuminanceLux, kelvin }: RoomLightReading, range: RoomLightRange): number {
  const lux = Math.max(illuminanceLux, 0.1)
  const { from, to } = range.lux
  const byLux = Math.max(0, Math.log(Math.max(from, 0.1) / lux), Math.log(lux / Math.max(to, 0.1)))
  if (!range.kelvin || kelvin === null) return byLux
  const at = mired(kelvin)
  const byKelvin = Math.max(0, at - mired(range.kelvin.from), mired(range.kelvin.to) - at) / miredPerStep
  return Math.max(byLux, byKelvin)
}

/** What one more reading makes of a room's light. */
export interface LightStep {
  /** What goes on; null for light as it is wanted. */
  readonly excursion: LightExcursion | null
  /** What is over, and when it was. */
  readonly ended: (LightExcursion & { readonly until: number }) | null
}

/**
 * Follows a room's light by one reading. It is out from the first reading out of its band, and back once two in a row are
 * within, so that light which flutters about an edge is one time and not many. What nobody read ends with the last reading.
 */
export function followLight(
  before: LightExcursion | null,
  reading: RoomLightAt,
  range: RoomLightRange | null,
  lastAt: number | null,
): LightStep {
  const silent = lastAt === null || reading.at - lastAt > watchSilenceMs
  const over = before && (silent || !range)
  const ended = over ? { ...before, until: before.backSince ?? lastAt ?? before.from } : null
  const open = over ? null : before
  if (!range) return { excursion: null, ended }
  if (roomLightProblem(reading, range) !== null) {
    const { illuminanceLux, kelvin } = reading
    const worst = open && farOut(open.worst, range) >= farOut(reading, range) ? open.worst : { illuminanceLux, kelvin }
    return { excursion: { from: open?.from ?? reading.at, backSince: null, worst }, ended }
  }
  if (!open) return { excursion: null, ended }
  if (open.backSince === null) return { excursion: { ...open, backSince: reading.at }, ended }
  return { excursion: null, ended: { ...open, until: open.backSince } }
}

/** How a watched room's light stands: nobody knows, as it is wanted, out of it for no longer than it may be, or for longer. */
export type LightStanding = 'unknown' | 'within' | 'out' | 'out too long'

/** How light stands now. `toldAt`: since when it is told that it was out for longer than it may be. All in ms since 1970. */
export function lightStanding(
  watch: { readonly readAt: number | null; readonly outSince: number | null; readonly toldAt: number | null },
  now: number,
): LightStanding {
  if (watch.readAt === null || now - watch.readAt > watchSilenceMs) return 'unknown'
  if (watch.outSince === null) return 'within'
  return watch.toldAt === null ? 'out' : 'out too long'
}

/** Whether light that is out at this reading is so for longer than it may be. */
export const isOutTooLong = (excursion: LightExcursion, at: number, allowMinutes: number): boolean =>
  excursion.backSince === null && at - excursion.from >= allowMinutes * minute

/** What is kept of an hour of a room's light. */
export interface LightHour {
  /** When the hour began, ms since 1970, on the full hour of UTC. */
  readonly at: number
  readonly readings: number
  /** Mean, least and most illuminance, lx. */
  readonly lux: number
  readonly least: number
  readonly most: number
  /** Mean colour temperature by mired, K; null where none had one. */
  readonly kelvin: number | null
  /** Readings that were out of the band as it was then. */
  readonly outside: number
}

/** The full hour in which an instant lies, ms since 1970. */
export const hourOf = (at: number): number => Math.floor(at / hour) * hour

/** Light of one hour of the week, over weeks. */
export interface LightCell {
  readonly readings: number
  /** Mean, lx. */
  readonly lux: number
  readonly least: number
  readonly most: number
  /** Share of the readings that were out of the band as it was then, 0–1. */
  readonly outside: number
}

/** A room's light by weekday (Monday first) and hour of the day in a zone: 7 rows of 24, null where nothing was read. */
export function lightPattern(hours: readonly LightHour[], zone: string): (LightCell | null)[][] {
  const cells: (LightCell | null)[][] = Array.from({ length: 7 }, () => Array.from({ length: 24 }, () => null))
  const clock = zoneClock(zone)
  for (const h of hours) {
    // Where a zone is off by half an hour, by the middle of the hour.
    const { weekday, hour: of } = clock(h.at + hour / 2)
    const before = cells[weekday][of]
    const readings = (before?.readings ?? 0) + h.readings
    const mean = (a: number, b: number) => (a * (readings - h.readings) + b * h.readings) / readings
    cells[weekday][of] = {
      readings,
      lux: mean(before?.lux ?? 0, h.lux),
      least: Math.min(before?.least ?? Infinity, h.least),
      most: Math.max(before?.most ?? 0, h.most),
      outside: mean(before?.outside ?? 0, h.outside / h.readings),
    }
  }
  return cells
}

/** The light of a room's working hours, as aims that follow it would be told. */
export interface LightLevel {
  /** The middle of the hours, lx: half of them are darker. */
  readonly lux: number
  /** A quarter of the hours is darker than the first, a quarter brighter than the second, lx. */
  readonly from: number
  readonly to: number
  /** Days and hours that tell it. */
  readonly days: number
  readonly hours: number
}

/** A level is told by so many days of the last fourteen, with so many hours each. */
const [levelDays, leastDays, leastHours] = [14, 5, 3]
/** Quartiles that are farther apart than this ratio are no level. */
const steadyRatio = 2
/** Change of white, as a share, from which on it is worth calibrating again. */
const worthwhile = 0.08

const twoDigits = (v: number) => (v <= 0 ? 0 : Number(v.toPrecision(2)))

/**
 * The level of a room's light in the hours that count, from the last fourteen days; null while too few were read. `counts`:
 * whether an instant (ms since 1970) is one at which people work there.
 */
export function lightLevel(
  hours: readonly LightHour[],
  { now, zone, counts }: { now: number; zone: string; counts: (at: number) => boolean },
): LightLevel | null {
  const by = new Map<number, number[]>()
  const clock = zoneClock(zone)
  for (const { at, lux } of hours) {
    if (at < now - levelDays * day || at >= now || !counts(at + hour / 2)) continue
    const { day: on } = clock(at + hour / 2)
    by.set(on, [...(by.get(on) ?? []), lux])
  }
  const days = [...by.values()].filter((d) => d.length >= leastHours)
  if (days.length < leastDays) return null
  const sorted = days.flat().sort((a, b) => a - b)
  const quantile = (q: number) => {
    const at = q * (sorted.length - 1)
    const low = Math.floor(at)
    return sorted[low] + (at - low) * ((sorted[low + 1] ?? sorted[low]) - sorted[low])
  }
  return {
    lux: twoDigits(quantile(0.5)),
    from: quantile(0.25),
    to: quantile(0.75),
    days: days.length,
    hours: sorted.length,
  }
}

/** What is to be done about the level that aims follow. */
export type LevelChange =
  | { readonly kind: 'none' }
  /** The light is not steady enough for any level. */
  | { readonly kind: 'unsteady' }
  | { readonly kind: 'propose'; readonly lux: number }
  /** It lies within what the administrator allowed. */
  | { readonly kind: 'make'; readonly lux: number }

/** Whether two levels, lx, come to nearly the same white. */
export const isSameLevel = (a: number, b: number): boolean =>
  Math.abs(Math.log(luminanceForRoom(a) / luminanceForRoom(b))) <= Math.log1p(worthwhile)

/**
 * Whether a room's light asks for another level than was agreed: only where white would change by 8 % or more, and not what
 * somebody declined already. `allowed`: lx between which it may follow by itself.
 */
export function levelChange(
  level: LightLevel,
  known: {
    readonly agreed: number | null
    readonly declined: number | null
    readonly allowed: { readonly from: number; readonly to: number } | null
  },
): LevelChange {
  const differs = (other: number | null) => other === null || !isSameLevel(level.lux, other)
  if (!differs(known.agreed)) return { kind: 'none' }
  if (level.to > steadyRatio * Math.max(level.from, 1) && luminanceForRoom(level.to) > luminanceForRoom(level.from))
    return { kind: 'unsteady' }
  const { allowed } = known
  if (allowed && known.agreed !== null && level.lux >= allowed.from && level.lux <= allowed.to)
    return { kind: 'make', lux: level.lux }
  return known.declined !== null && !differs(known.declined) ? { kind: 'none' } : { kind: 'propose', lux: level.lux }
}

/** The luminance of an aim that follows a room's light (cd/m²): as paper there, and no less than the aim's own. */
export const followedLuminance = (least: number, agreedLux: number): number =>
  Math.max(least, luminanceForRoom(agreedLux))
/** Whether a slot that was written for one luminance is off from another by enough to be calibrated again. */
export const worthFollowing = (was: number, wanted: number): boolean =>
  Math.abs(Math.log(was / wanted)) > Math.log1p(worthwhile / 2)

/**
 * Whether a run waits while its room's light is out of what is wanted: where the room holds all runs, where the aim follows
 * the light, and where a display is read from a stand, so that what falls on it is read with it.
 */
export const lightHoldsRun = (run: {
  readonly holdsRuns: 'needed' | 'all'
  readonly aimFollows: boolean
  readonly readFromStand: boolean
}): boolean => run.holdsRuns === 'all' || run.aimFollows || run.readFromStand
