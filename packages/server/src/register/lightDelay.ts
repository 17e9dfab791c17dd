import type { XYZ } from '@bichroma/core/color'

/** Shows a grey (0–1) and lets so many ms pass; and reads what stands there: XYZ in cd/m², with the ms that it averages over. */
export interface DelayProbe {
  show(level: number, waitMs: number): Promise<unknown>
  read(): Promise<{ readonly xyz: XYZ; readonly ms: number }>
}

/** Waits that are long for a display, the usual first, ms. None is known that needs the last. */
const longWaits = [1500, 3000, 5000] as const
/** Share of the former patch that may be left in a reading: at most this of white is in black's reading. */
const enough = 0.002
/** By how much white may change while it is waited for once more, as a share: noise and warmth move it less. */
const stillShare = 0.005
const mostTries = 12
/** Tries after which the wait grows by a share of itself at least: a slow end tells little in each look. */
const [quickTries, growth] = [3, 0.15]

/** What a display that does not follow a patch within five seconds is told as. */
export class FollowsTooLate extends Error {
  constructor() {
    super(
      'The display’s light does not follow a patch within five seconds. Turn off what smooths or interpolates its picture, or its energy saving, and try again.',
    )
  }
}

/**
 * How long a display's light takes to follow a patch, ms. A reading taken straight after black gave way to white holds a
 * share of the black that grows with the delay, for an instrument averages over its time: the share times that time is
 * the wait that was missing. It is added, and looked at again, until no more than 0.2 % is left; both ways. What is long
 * enough to see white whole is found first: white that still changes while it is waited for again was not. Throws
 * {@link FollowsTooLate}.
 */
export async function findDelay({ show, read }: DelayProbe): Promise<number> {
  for (const longMs of longWaits) {
    await show(0, longMs)
    const dark = (await read()).xyz[1]
    await show(1, longMs)
    const first = (await read()).xyz[1]
    await show(1, longMs)
    const bright = (await read()).xyz[1]
    if (Math.abs(bright - first) > stillShare * Math.max(bright, first)) continue
    if (!(bright > 2 * dark + 1)) {
      // Black may be the white of before, on a display that is later than that.
      if (longMs === longWaits[longWaits.length - 1]) return 0
      continue
    }
    let wait = 0
    for (let tries = 0; tries < mostTries; tries++) {
      await show(0, longMs)
      await show(1, wait)
      const { xyz, ms } = await read()
      const left = (bright - xyz[1]) / (bright - dark)
      if (left <= enough) break
      wait += Math.max(20, 1.5 * left * ms, tries >= quickTries ? growth * wait : 0)
    }
    return Math.ceil(wait / 10) * 10
  }
  throw new FollowsTooLate()
}
