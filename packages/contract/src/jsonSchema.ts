import type { yup } from './sentences'

interface Description {
  readonly type: string
  readonly oneOf?: readonly unknown[]
  readonly tests?: readonly { readonly name?: string; readonly params?: Record<string, unknown> }[]
  readonly optional?: boolean
  readonly nullable?: boolean
  readonly default?: unknown
  readonly meta?: { readonly about?: string }
}

/** What of a schema there is to walk through. */
interface Walked {
  readonly type: string
  readonly fields?: Readonly<Record<string, Walked>>
  readonly innerType?: Walked
  /** Of one that is chosen by `kind`: the schema of each. */
  readonly alternatives?: Readonly<Record<string, Walked>>
  /** Of one that is chosen by `kind`: it may be left out. */
  readonly mayLack?: boolean
  describe(): Description
}

export type JsonSchema = Record<string, unknown>

const testOf = (d: Description, name: string) => d.tests?.find((t) => t.name === name)

/** Names under which Yup and our own fields tell a bound, with JSON Schema's, by type. */
const bounds: Readonly<Record<string, readonly (readonly [string, string, string])[]>> = {
  number: [
    ['min', 'min', 'minimum'],
    ['max', 'max', 'maximum'],
    ['min', 'more', 'exclusiveMinimum'],
    ['max', 'less', 'exclusiveMaximum'],
    ['physics', 'least', 'minimum'],
    ['physics', 'most', 'maximum'],
  ],
  string: [
    ['min', 'min', 'minLength'],
    ['max', 'max', 'maxLength'],
  ],
  array: [
    ['min', 'min', 'minItems'],
    ['max', 'max', 'maxItems'],
  ],
}

function boundsOf(d: Description): JsonSchema {
  const found: JsonSchema = {}
  for (const [test, param, key] of bounds[d.type] ?? []) {
    const value = d.tests?.find((t) => t.name === test && t.params?.[param] !== undefined)?.params?.[param]
    if (value !== undefined) found[key] = value
  }
  const length = testOf(d, 'length')?.params?.length
  if (length !== undefined) Object.assign(found, { minItems: length, maxItems: length })
  const { regex } = (testOf(d, 'matches')?.params ?? {}) as { regex?: RegExp }
  if (regex) found.pattern = regex.source
  if (testOf(d, 'numeral')) found.pattern = '^[1-9][0-9]{0,14}$'
  return found
}

/** A field must be there when it is neither optional nor filled in by a default, its own or its fields'. */
function isRequired(schema: Walked): boolean {
  if (schema.type === 'lazy') return !schema.mayLack
  const d = schema.describe()
  // A group that may be left out is one whose every field may be.
  if (d.type === 'object' && d.optional)
    return Object.values(schema.fields ?? {}).some(isRequired) && d.default !== undefined && d.default !== null
  return !d.optional
}

/** The alternatives by kind, each naming its own. */
const kindsOf = (alternatives: NonNullable<Walked['alternatives']>): JsonSchema => ({
  oneOf: Object.entries(alternatives).map(([kind, schema]) => {
    const inner = schemaOf(schema) as JsonSchema & { properties: JsonSchema; required: string[] }
    return {
      ...inner,
      properties: { kind: { const: kind }, ...inner.properties },
      required: ['kind', ...inner.required],
    }
  }),
})

function schemaOf(schema: Walked): JsonSchema {
  const d = schema.describe()
  const about = d.meta?.about ? { description: d.meta.about } : {}
  if (schema.type === 'lazy') return { ...about, ...(schema.alternatives && kindsOf(schema.alternatives)) }
  const choices = d.oneOf?.length ? { enum: d.nullable ? [...d.oneOf, null] : d.oneOf } : {}
  if (d.type === 'object') {
    const fields = Object.entries(schema.fields ?? {})
    return {
      ...about,
      type: d.nullable ? ['object', 'null'] : 'object',
      properties: Object.fromEntries(fields.map(([name, field]) => [name, schemaOf(field)])),
      required: fields.filter(([, field]) => isRequired(field)).map(([name]) => name),
      additionalProperties: false,
    }
  }
  if (d.type === 'mixed') return about
  const type = d.type === 'number' && testOf(d, 'integer') ? 'integer' : d.type
  return {
    ...about,
    type: d.nullable ? [type, 'null'] : type,
    ...choices,
    ...boundsOf(d),
    ...(schema.innerType && { items: schemaOf(schema.innerType) }),
  }
}

/** What a Yup schema takes as a JSON Schema (2020-12), with its fields' sentences; for people, editors and programs. */
export const jsonSchemaOf = (schema: unknown): JsonSchema => schemaOf(schema as Walked)

/** The same as a file of its own. */
export const jsonSchemaFile = (schema: yup.AnySchema, title: string): JsonSchema => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title,
  ...jsonSchemaOf(schema),
})
