import { relativeLuminanceOf } from '../../color/lab'
import type { Triple } from '../../color/matrix3'
import { black, greyPatch, naturalPatches, primariesAndSecondaries, white, type Patch } from '../patches'
import { spaceFillingColors } from './spaceFilling'

/** The exponent of a display that nothing is known of yet. */
export const nominalExponent = 2.2

/** A colour named by its signals in percent. */
export const namedBySignal = (rgb: Triple): Patch => ({
  name: `RGB ${rgb.map((v) => Number((v * 100).toFixed(1))).join(' ')} %`,
  rgb,
})

const ramp = <T>(count: number, of: (t: number) => T): T[] =>
  Array.from({ length: count }, (_, i) => of(i / (count - 1)))

const patchOfGrey = (v: number): Patch => (v === 0 ? black : v === 1 ? white : greyPatch(v))

/** Greys at even signals, black and white included. */
const greys = (count: number) => ramp(count, patchOfGrey)

/** Greys at even steps of L* on a nominal display. */
const evenGreys = (count: number) =>
  ramp(count, (t) => patchOfGrey(Math.min(1, relativeLuminanceOf(100 * t)) ** (1 / nominalExponent)))

/** Greys from black to a tenth of the signal, closer together towards black. */
const darkGreys = (count: number) => ramp(count, (t) => patchOfGrey(0.1 * t ** 1.5))

/** Primaries and secondaries in even steps of saturation, from nearly white to full. */
const hueSteps = (steps: number) =>
  primariesAndSecondaries.flatMap((hue) =>
    Array.from({ length: steps }, (_, i): Patch => {
      const saturation = (i + 1) / steps
      if (saturation === 1) return hue
      return {
        name: `${hue.name}, saturation ${Math.round(100 * saturation)} %`,
        rgb: hue.rgb.map((v) => (v ? 1 : 1 - saturation)) as unknown as Triple,
      }
    }),
  )

/** Each primary alone at even signals. */
const channelRamps = (steps: number) =>
  primariesAndSecondaries.slice(0, 3).flatMap((hue) =>
    Array.from({ length: steps }, (_, i): Patch => {
      const v = (i + 1) / steps
      return v === 1
        ? hue
        : { name: `${hue.name} ${Number((100 * v).toFixed(1))} %`, rgb: hue.rgb.map((c) => c * v) as unknown as Triple }
    }),
  )

/** All combinations of even signals. */
const grid = (count: number) => {
  const levels = ramp(count, (t) => t)
  return levels.flatMap((r) => levels.flatMap((g) => levels.map((b) => namedBySignal([r, g, b]))))
}

const natural = () => naturalPatches

interface PartDefinition {
  /** What a person reads. */
  readonly label: string
  /** Bounds of its number; null for a part that takes none. */
  readonly count: { readonly least: number; readonly most: number } | null
  readonly patches: (
    count: number,
    context: { readonly seed: number; readonly so: readonly Patch[] },
  ) => readonly Patch[]
}

const parts = {
  greys: { label: 'greys at even signals', count: { least: 2, most: 1024 }, patches: greys },
  'even-greys': { label: 'greys at even lightness', count: { least: 2, most: 1024 }, patches: evenGreys },
  'dark-greys': { label: 'greys near black', count: { least: 2, most: 256 }, patches: darkGreys },
  hues: { label: 'primaries and secondaries by saturation', count: { least: 1, most: 64 }, patches: hueSteps },
  channels: { label: 'single channels', count: { least: 1, most: 256 }, patches: channelRamps },
  grid: { label: 'full grid', count: { least: 2, most: 21 }, patches: grid },
  fill: {
    label: 'spread through the colour space',
    count: { least: 1, most: 5000 },
    patches: (count, { seed, so }) =>
      spaceFillingColors(
        count,
        seed,
        so.map((p) => p.rgb),
      ).map(namedBySignal),
  },
  natural: { label: 'natural colours', count: null, patches: natural },
} as const satisfies Record<string, PartDefinition>
export type PlanPartName = keyof typeof parts
/** What patch plans are put together from, by the names used on the command line. */
export const planPartDefinitions: Readonly<Record<PlanPartName, PartDefinition>> = parts
