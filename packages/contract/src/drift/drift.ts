import type { JudgedVerdict, LimitRule } from '@bichroma/core/aims'
import type { DifferenceFormula } from '@bichroma/core/color'
import type { Forecast, TrackedFigures, Trend } from '@bichroma/core/drift'
import type { RunKind } from '@bichroma/core/runs'
import { listFields, numeralField } from '../lists'
import { yup } from '../sentences'

/** One slot of the fleet by what its history foretells: a row of Drift. */
export interface SlotOutlook {
  displayId: number
  displayName: string
  slot: number
  label: string
  room: string
  model: string
  /** First and newest validation, ms since 1970. */
  firstAt: number
  at: number
  validations: number
  verdict: JudgedVerdict
  /** The instrument that read it last. */
  instrument: string
  averageDeltaE: number
  worstDeltaE: number
  luminanceOff: number
  whiteDeltaUv: number
  /** The rule that will be broken first, and when; null for limits of which no rule decides. */
  rule: string | null
  forecast: Forecast | null
}

/** How one group of the fleet lies: quartiles of the average ΔE2000 of its slots' newest validations. */
export interface FleetGroup {
  name: string
  slots: number
  least: number
  quarter: number
  median: number
  threeQuarters: number
  most: number
  /** Slots whose newest verdict is outside, and those that will be within 60 days. */
  outside: number
  soon: number
}

export const groupings = ['model', 'age', 'room', 'instrument'] as const
export type Grouping = (typeof groupings)[number]

/** How an instrument reads beside the others, with the evidence in a sentence. */
export interface InstrumentReading {
  instrumentId: number
  name: string
  slots: number
  readings: number
  /** Shift of luminance, X and Z, %. */
  luminance: number
  x: number
  z: number
  stands: boolean
  sentence: string
}

/** An instrument that has begun to read otherwise beside the others, told from ordinary checks. */
export interface InstrumentTurn {
  instrumentId: number
  name: string
  /** About when, ms since 1970. */
  since: number
  /** How much more light it reads, as a share, and half of the interval that holds it 95 times of 100. */
  luminance: number
  within: number
  readings: number
  sentence: string
}

/** What the list of slots can be asked by; the soonest to leave their limits first. */
export const slotOutlookListSchema = yup.object({ ...listFields, room: numeralField() }).noUnknown()

/** Which slot’s history is asked for: the one that is shown when left out. */
export const slotHistorySchema = yup.object({ slot: numeralField(8) }).noUnknown()

export interface FleetDrift {
  /** Slots that have a history, and those of them that will be outside within 60 days. */
  slots: number
  soon: number
  groups: Record<Grouping, FleetGroup[]>
  instruments: InstrumentReading[]
  changes: InstrumentTurn[]
}

/** One validation in a display's history. */
export interface HistoryPoint {
  runId: number
  at: number
  kind: RunKind
  imported: boolean
  /** It calibrated the slot, and a new stretch of history begins. */
  calibrated: boolean
  /** Counts stretches. */
  segment: number
  instrument: string
  verdict: JudgedVerdict
  figures: TrackedFigures
}

/** Something that happened to a display and may show in its figures. */
export interface DisplayEvent {
  at: number
  kind: 'calibrated' | 'firmware' | 'instrument' | 'moved' | 'replaced' | 'put away' | 'returned'
  text: string
}

/** A rule with its trend and forecast. */
export interface RuleDrift {
  rule: LimitRule
  /** Key of the rule's figure among the tracked ones. */
  key: string
  /** Null where there is too little history. */
  trend: Trend | null
  forecast: Forecast
}

/** The history of one slot. */
export interface SlotHistory {
  displayName: string
  slot: number
  label: string
  /** Slots of the display that have a history, with what they hold. */
  slots: { number: number; label: string }[]
  limitsName: string
  formula: DifferenceFormula
  history: HistoryPoint[]
  rules: RuleDrift[]
  events: DisplayEvent[]
}
