import { uniformFrom } from '../basics/random'
import type { PlanInstrument, PlanPerson, PlanProblem, PlanVisit, Stretch } from '../rounds/plan/problem'

/** What a made-up studio is like. */
export interface MadeStudio {
  readonly visits: number
  readonly people: number
  readonly instruments: number
  readonly days: number
  readonly buildings?: number
  readonly rooms?: number
  /** The share of runs that somebody stays with; minutes of the shortest and the longest run. */
  readonly attended?: number
  readonly runs?: readonly [number, number]
  /** Everything a multiple of so many minutes, so that a grid can hold it. */
  readonly grid?: number
  /** Nobody walks. */
  readonly oneRoom?: boolean
  /** Nothing hangs over night, and nothing hangs for good. */
  readonly byDay?: boolean
  /** How many days before the plan begins the oldest due line lies, and after which day the newest. */
  readonly due?: readonly [number, number]
}

const day = 1440

/** Cost by days late: so many weighted days, and another week for what is left out. */
export const lateCosts = (dueDay: number, weight: number, days: number): number[] =>
  Array.from({ length: days + 1 }, (_, d) =>
    d < days ? weight * Math.max(0, d - dueDay) : weight * Math.max(0, days + 7 - dueDay),
  )

/** A studio from a seed, with the hours, windows, instruments and due lines that a planner has to cope with. */
export function madeStudio(seed: number, made: MadeStudio): PlanProblem & { readonly due: readonly number[] } {
  const uniform = uniformFrom(seed)
  const { days, grid = 1, byDay = false, oneRoom = false } = made
  const whole = (from: number, to: number) => from + Math.floor(uniform() * (to - from + 1))
  const minutes = (from: number, to: number) => grid * Math.max(1, Math.round(whole(from, to) / grid))
  const often = (share: number) => uniform() < share
  const buildings = made.buildings ?? 2
  const rooms = oneRoom ? 1 : (made.rooms ?? 6)
  const places = oneRoom ? 1 : buildings * rooms
  const at = Array.from({ length: places }, (_, p) => ({ building: Math.floor(p / rooms), x: uniform(), y: uniform() }))
  const walk: number[] = []
  for (const a of at)
    for (const b of at)
      walk.push(
        a === b
          ? 0
          : a.building === b.building
            ? 1 + Math.round(3 * Math.hypot(a.x - b.x, a.y - b.y))
            : 8 + Math.abs(a.building - b.building),
      )
  const isOpen = (d: number) => d % 7 < 5
  const people: PlanPerson[] = Array.from({ length: made.people }, () => {
    const from = grid * Math.round((30 * whole(16, 20)) / grid)
    const off = whole(0, 9)
    const shifts: Stretch[] = []
    for (let d = 0; d < days; d++)
      if (isOpen(d) && d % 5 !== off) {
        shifts.push({ from: d * day + from, to: d * day + 12 * 60 + 30 })
        shifts.push({ from: d * day + 13 * 60 + 15, to: d * day + from + 540 })
      }
    return { shifts, place: whole(0, places - 1), carries: 2 }
  })
  const spectral = Math.max(1, Math.round(made.instruments / 4))
  const instruments: PlanInstrument[] = Array.from({ length: made.instruments }, (_, k) => {
    const hangs = !byDay && k > spectral && often(0.1)
    return {
      place: whole(0, places - 1),
      validUntil: k > 1 && often(0.1) ? whole(2, days) * day : Infinity,
      carrier: !byDay && !hangs && k > 1 && often(0.15) ? whole(0, made.people - 1) : null,
      hangs,
    }
  })
  const [oldest, newest] = made.due ?? [20, days]
  const due: number[] = []
  const visits: PlanVisit[] = Array.from({ length: made.visits }, (_, v) => {
    const needsSpectral = often(0.2)
    const seat = minutes(4, 8)
    const takeDown = minutes(2, 5)
    const run = minutes(...(made.runs ?? [15, 60]))
    const fitting = instruments.flatMap((i, instrument) =>
      i.hangs || (needsSpectral && instrument >= spectral)
        ? []
        : [{ instrument, run: instrument < spectral ? grid * Math.round((1.5 * run) / grid) : run }],
    )
    const hanging = instruments.flatMap((i, instrument) => (i.hangs ? [{ instrument, run }] : []))
    // An instrument that hangs hangs at one display.
    const isHung = v < hanging.length
    // Desk hours, mornings and after five, around lunch, or when the artists have gone.
    const kind = [0, 0, 0, 1, 2, byDay ? 0 : 3, 1, 2][whole(0, 7)]
    const windows: Stretch[] = []
    for (let d = 0; d < days; d++) {
      if (kind === 3 || isHung) windows.push({ from: d * day + 1020, to: (d + 1) * day + (isOpen(d + 1) ? 570 : 1020) })
      else if (!isOpen(d)) continue
      else if (kind === 0) windows.push({ from: d * day + 480, to: d * day + 1080 })
      else if (kind === 1)
        windows.push({ from: d * day + 480, to: d * day + 720 }, { from: d * day + 1005, to: d * day + 1110 })
      else windows.push({ from: d * day + 690, to: d * day + 960 })
    }
    const dueDay = whole(-oldest, newest)
    due.push(dueDay * day)
    const attended = kind !== 3 && often(made.attended ?? 0.4)
    return {
      place: whole(0, places - 1),
      windows,
      seat,
      takeDown,
      attended: attended && !isHung,
      warm: 30,
      options: isHung ? [hanging[v]] : fitting,
      overnight: kind === 3,
      costs: lateCosts(dueDay, whole(1, 5), days),
    }
  })
  return {
    dayBounds: Array.from({ length: days + 1 }, (_, d) => d * day),
    walk,
    places,
    people,
    instruments,
    visits,
    due,
  }
}
