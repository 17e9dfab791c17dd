import type { Patch } from '../patches'
import { nominalExponent } from './planParts'

/** How long an instrument takes: integration grows as light falls, until it gives up waiting. */
export interface InstrumentTiming {
  /** From asking for a patch to its being on screen and settled, ms. */
  readonly settleMs: number
  /** A reading of a bright patch, ms. */
  readonly fastestMs: number
  /** The longest that a reading of a dark patch takes, ms. */
  readonly slowestMs: number
  /** Luminance in cd/m² below which readings take longer, in inverse proportion. */
  readonly slowBelow: number
}

/** Milliseconds that one reading takes at a luminance in cd/m². */
export const readingMs = ({ fastestMs, slowestMs, slowBelow }: InstrumentTiming, luminance: number): number =>
  Math.min(slowestMs, Math.max(fastestMs, (fastestMs * slowBelow) / Math.max(luminance, 1e-6)))

/** Shares of red, green and blue in the luminance of white: those of BT.709. */
const shares = [0.2126, 0.7152, 0.0722]

/** What a plan costs. */
export interface PlanCost {
  readonly readings: number
  readonly minutes: number
}

/** Readings and minutes of patches on a nominal display whose white has a luminance (cd/m², contrast 1000). */
export function planCost(patches: readonly Patch[], timing: InstrumentTiming, whiteLuminance: number): PlanCost {
  const ms = patches.reduce((sum, { rgb }) => {
    const light = rgb.reduce((y, v, c) => y + shares[c] * v ** nominalExponent, 0)
    return sum + timing.settleMs + readingMs(timing, whiteLuminance * (0.001 + 0.999 * light))
  }, 0)
  return { readings: patches.length, minutes: ms / 60_000 }
}
