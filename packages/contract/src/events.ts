import type { DisplayListing, FloorNow, RoomStanding } from './floor/floor'
import type { RunSummary, Workstation } from './register/register'
import type { RolloutRow } from './rollout/rollout'
import type { RunLive, StageRecord } from './runs/runs'

/** Areas whose stored state changed; the browser asks again for what it shows of them. */
export type Topic = 'register' | 'runs' | 'aims' | 'rollout' | 'couriers' | 'drift' | 'rounds' | 'light' | 'peers'

/** What the server sends to browsers over server-sent events. */
export type ServerEvent =
  | { type: 'run'; run: RunNews }
  | ({ type: 'news' } & FleetNews)
  | {
      type: 'changed'
      topics: Topic[]
      /** Ask within this time, at a moment of one's own; at once without it. */ spreadMs?: number
    }

/** What became of a run since it was told of last: the stages that changed, and all of the rest, which is small. */
export interface RunNews extends Omit<RunLive, 'stages'> {
  /** Those that changed; the others stay as they were told. */
  stages: StageRecord[]
}

/** What became of displays, workstations and runs, and of what counts them. */
export interface FleetNews {
  displays: DisplayListing[]
  rollout: RolloutRow[]
  workstations: Workstation[]
  runs: RunSummary[]
  /** The rooms of those displays. */
  rooms: RoomStanding[]
  floor: FloorNow
  pulse: Pulse
}

/** The thin line at the bottom of every screen. */
export interface Pulse {
  running: {
    runId: number
    label: string
    displayName: string
    slot: number
    stage: string
    done: number
    secondsLeft: number
    state: string
  }[]
  couriersOnline: number
  couriers: number
  dueToday: number
  /** Displays whose profile was overridden or is missing. */
  astray: number
  instrumentsFree: number
  instruments: number
}

/** Problem details (RFC 9457) with the field at fault. */
export interface Problem {
  type: string
  title: string
  status: number
  detail: string
  field?: string
}
