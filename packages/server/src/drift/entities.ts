import { EntitySchema } from 'typeorm'
import type { JudgedVerdict } from '@bichroma/core/aims'
import type { Forecast, InstrumentShift, SlotDrift, TrackedFigures } from '@bichroma/core/drift'
import type { RunKind } from '@bichroma/core/runs'
import { columns } from '../data/columns'

/** A judged run by its figures. */
export interface ValidationRow {
  id: number
  runId: number
  displayId: number
  slot: number
  label: string
  /** ms since 1970. */
  at: number
  instrumentId: number
  kind: RunKind
  /** It wrote the slot, and a new stretch of history begins with it. */
  calibrated: boolean
  imported: boolean
  verdict: JudgedVerdict
  figures: TrackedFigures
}
export const validationEntity = new EntitySchema<ValidationRow>({
  name: 'validation',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    displayId: columns.integer('display_id'),
    slot: columns.integer('slot'),
    label: columns.text('label'),
    at: columns.integer('at'),
    instrumentId: columns.integer('instrument_id'),
    kind: columns.text('kind'),
    calibrated: columns.boolean('calibrated'),
    imported: columns.boolean('imported'),
    verdict: columns.text('verdict'),
    figures: columns.json('figures'),
  },
})

/** The rule that a slot will break first, and when. */
export interface Foretold {
  rule: string
  forecast: Forecast
}

/** What the history of a slot comes to. */
export interface SlotDriftRow {
  id: number
  displayId: number
  slot: number
  label: string
  firstAt: number
  at: number
  validations: number
  verdict: JudgedVerdict
  instrumentId: number
  averageDeltaE: number
  worstDeltaE: number
  /** %, with its sign. */
  luminanceOff: number
  whiteDeltaUv: number
  drift: SlotDrift
  shifts: InstrumentShift[]
  foretold: Foretold | null
  /** The limits that the forecast is by, as they stood then. */
  limitsId: number
  limitsUpdatedAt: number
  /** From when the chance of being outside is more than `accepted` (0–1), ms since 1970; null when that is years away. */
  leavesAt: number | null
  accepted: number | null
}
export const slotDriftEntity = new EntitySchema<SlotDriftRow>({
  name: 'slot_drift',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    slot: columns.integer('slot'),
    label: columns.text('label'),
    firstAt: columns.integer('first_at'),
    at: columns.integer('at'),
    validations: columns.integer('validations'),
    verdict: columns.text('verdict'),
    instrumentId: columns.integer('instrument_id'),
    averageDeltaE: columns.real('average_delta_e'),
    worstDeltaE: columns.real('worst_delta_e'),
    luminanceOff: columns.real('luminance_off'),
    whiteDeltaUv: columns.real('white_delta_uv'),
    drift: columns.json('drift'),
    shifts: columns.json('shifts'),
    foretold: columns.jsonOrNull('foretold'),
    limitsId: columns.integer('limits_id'),
    limitsUpdatedAt: columns.integer('limits_updated_at'),
    leavesAt: columns.integerOrNull('leaves_at'),
    accepted: columns.realOrNull('accepted'),
  },
})

/** A slot whose validations have changed since its trends were worked out. */
export interface DriftDueRow {
  displayId: number
  slot: number
  /** How often it was asked for: what was asked for while it was worked out is still due. */
  asked: number
}
export const driftDueEntity = new EntitySchema<DriftDueRow>({
  name: 'drift_due',
  columns: {
    displayId: { type: 'integer', name: 'display_id', primary: true },
    slot: { type: 'integer', name: 'slot', primary: true },
    asked: columns.integer('asked'),
  },
})
