import { fileURLToPath } from 'node:url'
import { deltaE2000, type Lab, type Triple } from '@bichroma/core/color'
import { adaptLab } from '@bichroma/core/gamut'
import { profileTransforms, readIccProfile } from '@bichroma/core/profiles'
import { runLittleCms } from '../../packages/core/src/test/runLittleCms'
import { serials, type OneDisplayStudio } from './oneDisplayStudio'
import { unseenPatches } from './truthOf'

/** Colours by which a profile is judged. */
const judgedColors = 300

export interface ErrorOfColors {
  readonly averageDeltaE: number
  readonly worstDeltaE: number
}

const errorOf = (errors: readonly number[]): ErrorOfColors => ({
  averageDeltaE: errors.reduce((a, b) => a + b, 0) / errors.length,
  worstDeltaE: Math.max(...errors),
})

const bytesOf = async ({ client }: OneDisplayStudio, runId: number): Promise<Uint8Array> =>
  new Uint8Array(await (await client.raw('GET', `/runs/${runId}/profile`)).arrayBuffer())

/** Signals that no run read, and what the display truly shows of them, CIELAB under D50. */
function unseenColors({ bench }: OneDisplayStudio, seed: number, bits: number): { patches: Triple[]; shown: Lab[] } {
  const [white] = bench.truth(serials.display, [[1, 1, 1]])
  const patches = unseenPatches(judgedColors, seed + 1000, bits)
  return { patches, shown: bench.truth(serials.display, patches).map(adaptLab(white)) }
}

/** How far a run's profile is from what the display truly shows, on signals that no run read (ΔE2000 under D50). */
export async function profileError(
  studio: OneDisplayStudio,
  runId: number,
  seed: number,
  bits: number,
): Promise<ErrorOfColors> {
  const { toLab } = profileTransforms(readIccProfile(await bytesOf(studio, runId)))
  const { patches, shown } = unseenColors(studio, seed, bits)
  return errorOf(patches.map((rgb, i) => deltaE2000(shown[i], toLab(rgb))))
}

const littleCms = fileURLToPath(new URL('../../packages/core/src/test/littleCmsProcess.mjs', import.meta.url))
const clamp = (v: number) => Math.min(1, Math.max(0, v))

/**
 * The same as Little CMS evaluates the profile, and how far a colour that the display shows is from itself once it has
 * been sent back to a signal and shown.
 */
export async function profileByLittleCms(
  studio: OneDisplayStudio,
  runId: number,
  seed: number,
  bits: number,
): Promise<{ there: ErrorOfColors; back: ErrorOfColors }> {
  const profile = await bytesOf(studio, runId)
  const { patches, shown } = unseenColors(studio, seed, bits)
  const { lab } = runLittleCms(littleCms, profile, { rgb: patches })
  const { signal } = runLittleCms(littleCms, profile, { lab })
  const sent = signal.map((s) => s.map(clamp) as unknown as Triple)
  const again = runLittleCms(littleCms, profile, { rgb: sent }).lab
  return {
    there: errorOf(lab.map((l, i) => deltaE2000(shown[i], l))),
    back: errorOf(lab.map((l, i) => deltaE2000(l, again[i]))),
  }
}
