import { InvalidArgumentError } from 'commander'
import {
  differenceFormulas,
  standardPrimaries,
  type DifferenceFormula,
  type StandardPrimaries,
  type Triple,
} from '@bichroma/core/color'
import { signalScales, type SignalScale } from '@bichroma/core/formats'

const plain = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i

/** A number within bounds, for an option. */
export const numberWithin =
  (least: number, most: number) =>
  (text: string): number => {
    const value = plain.test(text) ? Number(text) : NaN
    if (!(value >= least && value <= most))
      throw new InvalidArgumentError(`It must be a number from ${least} to ${most}.`)
    return value
  }

export const wholeWithin =
  (least: number, most: number) =>
  (text: string): number => {
    const value = plain.test(text) ? Number(text) : NaN
    if (!(Number.isInteger(value) && value >= least && value <= most))
      throw new InvalidArgumentError(`It must be a whole number from ${least} to ${most}.`)
    return value
  }

/** Numbers with commas between them. */
export const numbers =
  (count: number) =>
  (text: string): number[] => {
    const parts = text.split(',').map((t) => t.trim())
    if (parts.length !== count || !parts.every((t) => plain.test(t)))
      throw new InvalidArgumentError(`It must be ${count} numbers with commas between them.`)
    return parts.map(Number)
  }

export const triple = (text: string): Triple => numbers(3)(text) as unknown as Triple

/** One of a few words. */
export const oneOf =
  <T extends string>(words: readonly T[]) =>
  (text: string): T => {
    if (!words.includes(text as T)) throw new InvalidArgumentError(`It must be one of ${words.join(', ')}.`)
    return text as T
  }

export const formula = oneOf<DifferenceFormula>(differenceFormulas)

export const scale = (text: string): SignalScale => Number(oneOf(signalScales.map(String))(text)) as SignalScale

/** Names of encodings as they are typed: small letters, digits and hyphens. */
export const encodingNames: Readonly<Record<string, StandardPrimaries>> = Object.fromEntries(
  (Object.keys(standardPrimaries) as StandardPrimaries[]).map((name) => [
    name.toLowerCase().replace('bt.', 'bt').replace(/ /g, '-'),
    name,
  ]),
)

/** Encodings with commas between them. */
export function encodingList(text: string): StandardPrimaries[] {
  return text.split(',').map((name) => {
    const known = encodingNames[name.trim().toLowerCase()]
    if (!known) throw new InvalidArgumentError(`Encodings are ${Object.keys(encodingNames).join(', ')}.`)
    return known
  })
}
