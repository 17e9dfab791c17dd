import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import type { RoomLight } from './roomLight'

/** A room with lamps, and with windows where daylight is given. */
export interface LitRoom extends RoomLight {
  /** What daylight adds at the desk at noon under an even sky, lx. */
  readonly daylight?: { readonly lux: number }
}

const hour = 3_600_000
const day = 24 * hour
/** Hours of light of the shortest and of the longest day, as at some 50 degrees of latitude. */
const [shortest, longest] = [8, 16]
/** Colour temperature of daylight: near the horizon, and high, K. */
const [low, high] = [4300, 6500]

/** Share of noon's daylight at an instant, 0–1: the sun's height over the day, by UTC, and the season. */
function daylightShare(at: number): number {
  const ofYear = ((at / day) % 365.25) / 365.25
  const hours = (longest + shortest) / 2 - ((longest - shortest) / 2) * Math.cos(2 * Math.PI * (ofYear + 10 / 365.25))
  const fromNoon = ((at % day) - day / 2) / hour
  return Math.max(0, Math.cos((Math.PI * fromNoon) / hours)) * (hours / longest)
}

/** What clouds let through at an instant, about 1: another every quarter of an hour, the same for the same seed. */
function clouds(at: number, seed: number): number {
  const quarter = hour / 4
  const of = (n: number) => Math.exp(0.35 * normalFrom(uniformFrom((seed + n * 7919) >>> 0))())
  const n = Math.floor(at / quarter)
  const part = at / quarter - n
  return of(n) * (1 - part) + of(n + 1) * part
}

/** The light of a room at an instant (ms since 1970): lamps and daylight, mixed by their amounts in mired. */
export function lightNow({ daylight, ...lamps }: LitRoom, at: number, seed: number): RoomLight {
  const share = daylight ? daylightShare(at) : 0
  if (!daylight || share === 0) return lamps
  const lux = daylight.lux * share * clouds(at, seed)
  const illuminanceLux = lamps.illuminanceLux + lux
  const kelvin = low + (high - low) * Math.sqrt(share)
  const mired = (lamps.illuminanceLux / lamps.kelvin + lux / kelvin) / illuminanceLux
  return { illuminanceLux, kelvin: 1 / mired }
}
