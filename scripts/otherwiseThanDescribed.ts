import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js'
import type { JsonSchema } from '@bichroma/contract'
import { describeApi } from '../packages/server/src/app/openapi/describe'

interface Operation {
  readonly responses: Readonly<Record<string, { content: Record<string, { schema?: JsonSchema }> }>>
}

/** Checks of the description's schemas, each made once; a schema's own names stand in the description. */
export function schemaChecks(components: unknown): (schema: JsonSchema) => ValidateFunction {
  const ajv = new Ajv2020({ strict: true, allowUnionTypes: true, strictTypes: false, allErrors: true })
  ajv.addKeyword('components')
  ajv.addSchema({ $id: 'api', components })
  const made = new Map<string, ValidateFunction>()
  return (schema) => {
    const text = JSON.stringify(schema).replaceAll('"#/components', '"api#/components')
    const check = made.get(text) ?? ajv.compile(JSON.parse(text) as object)
    made.set(text, check)
    return check
  }
}

/** How an answer in JSON is otherwise than described, or null. */
type Otherwise = (method: string, path: string, status: number, answer: unknown) => string | null

function readDescription(): Otherwise {
  const { paths, components } = describeApi() as {
    paths: Record<string, Record<string, Operation>>
    components: unknown
  }
  const checkOf = schemaChecks(components)
  const parameters = (at: string) => at.split('{').length
  // “/runs/figures” before “/runs/{id}”.
  const routes = Object.entries(paths)
    .sort(([a], [b]) => parameters(a) - parameters(b))
    .map(([at, of]) => ({ at, of, pattern: new RegExp(`^${at.replace(/\{\w+\}/g, '[^/]*')}$`) }))
  return (method, path, status, answer) => {
    const plain = path.split('?')[0]
    const route = routes.find(({ of, pattern }) => pattern.test(plain) && method.toLowerCase() in of)
    if (!route) return status === 404 ? null : `${method} ${path} answered ${status}, and is not described.`
    const content = route.of[method.toLowerCase()].responses[status]?.content
    const described = content?.[status < 400 ? 'application/json' : 'application/problem+json']
    if (!described) return `${method} ${route.at} answered ${status} in JSON, of which its description says nothing.`
    const check = checkOf(described.schema ?? {})
    if (check(answer)) return null
    const errors = JSON.stringify(check.errors?.slice(0, 3))
    return `${method} ${route.at} answered ${status} otherwise than described: ${errors}`
  }
}

let otherwise: Otherwise | undefined

/** An answer of the API, of `fetch` or as a browser got it. */
interface Answer {
  readonly status: number
  /** Its media type. */
  readonly type: string | null | undefined
  readonly json: () => Promise<unknown>
}

/**
 * What an answer in JSON, a problem too, is found to be otherwise than the API's description has it, or null; files are
 * not looked at. `path` begins behind “/api”.
 */
export async function otherwiseThanDescribed(
  method: string,
  path: string,
  { status, type, json }: Answer,
): Promise<string | null> {
  if (!/^application\/(problem\+)?json/.test(type ?? '')) return null
  otherwise ??= readDescription()
  return otherwise(method, path, status, await json())
}
