import type {
  DueBy,
  InstrumentReason,
  RoundsLoad,
  RoundsRelief,
  Span,
  StudioHours,
  TimeReason,
  WalkMinutes,
  WeekVisit,
  WhatIf,
} from '@bichroma/core/rounds'
import type { RunKind } from '@bichroma/core/runs'
import type { Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import { idField, numberField, textField, timeField } from '../fields'
import { listFields, numeralField } from '../lists'
import { yup } from '../sentences'
import type { DeskAnswer } from './desk'
import { dateField } from './hours'

/**
 * How a visit stands. planned: it has its time. unplanned: no plan could hold it. begun: its run goes on. done: its run was
 * judged. missed: nobody came. blocked: somebody came, and it was not possible. dropped: it is not wanted any more.
 */
export const visitStates = ['planned', 'unplanned', 'begun', 'done', 'missed', 'blocked', 'dropped'] as const
export type VisitState = (typeof visitStates)[number]

/** What is to be planned from now on. */
export const makePlanSchema = yup
  .object({ days: numberField().required().integer().min(1).max(35).label('Days') })
  .noUnknown()

/** Moves a visit: it stays there from now on. */
export const moveVisitSchema = yup
  .object({
    /** Null where the instrument hangs there. */
    personId: idField().nullable().defined().label('Person'),
    instrumentId: idField().required().label('Instrument'),
    at: timeField().required().label('Time'),
  })
  .noUnknown()

export const visitReasonSchema = yup
  .object({ why: textField(200).trim().required().min(3).label('Reason') })
  .noUnknown()

/** The days of a week that is asked for. */
export const weekSchema = yup.object({ from: dateField() }).noUnknown()

export const unplannedListSchema = yup.object({ ...listFields }).noUnknown()

/** Whose tour, of which day; one's own of today unless given. */
export const tourSchema = yup.object({ person: numeralField(), date: dateField() }).noUnknown()

/** What a visit's display looks like in lists: for its ring. */
export interface VisitDisplay {
  id: number
  name: string
  room: string
  roomId: number
  workstation: string
  verdict: Verdict
  white: Chromaticity | null
  aimWhite: Chromaticity | null
}

/** One visit as it is told. */
export interface Visit extends Omit<WeekVisit, 'windows' | 'options'> {
  /** Its place among the sets of instruments that fit, with the minutes of a run by each. */
  optionSet: number
  /** Its place among the week's sets of windows. */
  windowSet: number
  display: VisitDisplay
  state: VisitState
  kind: RunKind
  slot: number
  label: string
  /** ms since 1970. */
  dueAt: number
  dueBy: DueBy
  /** The peer set that it is read together with; null for none. */
  peerSet: string | null
  wakeAt: number | null
  /** When its display was woken for it. */
  wokenAt: number | null
  readyAt: number | null
  whyThen: TimeReason | null
  whyInstrument: InstrumentReason | null
  /** Others in the same room on the same tour, and with the same instrument. */
  besides: number
  sharing: number
  /** Why no plan could hold it. */
  whyNot: 'no room' | 'no instrument fits' | 'no time' | null
  reliefs: RoundsRelief[]
  /** Weighted days of lateness that the plan adds. */
  late: number
  /** What was said of it at its desk; null while nothing was. */
  answer: DeskAnswer | null
  /** What people were told; null while nobody was. */
  told: { personId: number | null; instrumentId: number; at: number } | null
  runId: number | null
  /** Why it was not possible, or is not wanted; of one that lies ahead again, what ended its run. */
  reason: string | null
}

/** How the plan stands. */
export interface PlanStanding {
  id: number
  madeAt: number
  by: string
  /** Its days: from one to another, which is outside, ms since 1970. */
  from: number
  until: number
  planned: number
  unplanned: number
  /** Those that the plan itself makes late, for want of time. */
  late: number
  /** Those whose due line had passed when it was made. */
  overdue: number
  /** Visits that nobody was told of as they are now. */
  untold: number
  walk: number
  load: RoundsLoad
  /** Visits that nobody at the desk answered, although it was told of them as often as it is. */
  ignored: { id: number; display: string }[]
  /** It is being worked out anew. */
  working: boolean
}

/** A week of it. */
export interface Week {
  plan: PlanStanding | null
  hours: StudioHours
  minutes: { seat: number; takeDown: number; warm: number }
  now: number
  days: { date: string; from: number; to: number; desk: Span | null; closed: string | null }[]
  people: { id: number; name: string; hours: Span[]; carries: number; off: string[] }[]
  instruments: {
    id: number
    name: string
    kind: string
    validUntil: number | null
    carrierId: number | null
    hangsAt: number | null
  }[]
  rooms: { id: number; name: string; building: string | null }[]
  /** Minutes from room to room. */
  walk: WalkMinutes
  /** When workstations may be used, set by set. */
  windowSets: Span[][]
  optionSets: { instrumentId: number; run: number }[][]
  visits: Visit[]
}

/** What a technician has before them on one day. */
export interface Tour {
  person: { id: number; name: string }
  date: string
  zone: string
  now: number
  visits: Visit[]
  /** What to bring, by name. */
  instruments: { id: number; name: string }[]
  /** Other people whose tours can be looked at. */
  people: { id: number; name: string }[]
}

/** What one thing more would come to, by name. */
export interface Capacity {
  /** Displays in use that do not rest. */
  displays: number
  /** How many of them this team could keep, as the plan has it. */
  keeps: number
  /** What is busiest: its name and the share of its time. */
  tightest: { name: string; share: number } | null
  outcomes: (WhatIf & { name: string })[]
}
