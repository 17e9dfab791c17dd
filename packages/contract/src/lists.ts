import { isPlainText } from '@bichroma/core/basics'
import { yup } from './sentences'

/** Rows that one answer holds at most, and unless fewer are asked for. */
export const mostRows = 200
export const usualRows = 100

/** One part of a list that may be long. */
export interface Page<T> {
  items: T[]
  /** What brings the next part; null at the end. */
  next: string | null
  /** How many there are in all. */
  total: number
  /** There are more than `total`: nobody counted further. */
  more: boolean
}

/** A whole number from 1, as an address holds it. */
export const numeralField = (most = Number.MAX_SAFE_INTEGER) =>
  yup
    .string()
    .strict()
    .test(
      'numeral',
      ({ path }) => `“${path}” must be a whole number from 1${most < 1e6 ? ` to ${most}` : ''}.`,
      (v) => v === undefined || (/^[1-9][0-9]{0,14}$/.test(v) && Number(v) <= most),
    )

/** One of some words, as an address holds it. */
export const wordField = <T extends string>(words: readonly T[]) =>
  yup
    .string<T>()
    .strict()
    .oneOf([...words])

/** What every list can be asked by. */
export const listFields = {
  /** Words that a row must hold, whatever their case and accents. */
  search: yup
    .string()
    .strict()
    .max(80)
    .test(
      'plain',
      ({ path }) => `“${path}” must be plain text on one line.`,
      (v) => isPlainText(v ?? ''),
    ),
  cursor: yup.string().strict().max(400),
  limit: numeralField(mostRows),
}
