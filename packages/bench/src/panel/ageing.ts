import type { Triple } from '@bichroma/core/color'
import { normalOf } from '../random'
import type { PanelTraits } from './panelSchema'

/** What time has done to a panel: factors on each channel's light, and on its exponents what is added. */
export interface Wear {
  readonly light: Triple
  readonly exponents: Triple
}

const each = (f: (c: 0 | 1 | 2) => number): Triple => [f(0), f(1), f(2)]

/** Phosphors, emitters and filters lose light exponentially with hours of use; tone drifts in proportion. */
export const wearAfter = ({ time: { ageing } }: PanelTraits, hours: number): Wear => ({
  light: each((c) => Math.exp((-ageing.light[c] * hours) / 1000)),
  exponents: each((c) => (ageing.tone[c] * hours) / 1000),
})

/** After switching on, light and blue come up exponentially, each with a time of its own. */
export function warmth({ time: { warmUp } }: PanelTraits, minutes: number): Triple {
  const all = 1 - warmUp.luminanceShort * Math.exp(-minutes / warmUp.luminanceMinutes)
  return [all, all, all * (1 - warmUp.blueShort * Math.exp(-minutes / warmUp.blueMinutes))]
}

const day = 86_400_000

/**
 * The panel's mood: temperature and supply of the day move its light a little. One normal number a day for all light and
 * one for blue, straight from midnight to midnight. `at`: ms since 1970.
 */
export function wanderOn({ time: { wander } }: PanelTraits, seed: number, at: number): Triple {
  const today = Math.floor(at / day)
  const t = at / day - today
  const mood = (what: string) => normalOf(seed, what, today) * (1 - t) + normalOf(seed, what, today + 1) * t
  const all = 1 + wander.luminance * mood('light')
  return [all, all, all * (1 + wander.blue * mood('blue'))]
}
