import type { Aim } from '../aims/aim'

/**
 * Why a full run cannot make an aim on a display; null when it can. Old firmware may take the panel's own gamut only. Its tables shape light above the panel's own black, channel by
 * channel, which neither a lifted black nor a tone response that looks at the whole colour or at cd/m² allows.
 */
export function whyNotShapable(
  { black, toneResponse, primaries }: Aim,
  gamutTargets: 'any' | 'panel' = 'any',
): string | null {
  if (gamutTargets === 'panel' && primaries.kind !== 'panel')
    return 'The firmware of this display takes only its full panel gamut. Choose an aim with the panel’s own primaries.'
  if (black && black.kind !== 'panel')
    return 'A full run cannot lift the black yet. Choose an aim whose black is the panel’s own.'
  if (toneResponse.kind === 'PQ' || toneResponse.kind === 'HLG')
    return `A full run cannot make ${toneResponse.kind} yet. Choose an aim with a power, sRGB, L* or BT.1886 tone response.`
  return null
}
