import type { PanelKind } from '@bichroma/core/register'
import { panelKindNames } from '@bichroma/core/register'
import type { Rest } from '@bichroma/core/rounds'
import { idField, nameField, numberField, textField } from '../fields'
import { yup } from '../sentences'
import { dateField } from './hours'

/** What a rule of days can be for; the nearest to a display wins. */
export const dueLevels = ['display', 'room', 'aim', 'limits', 'panel', 'studio'] as const
export type DueLevel = (typeof dueLevels)[number]

const levelField = <L extends string>(levels: readonly L[]) =>
  yup
    .string<L>()
    .strict()
    .oneOf([...levels])
    .required()

/** Days between judgements of what a rule is for; null takes it away, and the next further out holds. */
export const saveDueRuleSchema = yup
  .object({
    level: levelField(dueLevels),
    of: idField().test(
      'of what',
      ({ path }) =>
        `“${path}” must name the display, room, aim or limits by its number; a panel or the studio has none.`,
      function (v) {
        const { level } = this.parent as { level?: unknown }
        return (level === 'studio' || level === 'panel') === (v === undefined)
      },
    ),
    panel: yup
      .string<PanelKind>()
      .oneOf(panelKindNames)
      .test(
        'which panel',
        ({ path }) => `“${path}” must name the kind of panel, where the rule is for one.`,
        function (v) {
          return ((this.parent as { level?: unknown }).level === 'panel') === (v !== undefined)
        },
      ),
    everyDays: numberField().integer().min(1).max(730).nullable().defined().label('Days'),
  })
  .noUnknown()

/** What must be proven fresh by a day. */
export const dayLevels = ['studio', 'room', 'aim', 'display'] as const
export type DayLevel = (typeof dayLevels)[number]

export const addDaySchema = yup
  .object({
    name: nameField().label('Name'),
    date: dateField().required().label('Day'),
    level: levelField(dayLevels),
    of: idField().test(
      'of what',
      ({ path }) => `“${path}” must name the room, aim or display by its number; the whole studio has none.`,
      function (v) {
        return ((this.parent as { level?: unknown }).level === 'studio') === (v === undefined)
      },
    ),
    /** A judgement counts for it when it is no older than so many days by then. */
    freshDays: numberField().required().integer().min(1).max(90).label('Fresh for'),
  })
  .noUnknown()

export const restKinds = ['never', 'paused', 'until further notice'] as const satisfies readonly Rest['kind'][]

/** Lets a display rest, or be looked at again: then there is no kind. */
export const restSchema = yup
  .object({
    kind: yup
      .string<Rest['kind']>()
      .strict()
      .oneOf([...restKinds])
      .nullable()
      .defined(),
    why: textField(200)
      .trim()
      .default('')
      .label('Reason')
      .test(
        'why',
        ({ path }) => `“${path}” must say in a few words why it rests.`,
        function (v) {
          return (this.parent as { kind?: unknown }).kind === null || (v ?? '').length >= 3
        },
      ),
    /** The day from which one that is paused is looked at again; none until somebody says so. */
    until: dateField().nullable().default(null),
  })
  .noUnknown()

/** A day that matters, with what it is for by name. */
export interface MatteringDayListing {
  id: number
  name: string
  date: string
  /** ms since 1970. */
  at: number
  level: DayLevel
  of: number
  ofName: string
  freshDays: number
  by: string
  /** Displays that it is for, and those of them whose last judgement will be too old by then. */
  displays: number
  lacking: number
}

/** When displays fall due, by rules. */
export interface DueRules {
  rules: {
    level: Exclude<DueLevel, 'display'>
    subject: string
    name: string
    everyDays: number
    changedAt: number
    changedBy: string
    /** Displays whose days it decides. */
    displays: number
  }[]
  usual: { panel: PanelKind; days: number; why: string; displays: number }[]
  /** Displays with days of their own. */
  own: number
  days: MatteringDayListing[]
  resting: {
    id: number
    name: string
    room: string
    kind: Rest['kind']
    why: string
    by: string
    until: string | null
  }[]
}
