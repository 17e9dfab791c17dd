import {
  characterize,
  characterizeThrough,
  characterizeTogether,
  fitMatrixModel,
  predictLab,
  type Characterization,
} from '@bichroma/core/characterization'
import { convertXyzToLab, deltaE2000, type PatchReading } from '@bichroma/core/color'
import { writeMatrixProfile, writeTableProfile } from '@bichroma/core/profiles'
import type { SlotTables } from '@bichroma/core/tables'
import type { ProfilePolicy } from '@bichroma/contract'

type Facts = Parameters<typeof writeMatrixProfile>[1]

/** What is known of a slot besides what was read of it: the raw panel by its drives, and the slot's tables. */
interface Behind {
  readonly panel: readonly PatchReading[]
  readonly tables: SlotTables
  /** Whether the panel was read in the same run as the slot. */
  readonly sameRun: boolean
}

/** What a profile describes the display by: the panel as Shape knew it, through the slot's tables; or readings of the slot alone. */
export type DescribedBy = 'panel and tables' | 'readings'

/** ΔE2000 on average by which what lies behind a slot may miss what was read of it, to be taken for what lies behind it. */
const mostMissed = 1

/** What lies behind a slot, brought to readings of it; null where it does not explain them: the panel is another, or its tables are. */
function seenThrough({ panel, tables, sameRun }: Behind, readings: readonly PatchReading[]): Characterization | null {
  let seen: Characterization
  try {
    seen = sameRun
      ? characterizeTogether(panel, tables, readings)
      : characterizeThrough(characterize(panel), tables, readings)
  } catch {
    return null
  }
  const missed = readings.map(({ rgb, xyz }) => deltaE2000(convertXyzToLab(xyz, seen.white), predictLab(seen, rgb)))
  const average = missed.reduce((sum, v) => sum + v, 0) / missed.length
  return average <= mostMissed ? seen : null
}

/**
 * The bytes of a profile: a matrix from readings of the slot; or tables, from what lies `behind` the slot where that
 * explains them, else from them alone. Tables take a second or two.
 */
export function profileBytes(
  kind: ProfilePolicy['kind'],
  readings: readonly PatchReading[],
  facts: Facts,
  behind: Behind | null,
): { bytes: Uint8Array; by: DescribedBy } {
  const model = fitMatrixModel(readings)
  if (kind !== 'table') return { bytes: writeMatrixProfile(model, facts), by: 'readings' }
  const seen = behind && seenThrough(behind, readings)
  return {
    bytes: writeTableProfile(seen ?? characterize(readings), model, facts),
    by: seen ? 'panel and tables' : 'readings',
  }
}
