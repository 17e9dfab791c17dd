import { EntitySchema, type DataSource } from 'typeorm'
import type {
  DaySpan,
  DaysOff,
  DueBy,
  InstrumentReason,
  RoundsLoad,
  RoundsRelief,
  TimeReason,
} from '@bichroma/core/rounds'
import type { RunKind } from '@bichroma/core/runs'
import type { DeskAnswer, VisitState } from '@bichroma/contract'
import { columns } from '../data/columns'

/** Somebody who goes to displays, or does not. */
export interface RoundPersonRow {
  accountId: number
  goes: boolean
  roomId: number | null
  carries: number
  /** Monday first; null for the studio's desk hours. */
  week: (DaySpan | null)[] | null
  off: (DaysOff & { why: string })[]
  mail: string | null
}
export const roundPersonEntity = new EntitySchema<RoundPersonRow>({
  name: 'round_person',
  columns: {
    accountId: { type: 'integer', primary: true, name: 'account_id' },
    goes: columns.boolean('goes'),
    roomId: columns.integerOrNull('room_id'),
    carries: columns.integer('carries'),
    week: columns.jsonOrNull('week'),
    off: columns.json('off'),
    mail: columns.textOrNull('mail'),
  },
})

/** Where an instrument lies, or who has it, or where it hangs. */
export interface RoundInstrumentRow {
  instrumentId: number
  roomId: number | null
  carrierId: number | null
  hangsAt: number | null
}
export const roundInstrumentEntity = new EntitySchema<RoundInstrumentRow>({
  name: 'round_instrument',
  columns: {
    instrumentId: { type: 'integer', primary: true, name: 'instrument_id' },
    roomId: columns.integerOrNull('room_id'),
    carrierId: columns.integerOrNull('carrier_id'),
    hangsAt: columns.integerOrNull('hangs_at'),
  },
})

/** A plan as it was made; the newest is the one that counts. */
export interface RoundPlanRow {
  id: number
  madeAt: number
  by: string
  /** Its first day, and how many. */
  first: string
  days: number
  fromAt: number
  untilAt: number
  walk: number
  load: RoundsLoad
}
export const roundPlanEntity = new EntitySchema<RoundPlanRow>({
  name: 'round_plan',
  columns: {
    id: columns.id as never,
    madeAt: columns.integer('made_at'),
    by: columns.text('by'),
    first: columns.text('first'),
    days: columns.integer('days'),
    fromAt: columns.integer('from_at'),
    untilAt: columns.integer('until_at'),
    walk: columns.integer('walk'),
    load: columns.json('load'),
  },
})

/** One run to be made at one display, and what became of it. Times: UTC, ms since 1970. */
export interface VisitRow {
  id: number
  displayId: number
  kind: RunKind
  slot: number
  label: string
  state: VisitState
  dueAt: number
  dueBy: DueBy
  personId: number | null
  instrumentId: number | null
  wakeAt: number | null
  at: number | null
  readyAt: number | null
  takeDownAt: number | null
  endsAt: number | null
  attended: boolean
  options: { instrumentId: number; run: number }[]
  pinned: boolean
  notBefore: number | null
  toldPersonId: number | null
  toldInstrumentId: number | null
  toldAt: number | null
  whyThen: TimeReason | null
  whyInstrument: InstrumentReason | null
  besides: number
  sharing: number
  late: number
  whyNot: 'no room' | 'no instrument fits' | 'no time' | null
  reliefs: RoundsRelief[]
  runId: number | null
  reason: string | null
  madeAt: number
  endedAt: number | null
  /** How often it was told otherwise, and when last, by the store’s own triggers: for calendars. */
  sequence: number
  changedAt: number
  answer: DeskAnswer | null
  answeredAt: number | null
  /** When its display was woken, so that it is warm when somebody comes. */
  wokenAt: number | null
}
export const visitEntity = new EntitySchema<VisitRow>({
  name: 'visit',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    kind: columns.text('kind'),
    slot: columns.integer('slot'),
    label: columns.text('label'),
    state: columns.text('state'),
    dueAt: columns.integer('due_at'),
    dueBy: columns.text('due_by'),
    personId: columns.integerOrNull('person_id'),
    instrumentId: columns.integerOrNull('instrument_id'),
    wakeAt: columns.integerOrNull('wake_at'),
    at: columns.integerOrNull('at'),
    readyAt: columns.integerOrNull('ready_at'),
    takeDownAt: columns.integerOrNull('take_down_at'),
    endsAt: columns.integerOrNull('ends_at'),
    attended: columns.boolean('attended'),
    options: columns.json('options'),
    pinned: columns.boolean('pinned'),
    notBefore: columns.integerOrNull('not_before'),
    toldPersonId: columns.integerOrNull('told_person_id'),
    toldInstrumentId: columns.integerOrNull('told_instrument_id'),
    toldAt: columns.integerOrNull('told_at'),
    whyThen: columns.textOrNull('why_then'),
    whyInstrument: columns.textOrNull('why_instrument'),
    besides: columns.integer('besides'),
    sharing: columns.integer('sharing'),
    late: columns.real('late'),
    whyNot: columns.textOrNull('why_not'),
    reliefs: columns.json('reliefs'),
    runId: columns.integerOrNull('run_id'),
    reason: columns.textOrNull('reason'),
    madeAt: columns.integer('made_at'),
    endedAt: columns.integerOrNull('ended_at'),
    sequence: columns.integer('sequence'),
    changedAt: columns.integer('changed_at'),
    answer: columns.textOrNull('answer'),
    answeredAt: columns.integerOrNull('answered_at'),
    wokenAt: columns.integerOrNull('woken_at'),
  },
})

/** Visits that are still before somebody. */
export const openVisits = `('planned', 'unplanned', 'begun')`

/** A visit of which people were told something else, or nothing. */
export const isUntold = `(told_at IS NULL OR told_at <> at OR told_person_id IS NOT person_id OR told_instrument_id IS NOT instrument_id)`

/** A visit as lists tell it: what fits as it is stored, for many share it. */
export type ToldVisit = Omit<
  VisitRow,
  'options' | 'notBefore' | 'madeAt' | 'endedAt' | 'sequence' | 'changedAt' | 'answeredAt'
> & {
  optionsText: string
  /** The oldest peer set to which its display belongs by that slot. */
  peerSet: string | null
}

const peerSetOf = `(SELECT peer_set.name FROM peer_member JOIN peer_set ON peer_set.id = set_id
  WHERE peer_member.display_id = visit.display_id AND peer_member.slot = visit.slot ORDER BY set_id LIMIT 1)`

/** What is read of a visit for lists. */
const toldColumns = Object.entries(visitEntity.options.columns)
  .filter(
    ([field]) => !['options', 'notBefore', 'madeAt', 'endedAt', 'sequence', 'changedAt', 'answeredAt'].includes(field),
  )
  .map(([field, column]) => `visit.${column?.name ?? field} AS ${field}`)
  .join(', ')

/** Visits for lists, by a condition on `visit`, in order of time; read as they are, for a week of a large studio has thousands. */
export async function toldVisits(
  data: DataSource,
  where: string,
  parameters: readonly unknown[],
  order = 'visit.at, visit.id',
): Promise<ToldVisit[]> {
  const rows = await data.query<
    (Omit<ToldVisit, 'reliefs' | 'pinned' | 'attended'> & { reliefs: string; pinned: number; attended: number })[]
  >(
    `SELECT ${toldColumns}, visit.options AS optionsText, ${peerSetOf} AS peerSet FROM visit WHERE ${where} ORDER BY ${order}`,
    [...parameters],
  )
  return rows.map((row) => ({
    ...row,
    reliefs: row.reliefs === '[]' ? [] : (JSON.parse(row.reliefs) as RoundsRelief[]),
    pinned: row.pinned === 1,
    attended: row.attended === 1,
  }))
}
