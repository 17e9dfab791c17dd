import type { ResolvedAim } from '@bichroma/core/aims'
import type { RawCorners } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'
import { resolveFor } from '../stages/baseline'

/** Average ΔE2000 that an aim may be missed by at best for it to be tried. */
const mostMiss = 3

/**
 * Says before it is tried what a matrix can do of an aim on a panel whose white subpixel helps white alone. Throws
 * RunFailed where that is too little; nothing has been written then.
 */
export async function matrixMayReach(context: RunContext, aim: ResolvedAim, corners: RawCorners): Promise<void> {
  const { solver } = context.services
  const miss = await solver.run('matrixReach', { aim, corners })
  const why = 'A white subpixel helps white and not the colours, which no matrix can undo'
  if (miss <= mostMiss) {
    await context.sheet.remark(`${why}: at best the aim is missed by about ${miss.toFixed(1)} ΔE on average`)
    return
  }
  const own = resolveFor({ ...context.run.aim, white: { kind: 'panel' } }, corners)
  const missOfOwn = await solver.run('matrixReach', { aim: own, corners })
  const way =
    missOfOwn <= mostMiss
      ? `With the panel’s own white it would be about ${missOfOwn.toFixed(1)}: choose an aim with that.`
      : 'Choose an aim of less saturated colours, or a display that holds a 3D table.'
  throw new RunFailed(
    `${why}: at best this aim would be missed by about ${miss.toFixed(1)} ΔE on average, so it was not tried. ${way}`,
  )
}
