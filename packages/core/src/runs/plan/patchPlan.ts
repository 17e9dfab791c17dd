import type { Patch } from '../patches'
import { planPartDefinitions, type PlanPartName } from './planParts'

/** One part of a plan: what, and how many (absent for parts that take no number). */
export interface PlanPart {
  readonly part: PlanPartName
  readonly count?: number
}

/** How many and which patches a run reads, from quick to exhaustive. */
export const samplings = {
  brief: [
    { part: 'even-greys', count: 17 },
    { part: 'hues', count: 3 },
    { part: 'natural' },
    { part: 'fill', count: 50 },
  ],
  usual: [
    { part: 'even-greys', count: 25 },
    { part: 'dark-greys', count: 7 },
    { part: 'hues', count: 4 },
    { part: 'natural' },
    { part: 'fill', count: 148 },
  ],
  deep: [
    { part: 'even-greys', count: 33 },
    { part: 'dark-greys', count: 12 },
    { part: 'channels', count: 12 },
    { part: 'hues', count: 6 },
    { part: 'natural' },
    { part: 'fill', count: 570 },
  ],
  overnight: [{ part: 'grid', count: 17 }],
} as const satisfies Record<string, readonly PlanPart[]>
export type Sampling = keyof typeof samplings
export const samplingNames = Object.keys(samplings) as Sampling[]

/** A plan that cannot be read: the sentence says which part is at fault and what would be right. */
export class PlanError extends Error {}

/**
 * The patches of a plan in its order, each colour once.
 * Deterministic: the same parts and seed give the same patches. Throws PlanError naming the part at fault.
 */
export function makePlan(parts: readonly PlanPart[], seed = 1): Patch[] {
  const patches = new Map<string, Patch>()
  for (const { part, count } of parts) {
    const definition = planPartDefinitions[part]
    const bounds = definition.count
    if (bounds && !(Number.isInteger(count) && count! >= bounds.least && count! <= bounds.most))
      throw new PlanError(
        `“${part}” needs a whole number from ${bounds.least} to ${bounds.most} behind a colon, as in ${part}:${bounds.least}.`,
      )
    if (!bounds && count !== undefined) throw new PlanError(`“${part}” takes no number.`)
    for (const patch of definition.patches(count ?? 0, { seed, so: [...patches.values()] })) {
      const key = patch.rgb.join(' ')
      if (!patches.has(key)) patches.set(key, patch)
    }
  }
  return [...patches.values()]
}

/**
 * Reads a plan from text: the name of a sampling, or parts with their numbers, as in `greys:21,hues:4,natural,fill:100`.
 * Throws PlanError.
 */
export function parsePlan(text: string): readonly PlanPart[] {
  const name = text.trim()
  if (Object.hasOwn(samplings, name)) return samplings[name as Sampling]
  return name.split(',').map((piece): PlanPart => {
    const [part, count, ...rest] = piece.trim().split(':')
    if (!Object.hasOwn(planPartDefinitions, part) || rest.length)
      throw new PlanError(
        `“${piece.trim()}” is no part of a plan. Parts are ${Object.keys(planPartDefinitions).join(', ')}; whole plans are ${Object.keys(samplings).join(', ')}.`,
      )
    return count === undefined
      ? { part: part as PlanPartName }
      : { part: part as PlanPartName, count: /^\d{1,6}$/.test(count) ? Number(count) : NaN }
  })
}
