import type { Aim, JudgedVerdict } from '@bichroma/core/aims'
import { standardPrimaries, type Chromaticity, type StandardPrimaries } from '@bichroma/core/color'
import { matchSides, type MatchRepeat, type MatchSettled } from '@bichroma/core/peers'
import type { AdoptedGround, Furthest, GroundAsked, GroundMove, PeerFigure, SetStanding } from '@bichroma/core/peers'
import type { PanelKind } from '@bichroma/core/register'
import type { RunState } from '@bichroma/core/runs'
import { byEyeField, whiteThatAllCanHave, toneField } from '../aims/aims'
import { idField, nameField, numberField, textField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import { yup } from '../sentences'
import type { Kept } from '../register/places'

/** Members of one set at most: beyond that nobody sees them side by side. */
export const mostPeers = 12

/** The most that a limit of a set may be. */
const mostApart: Readonly<Record<PeerFigure, number>> = { average: 20, white: 0.1, luminance: 100 }
/** What a limit is called in a sentence. */
const limitNames: Readonly<Record<PeerFigure, string>> = {
  average: 'average difference',
  white: 'white difference',
  luminance: 'luminance difference',
}

const edgesField = (figure: PeerFigure) =>
  yup
    .object({
      near: numberField().required().moreThan(0).max(mostApart[figure]).label(`Near edge of the ${limitNames[figure]}`),
      hard: numberField().required().moreThan(0).max(mostApart[figure]).label(`Hard edge of the ${limitNames[figure]}`),
    })
    .noUnknown()
    .required()
    .test(
      'edges',
      `The near edge of the ${limitNames[figure]} must not be beyond the hard edge.`,
      (v) => !v || !(v.near > v.hard),
    )

export const peerBlacks = ['own', 'common'] as const
export type PeerBlack = (typeof peerBlacks)[number]

export const savePeerSetSchema = yup
  .object({
    name: nameField().label('Name'),
    members: yup
      .array()
      .of(
        yup
          .object({ displayId: idField().required(), slot: numberField().required().integer().min(1).max(8) })
          .noUnknown()
          .required(),
      )
      .strict()
      .required()
      .min(2)
      .max(mostPeers)
      .label('Members')
      .test(
        'once',
        '“Members” must name each display once; put another of its slots into another set.',
        (members) => new Set((members ?? []).map((m) => m?.displayId)).size === (members ?? []).length,
      ),
    /** The member that the others are held against; none when they are held against each other. */
    reference: idField().nullable().defined().label('Reference'),
    white: whiteThatAllCanHave,
    toneResponse: toneField,
    /** The gamut that is wanted where all members cover it; none for the largest that they share. */
    standard: yup
      .string<StandardPrimaries>()
      .strict()
      .oneOf(Object.keys(standardPrimaries) as StandardPrimaries[])
      .nullable()
      .defined(),
    /** Share of the standard that every member must cover, and of light that is kept in hand. */
    share: numberField().required().min(0.5).max(1).label('Share to cover'),
    headroom: numberField().required().min(0).max(0.5).label('Light kept in hand'),
    /** Each keeps its own black, or all are lifted to the one that all can show. */
    black: wordField<PeerBlack>(peerBlacks).required(),
    limits: yup
      .object({ average: edgesField('average'), white: edgesField('white'), luminance: edgesField('luminance') })
      .noUnknown()
      .required(),
  })
  .noUnknown()
  .test({
    name: 'reference',
    test(value, context) {
      if (!value || value.reference === null || value.reference === undefined || !Array.isArray(value.members))
        return true
      return (
        value.members.some((m) => m?.displayId === value.reference) ||
        context.createError({ path: 'reference', message: '“Reference” must be one of the members, or none.' })
      )
    },
  })

export type SavePeerSet = yup.InferType<typeof savePeerSetSchema>
export const peerSetListSchema = yup.object({ ...listFields, display: numeralField() }).noUnknown()

/** Adopts the common ground as the set's aim; `luminance`: the aim's, as the person was shown it. */
export const adoptGroundSchema = yup
  .object({ luminance: numberField().required().moreThan(0).max(10_000).label('Luminance') })
  .noUnknown()

const pairFields = {
  displayId: idField().required().label('Display'),
  /** The member that it is held against. */
  besideId: idField().required().label('Beside'),
}
const isPair = (value: { displayId?: number; besideId?: number } | undefined) =>
  value?.displayId === undefined || value.displayId !== value.besideId
const pairMessage = '“Beside” must be another member than the one that is matched.'

/** Shows one member's white, moved in u′v′, and that of the one beside it. */
export const showMatchSchema = yup
  .object({ ...pairFields, u: byEyeField().label('Moved in u′'), v: byEyeField().label('Moved in v′') })
  .noUnknown()
  .test('pair', pairMessage, isPair)

/** Keeps a match by eye: by how much the white was moved when the two looked alike, in each repetition. */
export const keepMatchSchema = yup
  .object({
    ...pairFields,
    repeats: yup
      .array()
      .of(
        yup
          .object({
            side: numberField()
              .required()
              .integer()
              .min(0)
              .max(matchSides - 1),
            u: byEyeField(),
            v: byEyeField(),
          })
          .noUnknown()
          .required(),
      )
      .strict()
      .required()
      .min(2)
      .max(matchSides)
      .label('Repetitions')
      .test(
        'sides',
        '“Repetitions” must each begin from another side.',
        (repeats) => new Set((repeats ?? []).map((r) => r?.side)).size === (repeats ?? []).length,
      ),
  })
  .noUnknown()
  .test('pair', pairMessage, isPair)

/** `ended`: it was taken back, made anew, or one of the two is not in the set any more. */
export const byEyeStates = ['in force', 'ended'] as const
export type ByEyeState = (typeof byEyeStates)[number]

/** Two members that a person matched by eye. */
export interface PeerMatch {
  id: number
  displayId: number
  besideId: number
  /** What they were called, whatever became of them. */
  name: string
  besideName: string
  at: number
  by: string
  repeats: MatchRepeat[]
  settled: MatchSettled
  /** How far its white has to measure from the other one's to look like it, u′v′. */
  offset: { u: number; v: number }
  state: ByEyeState
  /** The member's own aim; null until there is a common ground to move it from. */
  aim: { id: number; name: string } | null
}

/** Visits that lie ahead of a set. */
export interface PeerAhead {
  /** From the first to the last of them, ms since 1970. */
  from: number
  to: number
  members: number
  /** The one instrument that reads them all; null for several. */
  instrument: string | null
}

/** What members of a set are put through together. */
export const peerRunKinds = ['full', 'check', 'baseline'] as const
export type PeerRunKind = (typeof peerRunKinds)[number]

export const startPeerRunsSchema = yup
  .object({
    kind: wordField<PeerRunKind>(peerRunKinds).required(),
    /** The same for all; each takes what is there unless one is named. */
    instrumentId: idField().optional().default(undefined),
    /** What each member's slot holds, as the person was told: needed where full runs are to overwrite it. */
    holds: yup
      .array()
      .of(
        yup
          .object({ displayId: idField().required(), label: textField(80).defined() })
          .noUnknown()
          .required(),
      )
      .strict()
      .max(mostPeers)
      .optional(),
  })
  .noUnknown()
export type StartPeerRuns = yup.InferType<typeof startPeerRunsSchema>

/** What became of runs that were asked for together. */
export interface StartedPeerRuns {
  id: number
  started: { displayId: number; runId: number }[]
  refused: { displayId: number; name: string; why: string }[]
}

export const lookStates = ['under way', 'judged', 'broken off'] as const
export type LookState = (typeof lookStates)[number]

/** Runs of all members together, and what they came to. */
export interface PeerLook {
  id: number
  kind: PeerRunKind
  startedAt: number
  endedAt: number | null
  by: string
  state: LookState
  verdict: JudgedVerdict | null
  furthest: Furthest | null
  runs: { displayId: number; runId: number; state: RunState }[]
}

export interface PeerSetListing {
  id: number
  name: string
  members: string[]
  /** The aim of the set; null until its common ground was adopted. */
  aimName: string | null
  verdict: JudgedVerdict | null
  /** The newest reading that the verdict rests on, ms since 1970. */
  judgedAt: number | null
  furthest: Furthest | null
  moved: GroundMove[]
  /** cd/m² of the common ground now; null where there is none. */
  luminance: number | null
}

export interface PeerMember {
  displayId: number
  slot: number
  name: string
  maker: string
  model: string
  panelKind: PanelKind
  room: string
  kept: Kept
  /** What its slot holds. */
  label: string | null
  /** How its slot was last judged. */
  judged: {
    runId: number
    at: number
    verdict: JudgedVerdict
    averageDeltaE: number
    white: Chromaticity
    aimWhite: Chromaticity
  } | null
}

export interface PeerSetDetail extends Omit<SavePeerSet, 'members'> {
  id: number
  members: PeerMember[]
  aim: { id: number; name: string; aim: Aim } | null
  adopted: (AdoptedGround & { at: number; by: string }) | null
  asked: GroundAsked
  /** When Rounds has planned to read members in the slots by which they belong to it; null where it has not. */
  ahead: PeerAhead | null
  /** Newest first; those in force before those that have ended. */
  matches: PeerMatch[]
  standing: SetStanding | null
  /** Something has changed that the standing does not know of yet. */
  working: boolean
  /** Newest first. */
  looks: PeerLook[]
}
