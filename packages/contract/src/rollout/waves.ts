import { verdictNames, type Verdict } from '@bichroma/core/aims'
import {
  waveGates,
  waveItemStates,
  waveStates,
  type Mend,
  type WaveGate,
  type WaveItemState,
  type WaveState,
} from '@bichroma/core/rollout'
import { operatingSystemNames, type OperatingSystem } from '@bichroma/core/register'
import { hashField, idField, nameField, numberField } from '../fields'
import { listFields, wordField, type Page } from '../lists'
import { yup } from '../sentences'

export { waveGates, waveItemStates, waveStates, type WaveGate, type WaveItemState, type WaveState }

const some = <S extends yup.Schema>(of: S, most: number) => yup.array().of(of).strict().min(1).max(most).optional()

/** Most displays that a wave is chosen from by their numbers. */
export const mostChosen = 2000

/** Which displays a wave is for: those that meet all that is asked; without anything, all of them. */
export const selectionSchema = yup
  .object({
    displays: some(idField().required(), mostChosen),
    rooms: some(idField().required(), 200),
    /** Names of aims, as slots on show are labelled. */
    aims: some(nameField(), 100),
    systems: some(yup.string<OperatingSystem>().strict().oneOf(operatingSystemNames).required(), 3),
    /** Models by maker and name, as in “Quillon QL-27”. */
    models: some(nameField(), 100),
    verdicts: some(
      yup
        .string<Verdict>()
        .strict()
        .oneOf([...verdictNames])
        .required(),
      5,
    ),
    /** Only displays on which something else is found than is wanted. */
    differs: yup.boolean().strict().optional(),
  })
  .noUnknown()
export type StartWave = Omit<yup.InferType<typeof startWaveSchema>, 'selection'> & { selection: Selection }
export interface Selection {
  displays?: number[]
  rooms?: number[]
  aims?: string[]
  systems?: OperatingSystem[]
  models?: string[]
  verdicts?: Verdict[]
  differs?: boolean
}

export const previewWaveSchema = yup.object({ selection: selectionSchema.default(undefined).required() }).noUnknown()

/** Which files somebody takes along: profiles with scripts that place them, or scripts that only look. */
export const handFilesSchema = yup
  .object({
    selection: selectionSchema.default(undefined).required(),
    does: yup.string<'place' | 'look'>().strict().oneOf(['place', 'look']).required(),
  })
  .noUnknown()

export const startWaveSchema = yup
  .object({
    name: nameField().label('Name'),
    selection: selectionSchema.default(undefined).required(),
    /** What the preview said that was looked at: the wave goes only if it would still do the same. */
    digest: hashField().required(),
    /** How many go first; none for all at once. */
    first: numberField().required().integer().min(0).max(1000),
    gate: yup
      .string<WaveGate>()
      .strict()
      .oneOf([...waveGates])
      .required(),
    /** Share of failures that stops it. */
    stopShare: numberField().required().min(0).max(1),
    /** Days after which what has not gone does not go any more. */
    days: numberField().required().integer().min(1).max(90),
  })
  .noUnknown()

/** What is done for a display: the profile is placed, or ours is taken away. */
export type WaveAction = 'place' | 'release'

/** Why nothing is done for a display that was chosen. */
export type NotInWave = 'already so' | 'no profile' | 'nothing wanted' | 'under way'

/** One display of a preview. */
export interface PreviewRow {
  displayId: number
  displayName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  action: WaveAction | null
  not: NotInWave | null
  slot: number | null
  runId: number | null
  profileHash: string | null
  fileName: string | null
  scope: 'machine' | 'user'
  /** What is bound now: folder and file; null for nothing, or where it was never read. */
  inPlaceOf: string | null
  /** Whether that is a profile of ours. */
  ours: boolean
  /** What it will wait for. */
  waits: Extract<Mend, 'courier' | 'sign-out' | 'restart' | 'right'>[]
}

/** What a wave would do. */
export interface WavePreview {
  digest: string
  /** Displays that something is done for, and that were chosen in all. */
  does: number
  chosen: number
  /** How many wait for what. */
  waits: Partial<Record<Mend, number>>
  /** For how many nothing is done, and why. */
  not: Partial<Record<NotInWave, number>>
  /** The first few hundred rows, those that something is done for first. */
  rows: PreviewRow[]
}

/** A wave as lists show it. */
export interface Wave {
  id: number
  name: string
  state: WaveState
  /** Why it stopped or paused, and what the rest waits for, in a sentence. */
  says: string | null
  selection: Selection
  first: number
  gate: WaveGate
  stopShare: number
  startedAt: number
  startedBy: string
  expiresAt: number
  endedAt: number | null
  /** Displays by how they stand. */
  counts: Record<WaveItemState, number>
  /** Time that it still takes, ms; null where nobody can say. */
  leftMs: number | null
}

/** One display of a wave. */
export interface WaveItem {
  displayId: number
  displayName: string
  workstationName: string
  step: 1 | 2
  action: WaveAction
  state: WaveItemState
  slot: number | null
  fileName: string | null
  /** What was bound before: folder and file, null for nothing; undefined until it is known. */
  before?: string | null
  /** What it waits for. */
  mend: Mend | null
  /** What is the matter, or why it was left out, in a sentence. */
  says: string | null
  /** When it was let out, and read back. */
  outAt: number | null
  thereAt: number | null
}

export interface WaveDetail extends Wave {
  /** The first few, and those of the rest, by their displays’ numbers. */
  items: Page<WaveItem>
}

/** What a wave’s displays can be asked by. */
export const waveItemListSchema = yup
  .object({ ...listFields, state: wordField<WaveItemState>(waveItemStates) })
  .noUnknown()
export const waveListSchema = yup.object({ ...listFields, state: wordField<WaveState>(waveStates) }).noUnknown()
