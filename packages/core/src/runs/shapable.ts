import type { Aim } from '../aims/aim'

/**
 * Why a full run cannot make an aim yet; null when it can. Its tables shape light above the panel's own black, channel by
 * channel, which neither a lifted black nor a tone response that looks at the whole colour or at cd/m² allows.
 */
export function whyNotShapable({ black, toneResponse }: Aim): string | null {
  if (black && black.kind !== 'panel')
    return 'A full run cannot lift the black yet. Choose an aim whose black is the panel’s own.'
  if (toneResponse.kind === 'PQ' || toneResponse.kind === 'HLG')
    return `A full run cannot make ${toneResponse.kind} yet. Choose an aim with a power, sRGB, L* or BT.1886 tone response.`
  return null
}
