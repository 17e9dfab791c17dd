import type { PipelineShape } from '@bichroma/core/tables'
import { usualAccepted } from '@bichroma/core/rounds'
import { profileNameProblem } from '@bichroma/core/profiles'
import { numberField, textField } from '../fields'
import { yup } from '../sentences'

/** What a profile is to be. */
export interface ProfilePolicy {
  /** ICC version: 4, or 2 for programs that read nothing newer. */
  version: 2 | 4
  /** matrix: small and fast; table: more exact. */
  kind: 'matrix' | 'table'
  /** measured: the profile tells the black as it was read; none: it counts from black. */
  black: 'measured' | 'none'
  /** What it is made from: the readings of Prove, or those and a set of its own, read after them. */
  readings: 'prove' | 'own'
}

/**
 * The studio's policy for a display whose slots hold what is said. One with a table per channel alone keeps its own
 * primaries and whatever its channels do to one another: only a table tells of that, so its profile is one.
 */
export const profileFor = (policy: ProfilePolicy, holds: PipelineShape['kind'] | null): ProfilePolicy =>
  holds === '1D' ? { ...policy, kind: 'table' } : policy

export const profilePolicySchema = yup
  .object({
    version: (numberField() as yup.NumberSchema<2 | 4 | undefined>).oneOf([2, 4]).required(),
    kind: yup.string<ProfilePolicy['kind']>().oneOf(['matrix', 'table']).required(),
    black: yup.string<ProfilePolicy['black']>().oneOf(['measured', 'none']).required(),
    readings: yup.string<ProfilePolicy['readings']>().oneOf(['prove', 'own']).required(),
  })
  .noUnknown()

const timeOfDay = () =>
  yup
    .string()
    .strict()
    .required()
    .matches(/^([01]\d|2[0-3]):[0-5]\d$/, ({ path }) => `“${path}” must be a time of day, as in 21:30.`)

/** What the studio decided for all its runs and profiles. */
export const studioSettingsSchema = yup
  .object({
    /** What reports call the studio. */
    studioName: textField(60).trim().default(''),
    profile: profilePolicySchema.required(),
    /** The names that profiles are given: text with {display}, {slot}, {aim}, {luminance} and {date} in it. */
    profileName: textField(120)
      .required()
      .test({
        name: 'template',
        test(value, context) {
          const problem = profileNameProblem(value ?? '')
          return !problem || context.createError({ message: `“profileName” ${problem}` })
        },
      }),
    /** A placed profile takes the place of the display's former one for that slot, or stands beside it with its date. */
    placing: yup.string<'overwrite' | 'keep'>().oneOf(['overwrite', 'keep']).required(),
    /** When overnight runs may begin, by the server's clock, and how long a workstation must have been left alone. */
    night: yup
      .object({
        from: timeOfDay(),
        to: timeOfDay(),
        idleMinutes: numberField().required().integer().min(1).max(600),
      })
      .noUnknown()
      .required(),
    /** The chance of being outside, 0–1, above which a display falls due before its calendar; left out, it stays what it is. */
    accepted: numberField().min(0.01).max(0.5).optional().label('Accepted chance'),
    /** Who must sign in with a second factor; left out, it stays what it is. */
    secondFactor: yup
      .string<StudioSettings['secondFactor']>()
      .oneOf(['nobody', 'administrators', 'everybody'])
      .optional(),
  })
  .noUnknown()

/** What is left out stays what it is. */
export type SaveStudioSettings = yup.InferType<typeof studioSettingsSchema>

export interface StudioSettings {
  studioName: string
  profile: ProfilePolicy
  profileName: string
  placing: 'overwrite' | 'keep'
  night: { from: string; to: string; idleMinutes: number }
  accepted: number
  secondFactor: 'nobody' | 'administrators' | 'everybody'
}

/** What holds until a studio decides otherwise. */
export const usualSettings: StudioSettings = {
  studioName: '',
  profile: { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' },
  profileName: '{display}, slot {slot}, {aim}, {luminance} cd, {date}',
  placing: 'keep',
  night: { from: '21:00', to: '06:00', idleMinutes: 15 },
  accepted: usualAccepted,
  secondFactor: 'nobody',
}
