import {
  baselinePatches,
  computeMetrics,
  convertXyzToChromaticity,
  headroomFor,
  judge,
  resolveAim,
  subtract,
  whiteChromaticity,
  type Aim,
  type Headroom,
  type PatchReading,
  type RawCorners,
  type ResolvedAim,
} from '@bichroma/core'
import { RunFailed, type RunContext } from '../runContext'

/** The five corner readings among a set. */
export function cornersOf(readings: readonly PatchReading[]): RawCorners {
  const find = (name: string) => readings.find((r) => r.name === name)!.xyz
  return { white: find('White'), black: find('Black'), red: find('Red'), green: find('Green'), blue: find('Blue') }
}

/** An aim filled in for a panel with these corners. Throws {@link RunFailed} when it makes no sense there. */
export function resolveFor(aim: Aim, corners: RawCorners): ResolvedAim {
  const above = (xyz: RawCorners['red']) => convertXyzToChromaticity(subtract(xyz, corners.black))
  try {
    return resolveAim(aim, {
      white: convertXyzToChromaticity(corners.white),
      primaries: { red: above(corners.red), green: above(corners.green), blue: above(corners.blue) },
      black: corners.black,
    })
  } catch (error) {
    if (error instanceof RangeError)
      throw new RunFailed(
        `The readings do not make a display: ${error.message} See that the instrument lies on this display.`,
      )
    throw error
  }
}

/** Baseline: the panel as it is with its tables bypassed, judged; and what correcting its white will cost. */
export async function baseline(context: RunContext): Promise<Headroom> {
  await context.want('bypass tables', { pipeline: 'bypass' })
  const readings: PatchReading[] = []
  for (const patch of baselinePatches)
    readings.push({ name: patch.name, ...(await context.read(patch.name, patch.rgb)) })
  const corners = cornersOf(readings)
  const aim = resolveFor(context.run.aim, corners)
  const metrics = computeMetrics(readings, aim)
  const judgement = judge(metrics, context.run.limits)
  let headroom: Headroom
  try {
    headroom = headroomFor(corners, whiteChromaticity(context.run.aim.white, metrics.white))
  } catch (error) {
    if (error instanceof RangeError) throw new RunFailed(error.message)
    throw error
  }
  await context.save({ baseline: metrics, resolvedAim: aim })
  const kelvin = metrics.whiteTemperature
  await context.note({
    endedAt: context.services.now(),
    evidence: [
      `${readings.length} readings, tables bypassed: the raw panel, not the picture it showed`,
      `Average ${metrics.averageDeltaE.toFixed(2)} ΔE, white ${kelvin ? `${(Math.round(kelvin / 10) * 10).toLocaleString('en')} K` : 'far from any temperature'}: ${
        { within: 'within the limits', near: 'near the edge', outside: 'outside the limits' }[judgement.verdict]
      }`,
    ],
  })
  return headroom
}
