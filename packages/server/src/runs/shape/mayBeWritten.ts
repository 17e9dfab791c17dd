import { shapeFault } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/**
 * The gate before Load: what was solved is written only if its last round of greys (ΔE2000 to the aim) is better than the
 * panel without it. Throws RunFailed with what to suspect; nothing has been written then.
 */
export function mayBeWritten({ run }: RunContext, greys: readonly number[]): void {
  const raw = run.baseline?.averageDeltaE ?? null
  const fault = shapeFault(greys, raw)
  if (!fault) return
  const found =
    fault === 'not finite'
      ? 'What was solved is no number on some greys'
      : `The greys that were solved miss the aim by ${mean(greys).toFixed(1)} ΔE on average${raw === null ? '' : `, the raw panel by ${raw.toFixed(1)}`}`
  throw new RunFailed(
    `${found}, so it was not written. Something changes the light between readings that no table can know: look in the display’s own menu for dynamic contrast, energy saving, local dimming or an ambient sensor, see that its input range is that of the workstation, that nobody turned its gains, and that the instrument lay still. Then start anew.`,
  )
}
