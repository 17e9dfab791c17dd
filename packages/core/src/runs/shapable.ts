import type { Aim } from '../aims/aim'
import type { PipelineShape } from '../tables/pipelineShape'

/** What a display allows: the gamuts that its firmware takes, and what its slots hold; null where it is not known. */
export interface Shapable {
  readonly gamutTargets: 'any' | 'panel' | null
  readonly holds: PipelineShape['kind'] | null
}

/**
 * Why a full run cannot make an aim on a display; null when it can. Old firmware may take the panel's own gamut only.
 * Tables per channel shape light above the panel's own black, which a lifted black does not allow; a 3D table can lift it.
 * Neither is made yet of a tone response that tells cd/m² or looks at the whole colour.
 */
export function whyNotShapable(
  { black, toneResponse, primaries }: Aim,
  { gamutTargets, holds }: Shapable,
): string | null {
  if (gamutTargets === 'panel' && primaries.kind !== 'panel')
    return 'The firmware of this display takes only its full panel gamut. Choose an aim with the panel’s own primaries.'
  if (black && black.kind !== 'panel' && (holds === '1D' || holds === '1D+3x3'))
    return 'This display holds no 3D table, and only that can lift the black. Choose an aim whose black is the panel’s own.'
  if (toneResponse.kind === 'PQ' || toneResponse.kind === 'HLG')
    return `A full run cannot make ${toneResponse.kind} yet. Choose an aim with a power, sRGB, L* or BT.1886 tone response.`
  return null
}
