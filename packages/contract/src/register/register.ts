import type { Aim, RoomLightRange, Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import { operatingSystemNames, panelKindNames, type OperatingSystem, type PanelKind } from '@bichroma/core/register'
import type { DueState, Rest } from '@bichroma/core/rounds'
import type { RunKind, RunState } from '@bichroma/core/runs'
import type { PipelineShape } from '@bichroma/core/tables'
import { idField, nameField, numberField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import type { RolloutRow } from '../rollout/rollout'
import type { JudgedAnew } from '../peers/offsets'
import type { Imported } from '../review/importReadings'
import { yup } from '../sentences'
import type { DaysFrom } from '../floor/floor'
import {
  agreedLevelSchema,
  allowMinutesField,
  holdsRunsField,
  roomLightRangeSchema,
  type AgreedLevel,
  type HoldsRuns,
  type LevelProposal,
  type RoomLightEntry,
  type RoomWatch,
} from './light'
import type { Kept } from './places'

export const saveRoomSchema = yup
  .object({
    name: nameField().label('Name'),
    building: nameField().label('Building').min(1).notRequired().nullable().default(undefined),
    light: roomLightRangeSchema.nullable().optional().default(undefined),
    allowMinutes: allowMinutesField(),
    holdsRuns: holdsRunsField(),
    level: agreedLevelSchema.nullable().optional().default(undefined),
  })
  .noUnknown()
/** What is left out stays what it is; null takes it away. */
export type SaveRoom = yup.InferType<typeof saveRoomSchema>

export const saveWorkstationSchema = yup
  .object({
    name: nameField().label('Name'),
    roomId: idField().required().label('Room'),
    operatingSystem: yup.string<OperatingSystem>().oneOf(operatingSystemNames).required().label('System'),
    systemVersion: nameField().label('Version of the system'),
  })
  .noUnknown()
export type SaveWorkstation = yup.InferType<typeof saveWorkstationSchema>

export const saveDisplaySchema = yup
  .object({
    name: nameField().label('Name'),
    maker: nameField().label('Maker'),
    model: nameField().label('Model'),
    serial: nameField().label('Serial number'),
    firmware: nameField().label('Firmware'),
    panelKind: yup.string<PanelKind>().oneOf(panelKindNames).required().label('Panel'),
    workstationId: idField().required().label('Workstation'),
    limitsId: idField().required().label('Limits'),
    /** Days between checks. */
    checkEveryDays: numberField().required().integer().min(1).max(730).label('Days between checks'),
    slots: numberField().required().integer().min(1).max(8).label('Slots'),
  })
  .noUnknown()
export type SaveDisplay = yup.InferType<typeof saveDisplaySchema>

/** What can be set on a display later on. */
export const changeDisplaySchema = saveDisplaySchema.pick(['name', 'limitsId', 'checkEveryDays'])
export type ChangeDisplay = yup.InferType<typeof changeDisplaySchema>

export interface Room {
  id: number
  name: string
  building: string | null
  /** What its light is wanted to be; null while nobody has said. */
  light: RoomLightRange | null
  /** The newest reading of its light. */
  newestLight: RoomLightEntry | null
  /** Minutes for which its light may be out of what is wanted before that is told. */
  allowMinutes: number
  holdsRuns: HoldsRuns
  /** The light that aims which follow the room are as bright as; null while nobody agreed on one. */
  level: (AgreedLevel & { since: number }) | null
  /** What watches its light; null for nothing. */
  watch: RoomWatch | null
  /** Another level that its light asks for, for somebody to decide. */
  proposal: LevelProposal | null
}

export interface Workstation {
  id: number
  name: string
  roomId: number
  operatingSystem: OperatingSystem
  systemVersion: string
  courierOnline: boolean
  /** ms since 1970; null when its courier never connected. */
  courierSeenAt: number | null
}

/** What a list of workstations can be asked by. */
export const workstationListSchema = yup
  .object({ ...listFields, room: numeralField(), courier: wordField(['online', 'away'] as const) })
  .noUnknown()

export interface Instrument {
  id: number
  maker: string
  model: string
  serial: string
  /** One that is known from imported readings only is of a kind that nobody knows here. */
  kind: 'colorimeter' | 'spectroradiometer' | 'elsewhere'
  /** When its maker last certified it, ms since 1970; null when it does not tell. */
  certifiedAt: number | null
  /** Workstation whose courier reports it now, and its name. */
  workstationId: number | null
  workstation: string | null
  /** The room of that workstation, and its building where rooms have one. */
  room: { name: string; building: string | null } | null
  /** The run that holds it. */
  runId: number | null
  kept: Kept
  keptSince: number | null
  keptWhy: string | null
}

export const makeCorrectionSchema = yup
  .object({
    displayId: idField().required(),
    /** The colorimeter that is corrected. */
    instrumentId: idField().required(),
    /** The spectroradiometer that it is corrected to. */
    referenceId: idField().required(),
  })
  .noUnknown()
export type MakeCorrection = yup.InferType<typeof makeCorrectionSchema>

/** What corrections can be asked by. */
export const correctionListSchema = yup.object({ ...listFields, display: numeralField() }).noUnknown()

/** A correction made on a display. */
export interface MadeCorrection {
  id: number
  displayId: number
  displayName: string
  maker: string
  model: string
  instrumentId: number
  referenceId: number
  madeAt: number
  /** Largest Δu′v′ that it leaves at white and the primaries. */
  residual: number
}

/** The short figures of the last judgement, for rings and lists. */
export interface JudgedSummary {
  runId: number
  at: number
  verdict: Verdict
  sentence: string
  averageDeltaE: number
  worstDeltaE: number
  worstPatch: string
  luminance: number
  white: Chromaticity
  aimWhite: Chromaticity
  whiteTemperature: number | null
  aimWhiteTemperature: number | null
  whiteDeltaUv: number
}

export interface Slot {
  number: number
  /** Null when the slot holds nothing of ours. */
  label: string | null
  aim: Aim | null
  writtenAt: number | null
  /** Who started the run that wrote it. */
  writtenBy: string | null
  /** What the factory put here, and comes back when the slot is emptied; null for nothing, or while the courier is away. */
  preset: string | null
  tablesHash: string | null
  active: boolean
  /** A write was begun and not yet read back: nobody knows what the slot holds. */
  unsure: boolean
  judged: JudgedSummary | null
}

/** One display with everything that it holds. */
export interface DisplaySummary {
  id: number
  name: string
  maker: string
  model: string
  serial: string
  firmware: string
  panelKind: PanelKind
  roomId: number
  workstationId: number
  limitsId: number
  checkEveryDays: number
  slots: Slot[]
  verdict: Verdict
  /** ms since 1970; null when it was never judged and is due at once. */
  dueAt: number | null
  dueState: DueState
  /** What it would be by the calendar and by the forecast alone; null where that says nothing. The sooner is its due line. */
  calendarAt: number | null
  forecastAt: number | null
  /** Whose rule its days between checks are; null for days of its own. */
  daysFrom: DaysFrom | null
  /** It is not looked at, and why; null for one that is. */
  rests: { kind: Rest['kind']; why: string; until: string | null } | null
  /** A day that matters for which its last judgement will be too old, and its name. */
  mattersAt: number | null
  mattersName: string | null
  /** What each slot holds, as its courier says; null while it is away. */
  holds: PipelineShape['kind'] | null
  /** Which gamuts its firmware takes; null while its courier is away. */
  gamutTargets: 'any' | 'panel' | null
  /** Its courier is connected and reports it. */
  live: boolean
  runId: number | null
}

export interface RunSummary {
  id: number
  displayId: number
  displayName: string
  kind: RunKind
  slot: number
  label: string
  state: RunState
  startedAt: number
  endedAt: number | null
  startedBy: string
  instrument: string
  readings: number
  judged: JudgedSummary | null
  message: string | null
  /** Where its readings came from, when no run of ours took them. */
  imported: Imported | null
  /** It is putting the display back. */
  restoring: boolean
  /** What it had overwritten was put back after it had ended. */
  takenBack: { at: number; by: string } | null
  /** Its validation was withdrawn: kept, and no longer counted. */
  withdrawn: { at: number; by: string; reason: string } | null
  /** Its instrument’s offset was taken into account after it was read, and it was judged anew. */
  anew: JudgedAnew | null
}

export interface DisplayDetail extends DisplaySummary {
  kept: Kept
  /** Since when, ms since 1970, and why; null for one that always was in use. */
  keptSince: number | null
  keptWhy: string | null
  room: Room
  workstation: Workstation
  /** Null for one that is not in use. */
  rollout: RolloutRow | null
  /** The newest; the rest are among the list of runs. */
  runs: RunSummary[]
}
