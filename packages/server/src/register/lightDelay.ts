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
/** Light of the former white that may be left in a reading, as ms of it: a dark colour after a bright one is lost in more. */
const trace = 0.02
/** Share of white that an instrument can tell from black. */
const told = 1e-5

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
 * the wait that was missing. It is added, and looked at again, until no more than 0.2 % is left. What that still leaves of
 * white in a dark colour is looked at in black, see {@link waitForDark}. What is long enough to see white whole is found
 * first: white that still changes while it is waited for again was not. Throws {@link FollowsTooLate}.
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
    return Math.ceil((await waitForDark({ show, read }, { wait, longMs, black: dark, white: bright })) / 10) * 10
  }
  throw new FollowsTooLate()
}

/** What is known once white is seen whole: the wait so far and one that is long, ms; luminance of black and white, cd/m². */
interface SeenWhole {
  readonly wait: number
  readonly longMs: number
  readonly black: number
  readonly white: number
}

/**
 * The wait, ms, after which black holds hardly anything of the white before it. Light goes out ever more slowly: two looks
 * tell how fast, and so when there is too little of it to be seen.
 */
async function waitForDark({ show, read }: DelayProbe, seen: SeenWhole): Promise<number> {
  const { wait, longMs, white } = seen
  const blackAnew = async () => {
    await show(0, longMs + wait)
    return (await read()).xyz[1]
  }
  // What stood there before black was first read has gone by then, unless this display is nearly too slow for that.
  const black = wait < longMs / 4 ? seen.black : await blackAnew()
  /** White that is left in black after a wait: its share, and ms of it; what can be told at least. */
  const lookAfter = async (waitMs: number) => {
    await show(1, longMs)
    await show(0, waitMs)
    const { xyz, ms } = await read()
    const share = (xyz[1] - black) / (white - black)
    return { share, left: Math.max(told, share) * ms }
  }
  const first = await lookAfter(wait)
  if (first.share <= told) return wait
  const later = wait + Math.max(20, growth * wait)
  const { left } = await lookAfter(later)
  // Where it has not become less, it is not what is left of white.
  if (left >= first.left) return later
  const tau = (later - wait) / Math.log(first.left / left)
  return later + Math.max(0, Math.min(tau, slowest(later, left)) * Math.log(left / trace))
}

/** The longest time constant, ms, by which light that began to go out at once has so many ms of it left after a wait. */
function slowest(wait: number, left: number): number {
  let tau = wait
  for (let i = 0; i < 20; i++) tau = wait / Math.log(Math.max(Math.E, tau / left))
  return tau
}
