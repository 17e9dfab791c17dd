import { numberField, tripleField, yup } from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'

/** A field with the sentence that documents it. */
export function about<S extends { meta(of: { about: string }): unknown }>(schema: S, text: string): S {
  const { alternatives } = schema as { alternatives?: object }
  // What chooses by kind keeps what it chooses from.
  return Object.assign(schema.meta({ about: text }) as S, alternatives && { alternatives })
}

/** A number that must be there. */
export const number = (text: string, least: number, most: number) =>
  about(numberField().required().min(least).max(most), text)

/** A number with a value for when it is absent. */
export const numberOr = (otherwise: number, text: string, least: number, most: number) =>
  about(numberField().min(least).max(most).default(otherwise), text)

/** Three numbers that must be there. */
export const triple = (text: string, least: number, most: number) =>
  about(tripleField(numberField().min(least).max(most)).required(), text)

/** Three numbers with values for when they are absent. */
export const tripleOr = (otherwise: Triple, text: string, least: number, most: number) =>
  about(
    tripleField(numberField().min(least).max(most)).default(() => [...otherwise]),
    text,
  )

/** A group of fields. */
export const group = <T extends yup.ObjectShape>(text: string, fields: T) => about(yup.object(fields).noUnknown(), text)
