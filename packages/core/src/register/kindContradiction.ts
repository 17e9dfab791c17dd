import { convertXyzToUv } from '../color/chromaticity'
import type { FourColors } from './fourColorMatrix'
import { panelKindNames, panelKinds, type PanelKind } from './panelKinds'

/** u′ of red and green light as panels of a kind have it: typical of the technology. */
const typical: Readonly<Record<PanelKind, { readonly red: number; readonly green: number }>> = {
  'white-led': { red: 0.462, green: 0.128 },
  'wide-gamut-led': { red: 0.485, green: 0.08 },
  'rgb-led': { red: 0.56, green: 0.048 },
  'quantum-dot': { red: 0.528, green: 0.073 },
  'cold-cathode': { red: 0.428, green: 0.11 },
  oled: { red: 0.496, green: 0.06 },
  'oled-white': { red: 0.472, green: 0.11 },
  'projector-lamp': { red: 0.45, green: 0.08 },
}
/** How far panels of one kind are from it, u′: peaks that lie some 5 nm elsewhere, and what a correction leaves. */
const spread = { red: 0.036, green: 0.027 }

/** Luminance of red, green and blue together as a share of white's: below the first white has a subpixel of its own, above the second it has none. */
const together = { subpixel: 0.85, none: 0.97 }
/** Kinds whose white may be brighter than their primaries together. */
const brighterWhite: readonly PanelKind[] = ['oled-white', 'projector-lamp']

/** What the colours of a panel say against its being of a kind; null where nothing does. */
function against({ white, red, green, blue }: FourColors, kind: PanelKind): string | null {
  const sum = (red[1] + green[1] + blue[1]) / white[1]
  if (sum < together.subpixel && !brighterWhite.includes(kind))
    return `its white is brighter than its red, green and blue together (${(100 / sum - 100).toFixed(0)} %)`
  if (sum > together.none && kind === 'oled-white')
    return 'its white is no brighter than its red, green and blue together'
  for (const [name, xyz] of [
    ['red', red],
    ['green', green],
  ] as const) {
    const { u } = convertXyzToUv(xyz)
    const [low, high] = [typical[kind][name] - spread[name], typical[kind][name] + spread[name]]
    if (u < low || u > high)
      return `its ${name} lies at u′ ${u.toFixed(3)}, where such panels have ${low.toFixed(2)} to ${high.toFixed(2)}`
  }
  return null
}

/**
 * Whether a panel’s own white and primaries (cd/m², tables bypassed) contradict the kind that it is registered as: a
 * sentence that says why and what it may be, null where they do not. Throws RangeError for a primary without light.
 */
export function kindContradiction(colors: FourColors, kind: PanelKind): string | null {
  const why = against(colors, kind)
  if (!why) return null
  const fitting = panelKindNames.filter((k) => !against(colors, k)).map((k) => panelKinds[k])
  const maybe = fitting.length ? `It may be ${fitting.join(' or ')}` : 'It is like no kind that is known here'
  return `Registered as ${panelKinds[kind]}, but ${why}. ${maybe}`
}
