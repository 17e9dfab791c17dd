import { isPlainText } from '@bichroma/core/basics'
import { readingBounds } from '@bichroma/core/color'
import { yup } from './sentences'

/** Text on one line, as somebody or a program wrote it. See {@link isPlainText}. */
export const textField = (most: number) =>
  yup
    .string()
    .strict()
    .max(most)
    .test(
      'plain',
      ({ path }) => `“${path}” must be plain text on one line, without marks that turn its direction.`,
      (v) => isPlainText(v ?? ''),
    )

/** A name that a person gives: trimmed, 1–60 characters, plain text on one line. */
export const nameField = () =>
  yup
    .string()
    // Only text is trimmed; anything else is left as it is, to be refused for its type.
    .transform((_, original: unknown) => (typeof original === 'string' ? original.trim() : original))
    .required()
    .max(60)
    .test(
      'plain',
      ({ path }) => `“${path}” must be plain text on one line, without marks that turn its direction.`,
      (v) => isPlainText(v ?? ''),
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
export const idField = () => numberField().integer().min(1).max(Number.MAX_SAFE_INTEGER)

/** Number of a command or its answer. */
export const serialField = () => numberField().required().integer().min(0).max(Number.MAX_SAFE_INTEGER)

const within = (least: number, most: number, unit: string) =>
  numberField().test({
    name: 'physics',
    params: { least, most },
    message: ({ path }) =>
      `“${path}” must be from ${least.toLocaleString('en')} to ${most.toLocaleString('en')} ${unit}.`,
    test: (v) => v === undefined || v === null || (v >= least && v <= most),
  })

/** One of X, Y, Z that an instrument read of a display, cd/m². */
export const tristimulusField = () => within(readingBounds.least, readingBounds.most, 'cd/m²')

/** 2100-01-01, ms since 1970: no clock of a studio is past it. */
const lastInstant = 4_102_444_800_000

/** An instant, UTC, ms since 1970. */
export const timeField = () =>
  numberField()
    .integer()
    .test(
      'time',
      ({ path }) => `“${path}” must be a time from 1970 to 2100, in ms since 1970.`,
      (v) => v === undefined || v === null || (v >= 0 && v <= lastInstant),
    )

/** How long something took or may take, ms; a day at most. */
export const durationField = (most = 86_400_000) => within(0, most, 'ms')

/** Minutes since something happened; ten years at most. */
export const minutesField = () => within(0, 5_256_000, 'minutes')

/** Illuminance, lx; twice that of full sun at most. */
export const illuminanceField = () => within(0, 200_000, 'lx')

/** A setting of a display's own, in its own steps. */
export const settingField = () => numberField().integer().min(-65_536).max(65_536)

/** Three numbers. */
export const tripleField = (each: yup.NumberSchema) => yup.array().of(each.required()).length(3).strict()

/** Picks one schema by the `kind` of the value, so that a message names the field at fault and not the alternatives. */
export function byKind<T extends { kind: string }>(kinds: Record<T['kind'], yup.ObjectSchema<object>>) {
  const names = Object.keys(kinds)
  const chosen = yup.lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null | undefined)?.kind
    const one =
      typeof kind === 'string' && Object.hasOwn(kinds, kind)
        ? kinds[kind as T['kind']].concat(yup.object({ kind: yup.string().oneOf([kind]).required() })).noUnknown()
        : yup.object({ kind: yup.string().oneOf(names).required() }).required()
    // Which kinds there are, and what each has, Yup cannot infer: T says it.
    return one as unknown as yup.Schema<T>
  })
  return Object.assign(chosen, { alternatives: kinds })
}

/** One that is picked by its kind, or left out. */
export function byKindOrNone<T extends { kind: string }>(of: ReturnType<typeof byKind<T>>) {
  const chosen = yup.lazy(
    (value: unknown) => (value === undefined ? yup.mixed() : of.resolve({ value })) as yup.Schema<T | undefined>,
  )
  return Object.assign(chosen, { alternatives: of.alternatives, mayLack: true })
}
