import { verdictNames, type AimWhite, type Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import type { OperatingSystem, PanelKind } from '@bichroma/core/register'
import { dueStateNames, type DueScope, type DueState, type Rest } from '@bichroma/core/rounds'
import { listFields, numeralField, wordField } from '../lists'
import type { JudgedSummary } from '../register/register'
import type { PlacementState } from '../rollout/rollout'
import { yup } from '../sentences'

/** Whose rule the days between a display's checks are. */
export type DaysFrom = Exclude<DueScope, 'display'> | 'usual'

export const displaySorts = ['register', 'name', 'room', 'verdict', 'due', 'deltaE'] as const
export type DisplaySort = (typeof displaySorts)[number]

/** What a list of displays can be asked by. */
export const displayListSchema = yup
  .object({
    ...listFields,
    room: numeralField(),
    verdict: wordField<Verdict>(verdictNames),
    due: wordField<DueState>(dueStateNames),
    sort: wordField<DisplaySort>(displaySorts),
  })
  .noUnknown()

/** The last judgement of what a display shows, as lists tell it. */
export type ListedJudgement = Pick<
  JudgedSummary,
  'runId' | 'at' | 'sentence' | 'averageDeltaE' | 'luminance' | 'white' | 'aimWhite' | 'whiteTemperature'
>

/** One display as lists show it: by the slot that it shows. */
export interface DisplayListing {
  id: number
  name: string
  maker: string
  model: string
  serial: string
  firmware: string
  panelKind: PanelKind
  roomId: number
  room: string
  workstationId: number
  workstation: string
  operatingSystem: OperatingSystem
  systemVersion: string
  checkEveryDays: number
  slot: number
  /** Null when the slot holds nothing of ours. */
  label: string | null
  /** A write was begun and not yet read back: nobody knows what the slot holds. */
  unsure: boolean
  /** The slot's aim, cd/m²; null without one. */
  luminance: number | null
  /** The slot's aim; null without one. */
  white: AimWhite | null
  judged: ListedJudgement | null
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
  /** Its courier is connected and reports it. */
  live: boolean
  /** The run that holds it. */
  runId: number | null
  /** What is astray with its profile on its workstation; null where nothing is. */
  astray: 'overridden' | 'missing' | 'out of step' | null
}

/** How many displays stand at each verdict. */
export type VerdictCounts = Record<Verdict, number>

/** One display of a room's worst. */
export interface WorstDisplay {
  id: number
  name: string
  verdict: Verdict
  white: Chromaticity | null
  aimWhite: Chromaticity | null
}

/** A room by its displays. */
export interface RoomStanding {
  id: number
  name: string
  building: string | null
  displays: number
  verdicts: VerdictCounts
  overdue: number
  /** The soonest due line of those that are not overdue, ms since 1970. */
  nextDueAt: number | null
  worst: WorstDisplay[]
}

/** Why a display needs someone, the most pressing first. */
export const needKinds = ['outside', 'untold', 'profile', 'slot', 'lapsed', 'due', 'unproven'] as const
export type NeedKind = (typeof needKinds)[number]

/** A display that needs someone. */
export interface Need {
  kind: NeedKind
  displayId: number
  displayName: string
  /** The slot that it shows. */
  slot: number
  /** What was found, in a sentence; null where the kind says it all. */
  found: string | null
  judgedAt: number | null
  checkEveryDays: number
  placement: { state: PlacementState; slot: number } | null
}

export const needListSchema = yup.object({ cursor: listFields.cursor, limit: listFields.limit }).noUnknown()

/** What the whole floor comes to. */
export interface FloorNow {
  displays: number
  verdicts: VerdictCounts
  overdue: number
  dueThisWeek: number
  needs: { count: number; first: Need[] }
}

/** The floor with its rooms. */
export interface FloorSummary extends FloorNow {
  rooms: RoomStanding[]
}
