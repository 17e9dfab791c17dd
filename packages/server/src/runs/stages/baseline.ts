import { computeMetrics, judge, resolveAim, whiteChromaticity, type Aim, type ResolvedAim } from '@bichroma/core/aims'
import { convertXyzToChromaticity, type PatchReading } from '@bichroma/core/color'
import type { LightSeen } from '@bichroma/core/peers'
import { baselinePatchesOf, headroomFor, primariesOfCorners, type Headroom, type RawCorners } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'

/** The five corner readings among a set. */
export function cornersOf(readings: readonly PatchReading[]): RawCorners {
  const find = (name: string) => readings.find((r) => r.name === name)!.xyz
  return { white: find('White'), black: find('Black'), red: find('Red'), green: find('Green'), blue: find('Blue') }
}

/** An aim filled in for a panel with these corners. Throws {@link RunFailed} when it makes no sense there. */
export function resolveFor(aim: Aim, corners: RawCorners): ResolvedAim {
  try {
    return resolveAim(aim, {
      white: convertXyzToChromaticity(corners.white),
      primaries: primariesOfCorners(corners),
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

/** What correcting the panel's white will cost. Throws {@link RunFailed} for a white that the panel cannot mix. */
export function headroomOf({ run }: RunContext, corners: RawCorners): Headroom {
  try {
    const white = whiteChromaticity(run.aim.white, convertXyzToChromaticity(corners.white))
    return headroomFor(corners, white, resolveFor(run.aim, corners).primaries)
  } catch (error) {
    if (error instanceof RangeError) throw new RunFailed(error.message)
    throw error
  }
}

/**
 * What the corners say of the display's light. A run that only looks at the raw panel reads white at the highest setting as
 * well, where the display obeys commands, and puts the brightness back: what a peer set can have in common follows from it.
 */
async function lightSeen(context: RunContext, corners: RawCorners): Promise<LightSeen> {
  const { range, by } = await context.steps.take('range of brightness', async () => ({
    range: context.link.facts.backlight,
    by: context.link.facts.brightnessBy,
  }))
  // Hands may have turned it since Ready looked.
  const { backlight: control } = await context.steps.take('brightness of baseline', (send) =>
    send('display.getControls', {}),
  )
  const seen = { corners, control, most: range.max, whites: [] }
  if (context.run.kind !== 'baseline' || by === 'hands' || control >= range.max) return seen
  await context.want('all the light', { backlight: range.max })
  const { xyz } = await context.readings.read('White at its brightest', [1, 1, 1])
  await context.want('brightness as it was', { backlight: control })
  return { ...seen, whites: [{ control: range.max, luminance: xyz[1] }] }
}

/** Baseline: the panel as it is with its tables bypassed, judged. A refresh reads no more than its corners. */
export async function baseline(context: RunContext): Promise<RawCorners> {
  await context.want('bypass tables', { pipeline: 'bypass' })
  const readings: PatchReading[] = []
  for (const patch of baselinePatchesOf(context.run.kind))
    readings.push({ name: patch.name, ...(await context.readings.read(patch.name, patch.rgb)) })
  const corners = cornersOf(readings)
  context.light = await lightSeen(context, corners)
  const aim = resolveFor(context.run.aim, corners)
  const metrics = computeMetrics(readings, aim)
  const judgement = judge(metrics, context.run.limits)
  await context.save({
    baseline: metrics,
    resolvedAim: aim,
    ...(context.run.kind === 'baseline' && { metrics, judgement }),
  })
  const kelvin = metrics.whiteTemperature
  await context.sheet.note({
    endedAt: context.now(),
    evidence: [
      `${readings.length} readings, tables bypassed: the raw panel, not the picture it showed`,
      `Average ${metrics.averageDeltaE.toFixed(2)} ΔE, white ${kelvin ? `${(Math.round(kelvin / 10) * 10).toLocaleString('en')} K` : 'far from any temperature'}: ${
        { within: 'within the limits', near: 'near the edge', untold: 'not to be told', outside: 'outside the limits' }[
          judgement.verdict
        ]
      }`,
    ],
  })
  return corners
}
