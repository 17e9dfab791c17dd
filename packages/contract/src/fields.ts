import { yup } from './sentences'

/** A name that a person gives: trimmed, 1–60 characters, no control characters. */
export const nameField = () =>
  yup
    .string()
    // Only text is trimmed; anything else is left as it is, to be refused for its type.
    .transform((_, original: unknown) => (typeof original === 'string' ? original.trim() : original))
    .required()
    .max(60)
    .test(
      'plain',
      ({ path }) => `“${path}” must be plain text on one line.`,
      (v) => !/\p{Cc}/u.test(v ?? ''),
    )

/** A finite number; text is not taken for one. */
export const numberField = () =>
  yup
    .number()
    .strict()
    .test(
      'finite',
      ({ path }) => `“${path}” must be a number.`,
      (v) => v === undefined || v === null || Number.isFinite(v),
    )

/** SHA-256 in hexadecimal. */
export const hashField = () =>
  yup
    .string()
    .matches(/^[0-9a-f]{64}$/, ({ path }) => `“${path}” must be a SHA-256 in 64 lower-case hexadecimal digits.`)

/** The identifier of a stored thing: a whole number from 1. */
export const idField = () => numberField().integer().min(1)

/** Three numbers. */
export const tripleField = (each: yup.NumberSchema) => yup.array().of(each.required()).length(3).strict()

/** Picks one schema by the `kind` of the value, so that a message names the field at fault and not the alternatives. */
export function byKind<T extends { kind: string }>(kinds: Record<T['kind'], yup.ObjectSchema<object>>) {
  const names = Object.keys(kinds)
  return yup.lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null | undefined)?.kind
    if (typeof kind === 'string' && Object.hasOwn(kinds, kind))
      return kinds[kind as T['kind']].concat(yup.object({ kind: yup.string().oneOf([kind]).required() })).noUnknown()
    return yup.object({ kind: yup.string().oneOf(names).required() }).required()
  })
}
