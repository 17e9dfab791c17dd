import { EntitySchema } from 'typeorm'
import type { Aim, ResolvedAim, RoomLightRange } from '@bichroma/core/aims'
import type { Matrix3, XYZ } from '@bichroma/core/color'
import type { FourLights, OperatingSystem, PanelKind, ReadsMore } from '@bichroma/core/register'
import type { DisplayEvent, HoldsRuns, Kept, LoaderState, OffsetSource, OffsetState } from '@bichroma/contract'
import { columns } from '../data/columns'

export interface RoomRow {
  id: number
  name: string
  /** The building that it is in; null where nobody has said. */
  building: string | null
  /** What its light is wanted to be. */
  light: RoomLightRange | null
  /** Minutes for which its light may be out of that. */
  allowMinutes: number
  holdsRuns: HoldsRuns
  /** The light that aims which follow the room are told, lx, since when, and between which it may follow by itself. */
  levelLux: number | null
  levelSince: number | null
  levelAllowed: { from: number; to: number } | null
  /** Since when there is no such room any more, ms since 1970; null for one that is there. */
  retiredAt: number | null
}
export const roomEntity = new EntitySchema<RoomRow>({
  name: 'room',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    building: columns.textOrNull('building'),
    light: columns.jsonOrNull('light'),
    allowMinutes: columns.integer('allow_minutes'),
    holdsRuns: columns.text('holds_runs'),
    levelLux: columns.realOrNull('level_lux'),
    levelSince: columns.integerOrNull('level_since'),
    levelAllowed: columns.jsonOrNull('level_allowed'),
    retiredAt: columns.integerOrNull('retired_at'),
  },
})

/** A room of whose light nobody has said more. */
export const asEveryRoom: Pick<RoomRow, 'allowMinutes' | 'holdsRuns' | 'levelLux' | 'levelSince' | 'levelAllowed'> = {
  allowMinutes: 15,
  holdsRuns: 'needed',
  levelLux: null,
  levelSince: null,
  levelAllowed: null,
}

/** One reading of a room's light: lx, and K where it has a temperature. */
export interface RoomLightRow {
  id: number
  roomId: number
  at: number
  illuminanceLux: number
  kelvin: number | null
  instrumentId: number
  /** Who read it; null for what an instrument that was left there read by itself. */
  accountId: number | null
}
export const roomLightEntity = new EntitySchema<RoomLightRow>({
  name: 'room_light',
  columns: {
    id: columns.id as never,
    roomId: columns.integer('room_id'),
    at: columns.integer('at'),
    illuminanceLux: columns.real('illuminance_lux'),
    kelvin: columns.realOrNull('kelvin'),
    instrumentId: columns.integer('instrument_id'),
    accountId: columns.integerOrNull('account_id'),
  },
})

export interface WorkstationRow {
  id: number
  name: string
  roomId: number
  operatingSystem: OperatingSystem
  systemVersion: string
  /** SHA-256 of the enrolment key. */
  courierKeyHash: string | null
  courierSeenAt: number | null
  /** Since when there is no such workstation any more, ms since 1970; null for one that is there. */
  retiredAt: number | null
  /** What a note for whoever works there says now. */
  note: string | null
}
export const workstationEntity = new EntitySchema<WorkstationRow>({
  name: 'workstation',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    roomId: columns.integer('room_id'),
    operatingSystem: columns.text('operating_system'),
    systemVersion: columns.text('system_version'),
    courierKeyHash: columns.textOrNull('courier_key_hash'),
    courierSeenAt: columns.integerOrNull('courier_seen_at'),
    retiredAt: columns.integerOrNull('retired_at'),
    note: columns.textOrNull('note'),
  },
})

/** Whether a thing is in use, since when it is as it is (ms since 1970), and why somebody put it away. */
export interface KeptColumns {
  kept: Kept
  keptSince: number | null
  keptWhy: string | null
}
const keptColumns = {
  kept: columns.text('kept'),
  keptSince: columns.integerOrNull('kept_since'),
  keptWhy: columns.textOrNull('kept_why'),
}
/** A thing that is in use, as it is when it is new. */
export const inUse: KeptColumns = { kept: 'in use', keptSince: null, keptWhy: null }

export interface DisplayRow extends KeptColumns {
  id: number
  name: string
  maker: string
  model: string
  serial: string
  firmware: string
  panelKind: PanelKind
  /** Where it stands; for one that was put away, where it stood last. */
  workstationId: number
  limitsId: number
  checkEveryDays: number
  slots: number
  activeSlot: number
  /** How long its light takes to follow a patch, ms; null until a run has measured it. */
  delayMs: number | null
  /** Whether the curves of its slot are in the video card, and since when; null for one that does not live by them. */
  curves: LoaderState | null
  curvesSince: number | null
}
export const displayEntity = new EntitySchema<DisplayRow>({
  name: 'display',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    maker: columns.text('maker'),
    model: columns.text('model'),
    serial: columns.text('serial'),
    firmware: columns.text('firmware'),
    panelKind: columns.text('panel_kind'),
    workstationId: columns.integer('workstation_id'),
    limitsId: columns.integer('limits_id'),
    checkEveryDays: columns.integer('check_every_days'),
    slots: columns.integer('slots'),
    activeSlot: columns.integer('active_slot'),
    delayMs: columns.integerOrNull('delay_ms'),
    curves: columns.textOrNull('curves'),
    curvesSince: columns.integerOrNull('curves_since'),
    ...keptColumns,
  },
})

export interface SlotRow {
  id: number
  displayId: number
  number: number
  label: string | null
  aim: Aim | null
  /** The aim filled in for this panel when the slot was written. */
  resolvedAim: ResolvedAim | null
  writtenAt: number | null
  tablesHash: string | null
  /** The run that judged what the slot holds last. */
  judgedRunId: number | null
  /** A write was begun and not yet read back: nobody knows what the slot holds. */
  unsure: boolean
}
export const slotEntity = new EntitySchema<SlotRow>({
  name: 'slot',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    number: columns.integer('number'),
    label: columns.textOrNull('label'),
    aim: columns.jsonOrNull('aim'),
    resolvedAim: columns.jsonOrNull('resolved_aim'),
    writtenAt: columns.integerOrNull('written_at'),
    tablesHash: columns.textOrNull('tables_hash'),
    judgedRunId: columns.integerOrNull('judged_run_id'),
    unsure: columns.boolean('unsure'),
  },
})

export interface InstrumentRow extends KeptColumns {
  id: number
  maker: string
  model: string
  serial: string
  /** `elsewhere`: known from imported readings only. */
  kind: 'colorimeter' | 'spectroradiometer' | 'elsewhere'
  /** ms since 1970; null when it does not tell. */
  certifiedAt: number | null
  /** The workstation whose courier named it first; null for one that was there before that was noted. */
  broughtBy: number | null
}
export const instrumentEntity = new EntitySchema<InstrumentRow>({
  name: 'instrument',
  columns: {
    id: columns.id as never,
    maker: columns.text('maker'),
    model: columns.text('model'),
    serial: columns.text('serial'),
    kind: columns.text('kind'),
    certifiedAt: columns.integerOrNull('certified_at'),
    broughtBy: columns.integerOrNull('brought_by'),
    ...keptColumns,
  },
})

/** A correction made on a display: the matrix that brings a colorimeter's XYZ there to a reference's. */
export interface CorrectionRow {
  id: number
  displayId: number
  instrumentId: number
  referenceId: number
  madeAt: number
  accountId: number
  matrix: Matrix3
  /** In place of the matrix on a display with a white subpixel. */
  lights: FourLights | null
  /** On top of the matrix where light lies on the screen that is not the display's own, cd/m². */
  offset: XYZ | null
  /** Largest Δu′v′ that it leaves on colours that it was not made from. */
  residual: number
}
export const correctionEntity = new EntitySchema<CorrectionRow>({
  name: 'correction',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    instrumentId: columns.integer('instrument_id'),
    referenceId: columns.integer('reference_id'),
    madeAt: columns.integer('made_at'),
    accountId: columns.integer('account_id'),
    matrix: columns.json('matrix'),
    lights: columns.jsonOrNull('lights'),
    offset: columns.jsonOrNull('offset'),
    residual: columns.real('residual'),
  },
})

export interface DisplayEventRow extends DisplayEvent {
  id: number
  displayId: number
}
export const displayEventEntity = new EntitySchema<DisplayEventRow>({
  name: 'display_event',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    at: columns.integer('at'),
    kind: columns.text('kind'),
    text: columns.text('text'),
  },
})

/** What an instrument reads more, as it was found, and whether it is taken into account. */
export interface InstrumentOffsetRow extends ReadsMore {
  id: number
  instrumentId: number
  source: OffsetSource
  ringId: number | null
  since: number
  within: number
  withinUv: number
  at: number
  by: string
  state: OffsetState
  takenAt: number | null
  takenBy: string | null
  endedAt: number | null
  endedBy: string | null
}
export const instrumentOffsetEntity = new EntitySchema<InstrumentOffsetRow>({
  name: 'instrument_offset',
  columns: {
    id: columns.id as never,
    instrumentId: columns.integer('instrument_id'),
    source: columns.text('source'),
    ringId: columns.integerOrNull('ring_id'),
    since: columns.integer('since'),
    luminance: columns.real('luminance'),
    u: columns.real('u'),
    v: columns.real('v'),
    within: columns.real('within'),
    withinUv: columns.real('within_uv'),
    at: columns.integer('at'),
    by: columns.text('by'),
    state: columns.text('state'),
    takenAt: columns.integerOrNull('taken_at'),
    takenBy: columns.textOrNull('taken_by'),
    endedAt: columns.integerOrNull('ended_at'),
    endedBy: columns.textOrNull('ended_by'),
  },
})
