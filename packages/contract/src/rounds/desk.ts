import type { Verdict } from '@bichroma/core/aims'
import { idField, textField, timeField } from '../fields'
import { listFields, wordField } from '../lists'
import { yup } from '../sentences'

/** What a calendar can be of. */
export const feedKinds = ['person', 'room', 'instrument'] as const
export type FeedKind = (typeof feedKinds)[number]

export const makeLinkSchema = yup
  .object({
    kind: yup
      .string<FeedKind>()
      .strict()
      .oneOf([...feedKinds])
      .required(),
    of: idField().required().label('Of'),
  })
  .noUnknown()

/** A calendar that somebody was given. */
export interface LinkListing {
  id: number
  kind: FeedKind
  name: string
  madeAt: number
  madeBy: string
}

/** What is said of a visit at the desk: it suits, another time suits better, or it is put off as far as can be. */
export const deskAnswers = ['suits', 'another time', 'later'] as const
export type DeskAnswer = (typeof deskAnswers)[number]

export const answerVisitSchema = yup
  .object({
    visitId: idField().required().label('Visit'),
    answer: yup
      .string<DeskAnswer>()
      .strict()
      .oneOf([...deskAnswers])
      .required(),
    at: timeField()
      .label('Time')
      .test(
        'when',
        ({ path }) => `“${path}” must be given with another time, and with no other answer.`,
        function (v) {
          return ((this.parent as { answer?: unknown }).answer === 'another time') === (v !== undefined)
        },
      ),
  })
  .noUnknown()

/** Largest picture that is sent along, characters of base64. */
const mostPicture = 180_000

export const looksWrongSchema = yup
  .object({
    displayId: idField().required().label('Display'),
    text: textField(300).trim().required().min(3).label('What looks wrong'),
    /** A picture as base64: PNG or JPEG. */
    picture: yup
      .string()
      .strict()
      .max(mostPicture)
      .matches(/^[A-Za-z0-9+/]+={0,2}$/, '“Picture” must be a PNG or JPEG picture in base64.')
      .label('Picture'),
  })
  .noUnknown()

/** One display as its desk sees it. */
export interface DeskDisplay {
  id: number
  name: string
  verdict: Verdict
  /** What the slot on show is for, by its name; null for one that holds nothing. */
  shows: string | null
  /** Until when it can be trusted for that, ms since 1970; null where it cannot be. */
  until: number | null
  /** What else it was proven for. */
  others: { label: string; verdict: Verdict }[]
  visit: {
    id: number
    state: 'planned' | 'begun'
    at: number
    minutes: number
    attended: boolean
    answer: DeskAnswer | null
    /** Other times that suit everything else. */
    times: number[]
    /** To when it can be put off; null where there is no slack. */
    later: number | null
  } | null
  reports: { at: number; text: string; answer: string | null; answeredAt: number | null }[]
}

/** The page of a desk. */
export interface Desk {
  studio: string
  workstation: string
  room: string
  zone: string
  now: number
  /** What is said of the room's light while that is out of what is wanted for too long; null while it is not. */
  light: string | null
  displays: DeskDisplay[]
}

export const deskReportListSchema = yup
  .object({ ...listFields, state: wordField(['open', 'answered'] as const) })
  .noUnknown()

export const answerReportSchema = yup
  .object({ answer: textField(300).trim().required().min(3).label('Answer') })
  .noUnknown()

/** What looked wrong to somebody at a desk. */
export interface DeskReport {
  id: number
  displayId: number
  displayName: string
  workstation: string
  room: string
  at: number
  text: string
  picture: boolean
  state: 'open' | 'answered'
  answer: string | null
  answeredBy: string | null
  answeredAt: number | null
}
