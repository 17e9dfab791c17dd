import { black, greyPatch, naturalPatches, primariesAndSecondaries, provePatches, white, type Patch } from './patches'
import { once } from '../basics/once'
import { makePlan } from './plan/patchPlan'

const natural = (...names: string[]) => naturalPatches.filter((p) => names.includes(p.name))
const greys = (...levels: number[]) => levels.map(greyPatch)

const few: readonly Patch[] = [
  white,
  black,
  ...primariesAndSecondaries,
  ...greys(0.25, 0.5, 0.75),
  ...natural('Alder leaf', 'Pale hand', 'Nightfall'),
]

const some: readonly Patch[] = [
  white,
  black,
  ...primariesAndSecondaries,
  ...greys(0.05, 0.1, 0.16, 0.25, 0.35, 0.47, 0.6, 0.74, 0.88),
  ...naturalPatches.slice(0, 13),
]

/** The usual patches, and greys near black, steps of saturation and colours spread through the rest. */
const many = once((): readonly Patch[] =>
  onceEach([
    ...provePatches,
    ...greys(0.02, 0.03, 0.07, 0.97),
    ...makePlan([{ part: 'hues', count: 4 }]).filter(({ name }) => / (25|50) %$/.test(name)),
    ...makePlan([{ part: 'fill', count: 9 }]),
  ]),
)

const most = once((): readonly Patch[] => onceEach([...many(), ...makePlan([{ part: 'fill', count: 70 }]).slice(9)]))

const onceEach = (patches: readonly Patch[]): readonly Patch[] => [
  ...new Map(patches.map((p) => [p.rgb.join(' '), p])).values(),
]

/** What a check run can read, from a glance to a survey; `usual` is what every full run proves by. */
export const checkPlans = {
  few: { label: 'few', holds: 'greys, primaries, secondaries, three natural colours', patches: onceEach(few) },
  some: { label: 'some', holds: 'nine greys and most natural colours besides', patches: onceEach(some) },
  usual: { label: 'usual', holds: 'what every full run proves by: mixed hues as well', patches: provePatches },
  many: {
    label: 'many',
    holds: 'near-black greys, saturation steps, colours all over',
    get patches() {
      return many()
    },
  },
  most: {
    label: 'most',
    holds: 'as many again, spread through the gamut',
    get patches() {
      return most()
    },
  },
} as const
export type CheckPlan = keyof typeof checkPlans
export const checkPlanNames = Object.keys(checkPlans) as CheckPlan[]

/** Patches that a set of one’s own may hold. */
export const mostOwnPatches = 1000

/** A set of one’s own as a check reads it: white first, black among it, each colour once. */
export const ownCheckPatches = (patches: readonly Patch[]): readonly Patch[] => {
  const has = (of: Patch) => patches.find((p) => p.rgb.join() === of.rgb.join())
  return onceEach([has(white) ?? white, has(black) ?? black, ...patches])
}
