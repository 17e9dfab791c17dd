import type { Triple } from '@bichroma/core/color'
import type { PanelTraits } from './panelSchema'

/** A place on the screen: −1 to 1 from left to right and from bottom to top; 0 0 is the centre. */
export interface Place {
  readonly x: number
  readonly y: number
}

export const centre: Place = { x: 0, y: 0 }

/** What the channels' light is at a place, relative to the centre: a smooth field that falls towards the corners. */
export function surfaceFactors({ surface }: PanelTraits, { x, y }: Place): Triple {
  const all = 1 - (surface.falloff * (x * x + y * y)) / 2 + surface.leanX * x + surface.leanY * y
  return [all, all, all * (1 - (surface.tint * y) / 2)]
}
