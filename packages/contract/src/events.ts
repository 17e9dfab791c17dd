import type { RunLive } from './runs/runs'

/** Areas whose stored state changed; the browser asks again for what it shows of them. */
export type Topic = 'register' | 'runs' | 'aims' | 'rollout' | 'couriers'

/** What the server sends to browsers over server-sent events. */
export type ServerEvent = { type: 'run'; run: RunLive } | { type: 'changed'; topics: Topic[] }

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
