import {
  judgedVerdicts,
  type Aim,
  type JudgedVerdict,
  type Judgement,
  type Limits,
  type Metrics,
  type ResolvedAim,
} from '@bichroma/core/aims'
import type { Chromaticity, Matrix3, Primaries, Triple, XYZ } from '@bichroma/core/color'
import type { FourLights, PanelKind } from '@bichroma/core/register'
import {
  checkPlanNames,
  runKindNames,
  runStates,
  samplingNames,
  type Ask,
  type Budget,
  type CheckPlan,
  type Condition,
  type Patch,
  type Progress,
  type RunKind,
  type RunState,
  type Sampling,
  type Stage,
  type UniformityMap,
} from '@bichroma/core/runs'
import { byKind, byKindOrNone, idField, nameField, numberField, textField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import { yup } from '../sentences'
import type { ProfilePolicy } from '../studio/settings'
import { profilePolicySchema } from '../studio/settings'
import type { RunSummary } from '../register/register'

/** When a run begins. */
export const beginnings = ['now', 'turn', 'night'] as const
export type Begins = (typeof beginnings)[number]

const budgetField = byKind<Budget>({
  readings: yup.object({ most: numberField().integer().required().min(100).max(10_000).label('Readings') }),
  minutes: yup.object({ most: numberField().required().min(1).max(1440).label('Minutes') }),
})

/** Which patches a check run reads: one of our plans, or a set of one's own from a CGATS or CSV file. */
const patchesField = byKind<ChosenPatches>({
  plan: yup.object({ name: yup.string<CheckPlan>().oneOf(checkPlanNames).required() }),
  own: yup.object({
    fileName: nameField().max(120).label('File name'),
    text: yup.string().strict().required().max(200_000).label('File'),
  }),
})
export type ChosenPatches = { kind: 'plan'; name: CheckPlan } | { kind: 'own'; fileName: string; text: string }

/** The patches of a check run as they are kept. */
export type RunPatches =
  | { kind: 'plan'; name: CheckPlan }
  | { kind: 'own'; fileName: string; patches: readonly Patch[] }

export const startRunSchema = yup
  .object({
    displayId: idField().required(),
    kind: yup.string<RunKind>().oneOf(runKindNames).required(),
    slot: numberField().required().integer().min(1).max(8),
    /** Needed for a full run; a check run judges by the slot's own aim. */
    aimId: idField().optional(),
    /** What the slot holds now, as the person was told: a full run starts only when it is still so. Empty for an empty slot. */
    overwrites: textField(80).optional(),
    instrumentId: idField().optional(),
    /** A run in the queue waits for that instrument and takes no other that lies there in its place. */
    onlyWith: yup.boolean().strict().optional(),
    /** How many and which patches a full run reads; usual unless given. */
    sampling: yup.string<Sampling>().oneOf(samplingNames).optional(),
    /** At once unless given; else in its turn, once display and instrument are free, or in the night's window. */
    begins: yup
      .string<Begins>()
      .oneOf([...beginnings])
      .optional(),
    /** What a full run may take at most, in place of a sampling. */
    budget: byKindOrNone(budgetField),
    /** Which patches a check run reads; the usual unless given. */
    patches: byKindOrNone(patchesField),
    /** What the profile is to be; the studio's policy unless given. */
    profile: profilePolicySchema.optional().default(undefined),
  })
  .noUnknown()
export type StartRun = yup.InferType<typeof startRunSchema>

/** What a list of runs is of: work with an instrument here, or what was judged, wherever it was read. */
export const runListKinds = ['work', 'judged'] as const

/** What a list of runs can be asked by; newest first. */
export const runListSchema = yup
  .object({
    ...listFields,
    of: wordField(runListKinds),
    display: numeralField(),
    room: numeralField(),
    kind: wordField<RunKind>(runKindNames),
    state: wordField<RunState>(runStates),
    verdict: wordField<JudgedVerdict>(judgedVerdicts),
  })
  .noUnknown()

/** What a person says when a run that waits is to go on: the conditions of Ready that they have looked at. */
export const resumeRunSchema = yup
  .object({
    confirm: yup.array().of(textField(40).required()).strict().max(40).optional(),
  })
  .noUnknown()

/** Stops a run; `letGo`: also where the display cannot be put back. */
export const stopRunSchema = yup.object({ letGo: yup.boolean().strict().optional() }).noUnknown()

/** Why a validation shall not count. */
export const withdrawSchema = yup
  .object({ reason: textField(300).trim().required().min(3).label('Reason') })
  .noUnknown()

/** Which profile to make anew from what a run read. */
export const rebuildProfileSchema = yup
  .object({ profile: profilePolicySchema.optional().default(undefined) })
  .noUnknown()

/** What is done to an instrument's readings: nothing, a correction that it holds, or one made on a display. */
export type Correction =
  | { kind: 'none' }
  | { kind: 'own'; panelKind: PanelKind }
  | {
      kind: 'made'
      id: number
      displayName: string
      madeAt: number
      residual: number
      matrix: Matrix3
      /** In place of the matrix, on a display with a white subpixel. */
      lights?: FourLights | null
      /** What comes on top where light lies on the screen that is not the display's own, cd/m². */
      offset?: XYZ | null
    }

export type { Condition }

/** What a stage leaves on the run sheet. */
export interface StageRecord {
  stage: Stage
  startedAt: number
  endedAt: number | null
  /** At real pace. */
  tookMs: number
  /** One or two short sentences. */
  evidence: string[]
  conditions?: Condition[]
  /** Grey residuals of each round of Shape: ΔE2000 by level. */
  rounds?: { level: number; deltaE: number }[][]
  /** Ready, where the warmth had to be measured: white's luminance by minutes since the first look. */
  warmUp?: { minutes: number; luminance: number }[]
  /** Level, where hands turn the brightness. */
  gauge?: LevelGauge
}

/** What the level gauge shows: the aim's band, what was read, and what to turn. */
export interface LevelGauge {
  /** cd/m² of the raw white: at least this much, and what is near enough above it. */
  from: number
  to: number
  /** Newest last, cd/m². */
  luminances: number[]
  turn: 'up' | 'down' | 'hold'
}

/** What a reading is of: the white that is put to the aim's, or any patch. */
export const readingRoles = ['white', 'patch'] as const
export type ReadingRole = (typeof readingRoles)[number]

export interface RunReading {
  seq: number
  stage: Stage
  name: string
  role: ReadingRole
  /** Signal or, while tables are bypassed, drive; 0–1. */
  rgb: Triple
  /** cd/m² */
  xyz: Triple
  /** At real pace. */
  tookMs: number
  at: number
  /** ΔE2000 to the aim, where the reading stands for a colour of the aim. */
  deltaE: number | null
}

/** The live part of a run, sent with every reading. */
export interface RunLive {
  id: number
  state: RunSummary['state']
  /** It is putting the display back. */
  restoring: boolean
  stage: Stage
  stages: StageRecord[]
  progress: Progress
  /** What is on screen now. */
  patch: { name: string; rgb: Triple } | null
  message: string | null
  /** What it waits for people to do; null while it waits for nobody. */
  asks: Ask | null
  latest: RunReading | null
  /** How much of the tables is on the display (0–1) while they are written and read back, and how long it still takes. */
  loading: { done: number; secondsLeft: number } | null
}

/** What a kind of run is likely to take on a display, and how exact it is likely to be. */
export interface RunOutlook {
  kind: RunKind
  /** Null for kinds of run whose number of readings does not follow a sampling. */
  sampling: Sampling | null
  readings: number
  /** At real pace. */
  minutes: number
  /** Earlier runs that the figures come from; 0 when they are only reckoned. */
  from: number
  /** What those runs were on: displays of this model, or of its kind of panel. */
  alike: 'model' | 'kind' | null
  /** Medians of what those runs proved; null when there were none. */
  averageDeltaE: number | null
  worstDeltaE: number | null
}

export interface RunDetail extends RunSummary, Omit<RunLive, 'id' | 'state' | 'restoring' | 'message' | 'latest'> {
  aim: Aim
  resolvedAim: ResolvedAim | null
  limits: Limits
  /** What the slot held before a full run; null for nothing. */
  overwrote: string | null
  sampling: Sampling
  begins: Begins
  budget: Budget | null
  profile: ProfilePolicy | null
  /** Which patches a check run reads; null for those that every kind of run has. */
  patches: RunPatches | null
  correction: Correction | null
  log: RunReading[]
  profileHash: string | null
  /** How even the screen is; only uniformity runs tell. */
  uniformity: UniformityMap | null
}

/** A validation of the same slot, as a point of the trail that leads to the one at hand. */
export interface TrailPoint {
  runId: number
  at: number
  white: Chromaticity
  primaries: Primaries | null
}

/** Everything that Review shows of one run. */
export interface RunReview {
  run: RunSummary
  displayName: string
  aim: Aim
  resolvedAim: ResolvedAim | null
  limits: Limits
  metrics: Metrics
  judgement: Judgement
  /** The panel before the run, tables bypassed; only full runs have it. */
  baseline: Metrics | null
  /** How even the screen was when it was last read place by place, and when that was. */
  uniformity: { runId: number; at: number; map: UniformityMap } | null
  /** The validation of the same slot before this one. */
  previous: { run: RunSummary; metrics: Metrics } | null
  /** Validations of the slot and aim up to this one, the oldest first. */
  trail: TrailPoint[]
  profileHash: string | null
  profileName: string | null
}
