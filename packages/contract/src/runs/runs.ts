import {
  runKindNames,
  samplingNames,
  type Aim,
  type Judgement,
  type Limits,
  type Matrix3,
  type Metrics,
  type PanelKind,
  type Progress,
  type ResolvedAim,
  type RunKind,
  type Sampling,
  type Stage,
  type Triple,
} from '@bichroma/core'
import { idField, numberField } from '../fields'
import { yup } from '../sentences'
import type { RunSummary } from '../register/register'

export const startRunSchema = yup
  .object({
    displayId: idField().required(),
    kind: yup.string<RunKind>().oneOf(runKindNames).required(),
    slot: numberField().required().integer().min(1).max(8),
    /** Needed for a full run; a check run judges by the slot's own aim. */
    aimId: idField().optional(),
    /** What the slot holds now, as the person was told: a full run starts only when it is still so. Empty for an empty slot. */
    overwrites: yup.string().strict().max(80).optional(),
    instrumentId: idField().optional(),
    /** How many and which patches a full run reads; usual unless given. */
    sampling: yup.string<Sampling>().oneOf(samplingNames).optional(),
  })
  .noUnknown()
export type StartRun = yup.InferType<typeof startRunSchema>

/** What is done to an instrument's readings: nothing, a correction that it holds, or one made on a display. */
export type Correction =
  | { kind: 'none' }
  | { kind: 'own'; panelKind: PanelKind }
  | { kind: 'made'; id: number; displayName: string; madeAt: number; residual: number; matrix: Matrix3 }

/** One condition of Ready. */
export interface Condition {
  id: string
  label: string
  /** What was found. */
  found: string
  ok: boolean
  /** A run goes on although it is not met. */
  advisory?: boolean
  /** What to do when it is not. */
  remedy: string | null
}

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
}

export interface RunReading {
  seq: number
  stage: Stage
  name: string
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
  stage: Stage
  stages: StageRecord[]
  progress: Progress
  /** What is on screen now. */
  patch: { name: string; rgb: Triple } | null
  message: string | null
  latest: RunReading | null
}

export interface RunDetail extends RunSummary, Omit<RunLive, 'id' | 'state' | 'message' | 'latest'> {
  displayName: string
  aim: Aim
  resolvedAim: ResolvedAim | null
  limits: Limits
  /** What the slot held before a full run; null for nothing. */
  overwrote: string | null
  sampling: Sampling
  correction: Correction | null
  log: RunReading[]
  profileHash: string | null
  reportHash: string | null
}

/** Everything that Review shows of one run. */
export interface RunReview {
  run: RunSummary
  displayName: string
  aim: Aim
  metrics: Metrics
  judgement: Judgement
  /** The panel before the run, tables bypassed; only full runs have it. */
  baseline: Metrics | null
  /** The validation of the same slot before this one. */
  previous: Metrics | null
  profileHash: string | null
  profileName: string | null
  reportHash: string | null
}
