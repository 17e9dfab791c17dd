import { characterize, fitMatrixModel } from '@bichroma/core/characterization'
import type { PatchReading } from '@bichroma/core/color'
import { writeMatrixProfile, writeTableProfile } from '@bichroma/core/profiles'
import type { ProfilePolicy } from '@bichroma/contract'

type Facts = Parameters<typeof writeMatrixProfile>[1]

/** The bytes of a profile from readings: a matrix, or tables from a characterization, which takes a second or more. */
export function profileBytes(kind: ProfilePolicy['kind'], readings: readonly PatchReading[], facts: Facts): Uint8Array {
  const model = fitMatrixModel(readings)
  return kind === 'table' ? writeTableProfile(characterize(readings), model, facts) : writeMatrixProfile(model, facts)
}
