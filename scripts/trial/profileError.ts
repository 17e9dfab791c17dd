import { deltaE2000, type Triple } from '@bichroma/core/color'
import { adaptLab } from '@bichroma/core/gamut'
import { profileTransforms, readIccProfile } from '@bichroma/core/profiles'
import { serials, type OneDisplayStudio } from './oneDisplayStudio'
import { unseenPatches } from './truthOf'

/** How far a run's profile is from what the display truly shows, on signals that no run read (ΔE2000 under D50). */
export async function profileError(studio: OneDisplayStudio, runId: number, seed: number, bits: number) {
  const response = await studio.client.raw('GET', `/runs/${runId}/profile`)
  const { toLab } = profileTransforms(readIccProfile(new Uint8Array(await response.arrayBuffer())))
  const [white] = studio.bench.truth(serials.display, [[1, 1, 1]])
  const seen = adaptLab(white)
  const patches: Triple[] = unseenPatches(300, seed + 1000, bits)
  const shown = studio.bench.truth(serials.display, patches)
  const errors = patches.map((rgb, i) => deltaE2000(seen(shown[i]), toLab(rgb)))
  return { averageDeltaE: errors.reduce((a, b) => a + b, 0) / errors.length, worstDeltaE: Math.max(...errors) }
}
