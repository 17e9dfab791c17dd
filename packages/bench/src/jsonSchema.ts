import { pipelineShapeSchemas, type yup } from '@bichroma/contract'

interface Description {
  readonly type: string
  readonly fields?: Record<string, Description>
  readonly innerType?: Description
  readonly oneOf?: readonly unknown[]
  readonly tests?: readonly { readonly name?: string; readonly params?: Record<string, unknown> }[]
  readonly optional?: boolean
  readonly nullable?: boolean
  readonly default?: unknown
  readonly meta?: { readonly about?: string }
}

type Json = Record<string, unknown>

const testOf = (d: Description, name: string) => d.tests?.find((t) => t.name === name)

/** Names under which Yup tells a bound, with JSON Schema's, by type. */
const bounds: Readonly<Record<string, readonly (readonly [string, string, string])[]>> = {
  number: [
    ['min', 'min', 'minimum'],
    ['max', 'max', 'maximum'],
    ['min', 'more', 'exclusiveMinimum'],
    ['max', 'less', 'exclusiveMaximum'],
  ],
  string: [['max', 'max', 'maxLength']],
  array: [
    ['min', 'min', 'minItems'],
    ['max', 'max', 'maxItems'],
  ],
}

function boundsOf(d: Description): Json {
  const found: Json = {}
  for (const [test, param, key] of bounds[d.type] ?? []) {
    const value = d.tests?.find((t) => t.name === test && t.params?.[param] !== undefined)?.params?.[param]
    if (value !== undefined) found[key] = value
  }
  const length = testOf(d, 'length')?.params?.length
  if (length !== undefined) Object.assign(found, { minItems: length, maxItems: length })
  return found
}

/** A field must be there when it is neither optional nor filled in by a default, its own or its fields'. */
function isRequired(d: Description): boolean {
  if (d.type === 'lazy') return true
  // A group that may be left out is one whose every field may be.
  if (d.type === 'object' && d.optional)
    return Object.values(d.fields ?? {}).some(isRequired) && d.default !== undefined && d.default !== null
  return !d.optional
}

function fromDescription(d: Description): Json {
  const about = d.meta?.about ? { description: d.meta.about } : {}
  if (d.type === 'lazy') return { ...about, oneOf: pipelineKinds() }
  const choices = d.oneOf?.length ? { enum: d.nullable ? [...d.oneOf, null] : d.oneOf } : {}
  if (d.type === 'object') {
    const fields = Object.entries(d.fields ?? {})
    return {
      ...about,
      type: d.nullable ? ['object', 'null'] : 'object',
      properties: Object.fromEntries(fields.map(([name, field]) => [name, fromDescription(field)])),
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
    ...(d.innerType && { items: fromDescription(d.innerType) }),
  }
}

const pipelineKinds = () =>
  Object.entries(pipelineShapeSchemas).map(([kind, schema]) => {
    const inner = fromDescription(schema.describe() as unknown as Description) as Json & {
      properties: Json
      required: string[]
    }
    return {
      ...inner,
      properties: { kind: { const: kind }, ...inner.properties },
      required: ['kind', ...inner.required],
    }
  })

/** A JSON Schema (2020-12) of a Yup schema, with its fields' sentences; for people and editors. */
export const jsonSchemaOf = (schema: yup.AnySchema, title: string): Json => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title,
  ...fromDescription(schema.describe() as unknown as Description),
})
