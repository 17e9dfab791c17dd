import {
  isLocalDate,
  isZone,
  useTimeNames,
  type DaySpan,
  type StudioHours,
  type UseTime,
  type WalkMinutes,
} from '@bichroma/core/rounds'
import { idField, nameField, numberField, textField } from '../fields'
import { yup } from '../sentences'

/** A day, as 2026-11-27. */
export const dateField = () =>
  yup
    .string()
    .strict()
    .test(
      'date',
      ({ path }) => `“${path}” must be a day, as in 2026-11-27.`,
      (v) => v === undefined || v === null || isLocalDate(v),
    )

const timeOfDayField = () =>
  yup
    .string()
    .strict()
    .required()
    .matches(/^(?:(?:[01]\d|2[0-3]):[0-5]\d|24:00)$/, ({ path }) => `“${path}” must be a time of day, as in 09:30.`)

const daySpanSchema = yup
  .object({ from: timeOfDayField(), to: timeOfDayField() })
  .noUnknown()
  .test(
    'span',
    ({ path }) => `“${path}” must end later than it begins.`,
    (v) => !v || v.from === undefined || v.to === undefined || v.from < v.to,
  )

/** Seven days, Monday first; null for one without work. */
const weekField = () => yup.array().of(daySpanSchema.nullable().default(undefined)).strict().length(7)

const minutesWithin = (least: number, most: number) => numberField().required().integer().min(least).max(most)

/** What the studio decided of its hours, and how long things take there. */
export interface RoundsSettings {
  hours: StudioHours
  /** Minutes of hands before and after a run, and for which a display is on before it. */
  minutes: { seat: number; takeDown: number; warm: number }
  walk: Pick<WalkMinutes, 'rooms' | 'buildings'>
  /** Mail addresses of those who are told once a month how well it is kept. */
  heads: string[]
}

/** A mail address. */
const mailField = () =>
  textField(120)
    .trim()
    .email(({ path }) => `“${path}” must be a mail address, as in name@studio.example.`)

export const roundsSettingsSchema = yup
  .object({
    hours: yup
      .object({
        zone: yup
          .string()
          .strict()
          .required()
          .test(
            'zone',
            ({ path }) => `“${path}” must be a time zone by its name, as in Europe/Oslo.`,
            (v) => isZone(v ?? ''),
          ),
        desk: weekField().required().label('Desk hours'),
        lunch: daySpanSchema.nullable().default(null),
        closed: yup
          .array()
          .of(yup.object({ date: dateField().required(), name: nameField() }).noUnknown().required())
          .strict()
          .required()
          .max(400)
          .label('Closed days'),
      })
      .noUnknown()
      .required(),
    minutes: yup
      .object({ seat: minutesWithin(1, 60), takeDown: minutesWithin(1, 60), warm: minutesWithin(0, 240) })
      .noUnknown()
      .required(),
    walk: yup
      .object({ rooms: minutesWithin(0, 240), buildings: minutesWithin(0, 240) })
      .noUnknown()
      .required(),
    heads: yup.array().of(mailField().required()).strict().max(20).default([]).label('Heads'),
  })
  .noUnknown()

const usualDay: DaySpan = { from: '09:00', to: '17:30' }

/** What holds until a studio decides otherwise; its zone is that of the server. */
export const usualRounds = (zone: string): RoundsSettings => ({
  hours: {
    zone,
    desk: [usualDay, usualDay, usualDay, usualDay, usualDay, null, null],
    lunch: { from: '12:00', to: '12:45' },
    closed: [],
  },
  minutes: { seat: 4, takeDown: 2, warm: 30 },
  walk: { rooms: 3, buildings: 12 },
  heads: [],
})

/** When workstations may be used, until somebody says otherwise. */
export const usualTimes: readonly UseTime[] = ['before', 'desk', 'after']

/** Minutes from one room or building to another, by number or name; null: as is usual. */
export const saveWalkSchema = yup
  .object({
    kind: yup
      .string<'room' | 'building'>()
      .strict()
      .oneOf(['room', 'building'] as const)
      .required(),
    a: textField(60).required().label('From'),
    b: textField(60).required().label('To'),
    minutes: numberField().integer().min(0).max(240).nullable().defined(),
  })
  .noUnknown()

/** When workstations may be used: of the studio, of a room, of one workstation. */
export const useLevels = ['studio', 'room', 'workstation'] as const
export type UseLevel = (typeof useLevels)[number]

export const saveUseTimesSchema = yup
  .object({
    level: yup
      .string<UseLevel>()
      .strict()
      .oneOf([...useLevels])
      .required(),
    of: idField().test(
      'of what',
      ({ path }) => `“${path}” must name the room or the workstation by its number; the studio’s own has none.`,
      function (v) {
        return ((this.parent as { level?: unknown }).level === 'studio') === (v === undefined)
      },
    ),
    /** Null: as is decided further away. */
    times: yup
      .array()
      .of(
        yup
          .string<UseTime>()
          .strict()
          .oneOf([...useTimeNames])
          .required(),
      )
      .strict()
      .max(useTimeNames.length)
      .nullable()
      .defined()
      .default(undefined),
  })
  .noUnknown()

/** Somebody who goes to displays, as it is given. */
export const saveRoundsPersonSchema = yup
  .object({
    /** They go to displays. */
    goes: yup.boolean().strict().required(),
    /** Where their days begin and end; null: where instruments lie. */
    roomId: idField().nullable().defined().label('Room'),
    carries: numberField().required().integer().min(1).max(6),
    /** Their own week; null for the studio's desk hours. */
    week: weekField().nullable().defined().default(undefined).label('Week'),
    off: yup
      .array()
      .of(
        yup
          .object({
            from: dateField().required(),
            to: dateField().required(),
            why: textField(80).default(''),
          })
          .noUnknown()
          .required()
          .test(
            'days off',
            ({ path }) => `“${path}” must not end before it begins.`,
            (v) => v.from === undefined || v.to === undefined || v.from <= v.to,
          ),
      )
      .strict()
      .required()
      .max(200)
      .label('Days off'),
    mail: mailField().nullable().default(null).label('Mail'),
  })
  .noUnknown()
export type SaveRoundsPerson = yup.InferType<typeof saveRoundsPersonSchema>

export interface RoundsPersonListing extends SaveRoundsPerson {
  id: number
  name: string
  /** Where their tour is sent in the morning; null for nowhere. */
  mail: string | null
}

/** Where an instrument lies, who has it with them always, and the display at which it hangs for good. */
export const saveRoundsInstrumentSchema = yup
  .object({
    roomId: idField().nullable().defined().label('Room'),
    carrierId: idField().nullable().defined().label('Carrier'),
    hangsAt: idField().nullable().defined().label('Display'),
  })
  .noUnknown()
  .test(
    'one of them',
    '“Carrier” and “Display” exclude each other: an instrument that hangs is carried by nobody.',
    (v) => !v || v.carrierId === null || v.hangsAt === null || v.carrierId === undefined || v.hangsAt === undefined,
  )
export type SaveRoundsInstrument = yup.InferType<typeof saveRoundsInstrumentSchema>

export interface RoundsInstrumentListing extends SaveRoundsInstrument {
  id: number
  name: string
  kind: 'colorimeter' | 'spectroradiometer' | 'elsewhere'
  /** Until when its certificate holds, ms since 1970; null when it does not tell. */
  validUntil: number | null
  /** The display's name, where it hangs. */
  hangs: string | null
}

/** All that rounds know of the studio. */
export interface RoundsHouse extends RoundsSettings {
  /** ms since 1970. */
  now: number
  people: RoundsPersonListing[]
  instruments: RoundsInstrumentListing[]
  between: { kind: 'room' | 'building'; a: string; b: string; minutes: number }[]
  times: { level: UseLevel; of: number; name: string; times: UseTime[] }[]
  rooms: { id: number; name: string; building: string | null }[]
}
