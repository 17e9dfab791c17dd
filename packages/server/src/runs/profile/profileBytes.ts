import { characterize, characterizeThrough, fitMatrixModel } from '@bichroma/core/characterization'
import type { PatchReading } from '@bichroma/core/color'
import { writeMatrixProfile, writeTableProfile } from '@bichroma/core/profiles'
import type { SlotTables } from '@bichroma/core/tables'
import type { ProfilePolicy } from '@bichroma/contract'

type Facts = Parameters<typeof writeMatrixProfile>[1]

/** What is known of a slot besides what was read of it: the raw panel by its drives, and the slot's tables. */
interface Behind {
  readonly panel: readonly PatchReading[]
  readonly tables: SlotTables
}

/**
 * The bytes of a profile: a matrix from readings of the slot; or tables, from what lies `behind` the slot, brought to
 * those readings, or from them alone. Tables take a second or two.
 */
export function profileBytes(
  kind: ProfilePolicy['kind'],
  readings: readonly PatchReading[],
  facts: Facts,
  behind: Behind | null,
): Uint8Array {
  const model = fitMatrixModel(readings)
  if (kind !== 'table') return writeMatrixProfile(model, facts)
  const seen = behind
    ? characterizeThrough(characterize(behind.panel), behind.tables, readings)
    : characterize(readings)
  return writeTableProfile(seen, model, facts)
}
