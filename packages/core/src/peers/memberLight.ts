import { scale } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { LevelTry, RawCorners } from '../runs/level'

/** What a run saw of a display's raw light. */
export interface LightSeen {
  readonly corners: RawCorners
  /** Setting of the brightness at which its corners were read, and the highest that there is. */
  readonly control: number
  readonly most: number
  /** White at other settings, as Level and Baseline read it. */
  readonly whites: readonly LevelTry[]
}

/** A display's raw corners at full backlight. */
export interface LightAtMost {
  readonly corners: RawCorners
  /** `read`: white was read at the highest setting; `reckoned`: from one that was, by how it reads lower settings since. */
  readonly by: 'read' | 'reckoned'
}

const settingsOf = ({ corners, control, whites }: LightSeen): LevelTry[] => [
  { control, luminance: corners.white[1] },
  ...whites,
]

/** White at a setting by readings at others: on the line between its neighbours; null outside of them. */
function whiteAt(tries: readonly LevelTry[], control: number): number | null {
  const known = [...tries].sort((a, b) => a.control - b.control)
  const above = known.findIndex((t) => t.control >= control)
  if (above < 0) return null
  const to = known[above]
  if (to.control === control) return to.luminance
  if (above === 0) return null
  const from = known[above - 1]
  return from.luminance + ((control - from.control) / (to.control - from.control)) * (to.luminance - from.luminance)
}

/**
 * A display's corners at full backlight, by what its runs saw, newest first. The newest says how bright it is now; where
 * that was not at its highest setting, a run that read both tells how much brighter the highest is. Everything but black of
 * a display whose black does not follow (`blackFollows` false) goes up with white. Null where nothing tells.
 */
export function lightAtMost(seen: readonly LightSeen[], blackFollows: boolean): LightAtMost | null {
  const [newest] = seen
  if (!newest) return null
  const now = settingsOf(newest)
  const brightest = now.find((t) => t.control === newest.most)
  if (brightest) return { corners: brighter(newest.corners, brightest.luminance, blackFollows), by: 'read' }
  for (const run of seen.slice(1)) {
    if (run.most !== newest.most) continue
    const then = settingsOf(run)
    const most = whiteAt(then, run.most)
    if (most === null) continue
    // Of what the newest read, the highest setting that the other tells of as well.
    for (const { control, luminance } of [...now].sort((a, b) => b.control - a.control)) {
      const same = whiteAt(then, control)
      if (same !== null && same > 0)
        return { corners: brighter(newest.corners, (most * luminance) / same, blackFollows), by: 'reckoned' }
    }
  }
  return null
}

function brighter(corners: RawCorners, luminance: number, blackFollows: boolean): RawCorners {
  const times = luminance / corners.white[1]
  const black = blackFollows ? scale(corners.black, times) : corners.black
  const of = (xyz: XYZ): XYZ => [0, 1, 2].map((k) => black[k] + times * (xyz[k] - corners.black[k])) as unknown as XYZ
  return { white: of(corners.white), black, red: of(corners.red), green: of(corners.green), blue: of(corners.blue) }
}
