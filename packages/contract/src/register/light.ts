import type {
  LevelChange,
  LightCell,
  LightHour,
  LightLevel,
  LightStanding,
  RoomLightReading,
} from '@bichroma/core/aims'
import { isLocalDate } from '@bichroma/core/rounds'
import { idField, numberField } from '../fields'
import { numeralField } from '../lists'
import { yup } from '../sentences'

const rangeField = (label: string, least: number, most: number) =>
  yup
    .object({
      from: numberField().required().min(least).max(most).label(`${label} from`),
      to: numberField().required().min(least).max(most).label(`${label} to`),
    })
    .noUnknown()
    .test(
      'range',
      ({ path }) => `“${path}” must go from a smaller number to a larger one.`,
      (v) => !v || v.from === undefined || v.to === undefined || v.from < v.to,
    )

/** What the light of a room is wanted to be: lx at the desk, and K. */
export const roomLightRangeSchema = yup
  .object({
    lux: rangeField('Illuminance', 0, 100_000).required(),
    kelvin: rangeField('Temperature', 1700, 25_000).optional().default(undefined),
  })
  .noUnknown()

/** Which runs wait while a room's light is out of what is wanted: those that its light spoils, or all. */
export const holdsRuns = ['needed', 'all'] as const
export type HoldsRuns = (typeof holdsRuns)[number]

export const allowMinutesField = () => numberField().integer().min(0).max(1440).optional().label('Minutes allowed')
export const holdsRunsField = () =>
  yup
    .string<HoldsRuns>()
    .oneOf([...holdsRuns])
    .optional()

/** The light that aims which follow a room are as bright as paper under, lx, and how far it may follow by itself. */
export const agreedLevelSchema = yup
  .object({
    lux: numberField().required().min(1).max(100_000).label('Agreed level'),
    /** lx between which it follows by itself; left out or null, each change is proposed. */
    allowed: rangeField('Allowed', 1, 100_000).nullable().optional().default(undefined),
  })
  .noUnknown()
export interface AgreedLevel {
  lux: number
  allowed?: { from: number; to: number } | null
}

/** Reads a room's light with an instrument there, its diffuser in front, or leaves it there to read it every five minutes. */
export const readRoomLightSchema = yup.object({ instrumentId: idField().required().label('Instrument') }).noUnknown()

/** One reading of a room's light. */
export interface RoomLightEntry extends RoomLightReading {
  id: number
  at: number
  instrument: string
  by: string
}

/** What keeps an instrument from reading the room that it watches: nothing, a run has it, it is plugged in in another room or nowhere, or it refused. */
export const watchStates = ['reading', 'in a run', 'elsewhere', 'away', 'refused'] as const
export type WatchState = (typeof watchStates)[number]

/** What watches a room's light, and how that stands. */
export interface RoomWatch {
  instrumentId: number
  instrument: string
  since: number
  by: string
  state: WatchState
  stateSince: number
  /** What the instrument said when it refused; where it is while it is elsewhere. */
  says: string | null
  /** ms since 1970; null before the first reading. */
  readAt: number | null
  standing: LightStanding
  /** Since when the light is out of what is wanted, and by how much at worst, in a few words; null while it is not. */
  out: { since: number; problem: string } | null
}

/** Another level that a room's light asks for. */
export interface LevelProposal {
  id: number
  madeAt: number
  fromLux: number
  toLux: number
  /** A quarter of the hours was darker than the first, a quarter brighter than the second. */
  quartiles: { from: number; to: number }
  days: number
}

export const decideLevelSchema = yup
  .object({
    proposalId: idField().required().label('Proposal'),
    decision: yup.string<'accept' | 'decline'>().oneOf(['accept', 'decline']).required(),
  })
  .noUnknown()

/** Which day of a room's light. */
export const lightDaySchema = yup
  .object({
    date: yup
      .string()
      .strict()
      .test(
        'day',
        ({ path }) => `“${path}” must be a day, as 2026-11-27.`,
        (v) => v === undefined || isLocalDate(v),
      ),
  })
  .noUnknown()

/** A room's light on one day. */
export interface LightDay {
  date: string
  zone: string
  /** The day's first instant and the next one's, ms since 1970. */
  from: number
  until: number
  /** One by one, oldest first; none where only hours are kept. */
  readings: { at: number; illuminanceLux: number; kelvin: number | null }[]
  hours: LightHour[]
  /** When it was out of what was wanted. */
  times: { from: number; until: number | null; problem: string; told: boolean }[]
}

/** How many weeks of a room's light. */
export const lightWeeksSchema = yup.object({ weeks: numeralField(156) }).noUnknown()

/** A room's light by weekday and hour, by month, and the level that follows. */
export interface LightWeeks {
  weeks: number
  zone: string
  /** Monday first, 24 hours each; null where nothing was read. */
  cells: (LightCell | null)[][]
  months: { month: string; readings: number; lux: number; least: number; most: number; outside: number }[]
  /** Null while too few working hours were read. */
  level: LightLevel | null
  change: LevelChange['kind'] | null
  /** Slots whose aim follows the room, with the luminance that each has and should have, cd/m². */
  followers: {
    displayId: number
    display: string
    slot: number
    label: string
    luminance: number
    wanted: number | null
  }[]
}
