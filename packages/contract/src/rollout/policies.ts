import {
  mostOldFiles,
  policyLevels,
  ruleWords,
  type HeldPolicy,
  type PolicyLevel,
  type ProfileRule,
  type Rules,
} from '@bichroma/core/rollout'
import { idField, numberField } from '../fields'
import { yup } from '../sentences'

const word = <K extends keyof typeof ruleWords>(name: K) =>
  yup
    .string<(typeof ruleWords)[K][number]>()
    .strict()
    .oneOf([...ruleWords[name]] as (typeof ruleWords)[K][number][])
    .optional()

/** Rules of one policy; what is left out is decided further away. */
export const rulesSchema = yup
  .object({
    profile: yup
      .mixed<ProfileRule>()
      .test(
        'profile rule',
        ({ path }) => `“${path}” must be shown, none, or the number of a slot from 1 to 8.`,
        (v) =>
          v === undefined ||
          v === 'shown' ||
          v === 'none' ||
          (typeof v === 'number' && Number.isInteger(v) && v >= 1 && v <= 8),
      )
      .optional(),
    scope: word('scope'),
    whenOther: word('whenOther'),
    whenSwitched: word('whenSwitched'),
    fresh: word('fresh'),
    loader: word('loader'),
    programs: word('programs'),
    note: word('note'),
    keepOld: numberField().integer().min(0).max(mostOldFiles).optional(),
  })
  .noUnknown()

/** A policy as it is given: for the studio, or for a display, a room or an aim by its number. No rules take it away. */
export const policySchema = yup
  .object({
    level: yup
      .string<PolicyLevel>()
      .strict()
      .oneOf([...policyLevels])
      .required(),
    of: idField().test(
      'of what',
      ({ path }) =>
        `“${path}” must name the display, the room or the aim by its number; a policy of the studio has none.`,
      function (v) {
        return ((this.parent as { level?: unknown }).level === 'studio') === (v === undefined)
      },
    ),
    rules: rulesSchema.default(undefined).required(),
  })
  .noUnknown()

/** A policy that is in force. */
export interface PolicyListing {
  level: PolicyLevel
  /** 0 for the studio. */
  of: number
  /** What it is for, by name. */
  name: string
  rules: Partial<Rules>
  changedAt: number
  changedBy: string
}

/** What holds for one display, rule by rule with where it comes from. */
export type DisplayPolicy = HeldPolicy
