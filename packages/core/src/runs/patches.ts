import type { Triple } from '../color/matrix3'
import { placeName, screenCentre, uniformityPlaces } from './uniformity'
import type { RunKind } from './stages'

/** A colour to show: its name and its signal, 0–1. */
export interface Patch {
  readonly name: string
  readonly rgb: Triple
}

/** A grey at a signal. */
export const greyPatch = (v: number): Patch => ({ name: `Grey ${Number((v * 100).toFixed(1))} %`, rgb: [v, v, v] })

export const white: Patch = { name: 'White', rgb: [1, 1, 1] }
export const black: Patch = { name: 'Black', rgb: [0, 0, 0] }

const hues: readonly Patch[] = [
  { name: 'Red', rgb: [1, 0, 0] },
  { name: 'Green', rgb: [0, 1, 0] },
  { name: 'Blue', rgb: [0, 0, 1] },
  { name: 'Cyan', rgb: [0, 1, 1] },
  { name: 'Magenta', rgb: [1, 0, 1] },
  { name: 'Yellow', rgb: [1, 1, 0] },
]

/** Red, green, blue, cyan, magenta, yellow at full signal. */
export const primariesAndSecondaries = hues

/** A hue mixed with grey: `high` where the hue has signal, `low` where it has none. */
const tint = (hue: Patch, high: number, low: number): Patch => ({
  name: `${hue.name} ${Math.round(low * 100)}–${Math.round(high * 100)} %`,
  rgb: hue.rgb.map((v) => (v ? high : low)) as unknown as Triple,
})

/** What Baseline reads: nine greys, primaries, secondaries, white, black (17 patches). */
export const baselinePatches: readonly Patch[] = [
  white,
  black,
  ...hues,
  ...[0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9].map(greyPatch),
]

/** The five patches that say how a raw panel mixes its light. */
export const cornerPatches: readonly Patch[] = [white, black, ...hues.slice(0, 3)]

/** How much closer grey levels lie together in the shadows. */
const towardsBlack = 1.25

/** Grey signals (0–1) that Shape brings to the aim, up to white, closer together in the shadows. */
export const greyLevels = (count: number): readonly number[] =>
  Array.from({ length: count }, (_, i) => Math.round(1000 * ((i + 1) / count) ** towardsBlack) / 1000)

/** The colours by which Shape fits its matrix: each hue deep, bright and half, none of them read again by Prove. */
export const shapeColors: readonly Patch[] = [
  ...hues.map((hue) => tint(hue, 0.93, 0)),
  ...hues.map((hue) => tint(hue, 0.88, 0.45)),
  ...hues.map((hue) => tint(hue, 0.62, 0.1)),
]

/** Colours met in the studio's own work, as signals; chosen for this set. */
export const naturalPatches: readonly Patch[] = [
  { name: 'Marsh marigold', rgb: [0.95, 0.76, 0.12] },
  { name: 'Alder leaf', rgb: [0.31, 0.52, 0.18] },
  { name: 'Moss shade', rgb: [0.2, 0.26, 0.11] },
  { name: 'Fen water', rgb: [0.16, 0.29, 0.33] },
  { name: 'Dusk', rgb: [0.33, 0.44, 0.66] },
  { name: 'Nightfall', rgb: [0.09, 0.15, 0.4] },
  { name: 'Owl brown', rgb: [0.46, 0.33, 0.22] },
  { name: 'Reed straw', rgb: [0.82, 0.73, 0.53] },
  { name: 'Pale hand', rgb: [0.87, 0.69, 0.6] },
  { name: 'Brown hand', rgb: [0.41, 0.27, 0.21] },
  { name: 'Orchid', rgb: [0.66, 0.34, 0.59] },
  { name: 'Rowan berry', rgb: [0.72, 0.17, 0.12] },
  { name: 'Lantern glow', rgb: [0.98, 0.57, 0.24] },
  { name: 'Kingfisher', rgb: [0.07, 0.55, 0.67] },
]

/** What Prove and a check run read: greys between those of Shape, pure and mixed hues, natural colours (39 patches). */
export const provePatches: readonly Patch[] = [
  white,
  black,
  ...hues,
  ...[0.05, 0.1, 0.16, 0.25, 0.35, 0.47, 0.6, 0.74, 0.88].map(greyPatch),
  ...hues.map((hue) => tint(hue, 0.75, 0.25)),
  { name: 'Red 55 %', rgb: [0.55, 0, 0] },
  { name: 'Green 55 %', rgb: [0, 0.55, 0] },
  ...naturalPatches,
]

/** What a spot run reads: the least from which a change of white, tone or colour shows. */
const spotPatches: readonly Patch[] = [
  white,
  black,
  greyPatch(0.25),
  greyPatch(0.6),
  ...hues.slice(0, 3),
  ...naturalPatches.filter(({ name }) => name === 'Alder leaf' || name === 'Pale hand'),
]

/** What Baseline and Prove read, by kind of run. */
export const baselinePatchesOf = (kind: RunKind): readonly Patch[] =>
  kind === 'refresh' ? cornerPatches : baselinePatches
/** White at every place of the screen, and at its centre once more. */
const placePatches: readonly Patch[] = [...uniformityPlaces, screenCentre].map((p) => ({
  name: placeName(p),
  rgb: white.rgb,
}))

export const provePatchesOf = (kind: RunKind): readonly Patch[] =>
  kind === 'spot' ? spotPatches : kind === 'uniformity' ? placePatches : provePatches
