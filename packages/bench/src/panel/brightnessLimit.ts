import type { Triple } from '@bichroma/core/color'
import type { PanelTraits } from './panelSchema'

/** Shares of red, green and blue in a panel's power, roughly. */
const power: Triple = [0.34, 0.33, 0.33]

/** What is left of the light when a patch of `light` (0–1 per channel) fills `area` of the screen, black around it. */
export function limitFactor({ brightnessLimit }: PanelTraits, light: Triple, area: number): number {
  if (!brightnessLimit) return 1
  const mean = area * (power[0] * light[0] + power[1] * light[1] + power[2] * light[2])
  return mean <= brightnessLimit.meanLight ? 1 : (brightnessLimit.meanLight / mean) ** brightnessLimit.exponent
}
