import type { Triple, XYZ } from '@bichroma/core/color'
import { correctReading, withoutOffset, type ReadsMore } from '@bichroma/core/register'
import type { Correction } from '@bichroma/contract'
import type { InstrumentRow } from '../../register/entities'
import { RunFailed } from './runErrors'
import type { Send } from './send'

/** The instrument's cover was found closed in the middle of a run. */
export class CoverClosed extends Error {}

/** Looks at a patch whose light did not hold still, before the reading is taken as it is. */
const mostLooks = 3
/** What is added to the wait for a patch when its light did not hold still, ms. */
const longerWaitMs = 150

/** How a patch is read: with which instrument, which correction, after which wait (ms), and over which share of the screen. */
interface Looking {
  readonly instrument: InstrumentRow
  readonly correction: Correction | null
  /** What the instrument reads more, where that is taken into account. */
  readonly readsMore: ReadsMore | null
  readonly waitMs: number
  /** What the courier thinks right unless given. */
  readonly area?: number
}

/**
 * Shows a patch, waits for its light, reads it, and corrects the reading; again with a longer wait if it did not hold
 * still. XYZ in cd/m². Throws {@link CoverClosed}, and {@link RunFailed} for light that is too bright for the instrument.
 */
export async function lookAtPatch(
  send: Send,
  shown: Triple,
  { instrument, correction, readsMore, waitMs, area }: Looking,
): Promise<{ xyz: XYZ; looks: number }> {
  for (let looks = 1; ; looks++) {
    const value = await send('display.readPatch', {
      instrument: instrument.serial,
      rgb: [...shown],
      waitMs: waitMs + (looks - 1) * longerWaitMs,
      ...(area !== undefined && { area }),
      ...(correction?.kind === 'own' && { correction: correction.panelKind }),
    })
    if (value.flags.includes('cover')) throw new CoverClosed()
    if (value.flags.includes('saturated'))
      throw new RunFailed(
        `The display is too bright for ${instrument.model} ${instrument.serial}. Take another instrument, or turn the display down.`,
      )
    if (value.flags.includes('unstable') && looks < mostLooks) continue
    const xyz = value.xyz as unknown as XYZ
    const corrected = correction?.kind === 'made' ? correctReading(correction, xyz) : xyz
    return { xyz: readsMore ? withoutOffset(readsMore)(corrected) : corrected, looks }
  }
}
