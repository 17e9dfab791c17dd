import type { RunContext } from './context/runContext'
import { RunFailed } from './context/runErrors'

/** Shares of the screen that a patch may fill, the usual one first; each is held against the next. */
const areas = [0.1, 0.05, 0.025, 0.0125] as const
/** By how much white may differ between two areas, as a share, where light does not depend on area. */
const sameShare = 0.01

/** How often hands may be asked for before white counts as unsteady. */
const mostAsks = 3

/** The share that patches may fill, null for the usual; `limits` where light depended on area at the smallest too. */
interface Area {
  readonly area: number | null
  readonly limits: boolean
}

/**
 * The share of the screen that patches may fill without the display limiting its light by how much of it is bright: white is
 * read at one area and at half of it, until it is the same at both. Where it is not, both are read again: what has changed
 * at one and the same area, `moved` as a share, did not do so for its size.
 */
async function lookAtAreas(
  { steps, instrument, readings }: RunContext,
  key: string,
): Promise<Area | { readonly moved: number }> {
  return steps.take(key, async (send) => {
    const white = async (area: number) => {
      const looking = { instrument: instrument.serial, rgb: [1, 1, 1], area, waitMs: readings.delayMs }
      return (await send('display.readPatch', looking)).xyz[1]
    }
    const same = (a: number, b: number) => Math.abs(a - b) <= sameShare * Math.max(a, b)
    let before = await white(areas[0])
    for (const [i, area] of areas.slice(1).entries()) {
      let now = await white(area)
      if (!same(now, before)) {
        const again = await white(areas[i])
        if (!same(again, before)) return { moved: again / before - 1 }
        // One odd reading is a misread.
        now = await white(area)
      }
      if (same(now, before)) return { area: i === 0 ? null : areas[i], limits: false }
      before = now
    }
    return { area: areas[areas.length - 1], limits: true }
  })
}

/** The same, with hands asked for where white moves by itself; throws RunFailed where it goes on. */
async function findArea(context: RunContext): Promise<Area> {
  for (let n = 1; ; n++) {
    const found = await lookAtAreas(context, n === 1 ? 'area' : `area ${n}`)
    if (!('moved' in found)) return found
    const moved = `White moved by ${found.moved > 0 ? '+' : '−'}${Math.abs(100 * found.moved).toFixed(1)} % while nothing on the screen changed`
    if (n > mostAsks)
      throw new RunFailed(`${moved}, time and again. See that nothing dims the display, and start again.`)
    await context.askHands(
      `area, seat ${n}`,
      'seat',
      `${moved}: the instrument was knocked, or room light gets under it. Seat it flat on the centre of ${context.display.name}, then press “Go on”.`,
    )
  }
}

/** Lets patches fill no more of the screen than leaves the display's light alone, and says so where that is not the usual. */
export async function keepToArea(context: RunContext): Promise<void> {
  const { area, limits } = await findArea(context)
  if (area === null) return
  context.readings.area = area
  const share = `${(100 * area).toFixed(area < 0.02 ? 2 : 1)} %`
  await context.sheet.remark(
    limits
      ? `The display’s light depends on how much of the screen is bright, down to ${share} of it: look for automatic limiting, energy saving or dynamic contrast in its menu. Patches fill ${share}`
      : `The display’s light depends on how much of the screen is bright; patches fill ${share} of it, where it does not`,
  )
}
