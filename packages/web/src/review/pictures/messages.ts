import type { ResolvedAim } from '@bichroma/core/aims'
import type { PatchReading } from '@bichroma/core/color'
import type { TestPicture } from '@bichroma/core/review'

/** How a picture can be shown. */
export type ShownState = 'before' | 'after' | 'aim'

/** The whole picture as large as fits, or its pixels one to one around a place (shares of width and height). */
export type Look = { readonly kind: 'whole' } | { readonly kind: 'pixels'; readonly x: number; readonly y: number }

/** What the page asks of the picture worker. */
export type PictureRequest =
  | {
      readonly kind: 'open'
      readonly surfaces: Readonly<Record<'left' | 'right' | 'map', OffscreenCanvas>>
      readonly aim: ResolvedAim
      readonly after: readonly PatchReading[]
      readonly before: readonly PatchReading[] | null
    }
  | {
      readonly kind: 'show'
      /** Counts requests: answers to older ones are of no interest. */
      readonly turn: number
      readonly picture: { readonly test: TestPicture } | { readonly file: File }
      readonly left: ShownState
      readonly right: ShownState
      readonly look: Look
      /** Of the surfaces, pixels. */
      readonly width: number
      readonly height: number
    }

/** What it answers. */
export type PictureAnswer =
  | { readonly kind: 'progress'; readonly turn: number; readonly share: number; readonly doing: string }
  | {
      readonly kind: 'shown'
      readonly turn: number
      /** Of the picture. */
      readonly width: number
      readonly height: number
      readonly tookMs: number
      /** ΔE2000 between the two sides over what is shown of it. */
      readonly average: number
      readonly percentile95: number
      /** ΔE2000 from which the map is at its strongest. */
      readonly strongest: number
    }
  | { readonly kind: 'failed'; readonly turn: number; readonly sentence: string }
