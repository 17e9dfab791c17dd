import type { LocalDate } from './localDays'
import type { DaySpan } from './localDays'
import type { DaysOff, StudioHours, UseTime } from './useTimes'

/** Minutes from desk to desk. */
export interface WalkMinutes {
  /** Between rooms of one building. */
  readonly rooms: number
  /** Between buildings. */
  readonly buildings: number
  /** What is otherwise, between two rooms by their numbers or two buildings by their names. */
  readonly between: readonly {
    readonly kind: 'room' | 'building'
    readonly a: string
    readonly b: string
    readonly minutes: number
  }[]
}

interface RoundsPerson {
  readonly id: number
  /** Where their days begin and end. */
  readonly roomId: number
  readonly carries: number
  /** Their own week, Monday first; null for the studio's desk hours. */
  readonly week: readonly (DaySpan | null)[] | null
  readonly off: readonly DaysOff[]
}

interface RoundsInstrument {
  readonly id: number
  /** Where it lies while nobody has it. */
  readonly roomId: number
  /** Until when its certificate holds, ms since 1970; null for one that has none to lose. */
  readonly validUntil: number | null
  readonly carrierId: number | null
  readonly hangsAt: number | null
}

/** Who makes a visit with what, and when seating begins: ms since 1970. */
export interface RoundsAppointment {
  readonly personId: number | null
  readonly instrumentId: number
  readonly at: number
}

/** A run to be planned. */
export interface RoundsVisit {
  readonly displayId: number
  readonly roomId: number
  readonly times: readonly UseTime[]
  /** Instruments that fit, with the minutes of a run by each; none where none fits. */
  readonly options: readonly { readonly instrumentId: number; readonly run: number }[]
  readonly attended: boolean
  /** ms since 1970. */
  readonly due: number
  /** What a day of its lateness weighs beside others; 1 is usual. */
  readonly weight: number
  /** The chance of being outside at two instants, the earlier first; null where nobody knows. */
  readonly chance: readonly [{ at: number; chance: number }, { at: number; chance: number }] | null
  readonly matters: boolean
  /** Visits with the same number are of one peer set, and better made on one day. */
  readonly set?: number
  /** Not before this instant; null where it may be at once. */
  readonly notBefore: number | null
  readonly pinned: RoundsAppointment | null
  readonly told: RoundsAppointment | null
  /** It goes on already: it stays, whatever hours and windows say. */
  readonly begun: boolean
}

/** Everything that a plan is made from. */
export interface RoundsFacts {
  readonly hours: StudioHours
  readonly first: LocalDate
  readonly days: number
  /** ms since 1970: nothing is planned before it. */
  readonly now: number
  /** Minutes of hands before and after a run, and for which a display is on before it. */
  readonly minutes: { readonly seat: number; readonly takeDown: number; readonly warm: number }
  readonly walk: WalkMinutes
  readonly rooms: readonly { readonly id: number; readonly building: string | null }[]
  readonly people: readonly RoundsPerson[]
  readonly instruments: readonly RoundsInstrument[]
  readonly visits: readonly RoundsVisit[]
  /** The chance of being outside that the studio accepts. */
  readonly accepted: number
}

/** Minutes from one room to another; none where they are the same. */
export function walkBetween(
  walk: WalkMinutes,
  a: RoundsFacts['rooms'][number],
  b: RoundsFacts['rooms'][number],
): number {
  if (a.id === b.id) return 0
  const told = (kind: 'room' | 'building', x: string, y: string) =>
    walk.between.find((w) => w.kind === kind && ((w.a === x && w.b === y) || (w.a === y && w.b === x)))?.minutes
  const own = told('room', String(a.id), String(b.id))
  if (own !== undefined) return own
  if (a.building === b.building) return walk.rooms
  return told('building', a.building ?? '', b.building ?? '') ?? walk.buildings
}
