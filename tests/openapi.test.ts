import { readFileSync } from 'node:fs'
import { Validator } from '@seriousme/openapi-schema-validator'
import Ajv2020, { type ValidateFunction } from 'ajv/dist/2020'
import { fits, type yup } from '@bichroma/contract'
import { uniformFrom } from '@bichroma/core/basics'
import { routeFacts } from '../packages/server/src/app/openapi/routeFacts'
import { routeRoles, type RouteName } from '../packages/server/src/http/routeRoles'
import { answerSchemas } from '../scripts/answerSchemas'
import { ApiClient } from '../scripts/apiClient'
import { passwords, Studio } from './studio'

type Json = Record<string, unknown>
interface Operation {
  operationId: string
  requestBody?: { content: Record<string, { schema?: Json; example?: Json }> }
  responses: Record<string, { content: Record<string, { schema?: Json }> }>
  parameters?: { name: string; in: string }[]
}
interface Description {
  openapi: string
  paths: Record<string, Record<string, Operation>>
  components: { schemas: Json }
}

let studio: Studio
let api: Description
/** A check of a schema of the description. */
let check: (schema: Json) => ValidateFunction
const names = Object.keys(routeRoles) as RouteName[]
const operationOf = (name: RouteName): Operation => {
  const [method, path] = name.split(' ')
  return api.paths[path.replace(/:(\w+)/g, '{$1}')][method.toLowerCase()]
}
beforeAll(async () => {
  studio = await Studio.proven()
  await studio.admin.post('/displays', {
    ...(routeFacts['POST /displays'].example as object),
    name: 'Second',
    serial: 'QL-27-00002',
  })
  await studio.admin.post('/workstations', { name: 'other', operatingSystem: 'linux', systemVersion: '1', roomId: 1 })
  await studio.admin.post('/placements', { runId: 1 })
  await studio.finish(await studio.start({ kind: 'check' }))
  api = await studio.admin.get<Description>('/openapi.json')
  const ajv = new Ajv2020({ strict: true, allowUnionTypes: true, strictTypes: false, allErrors: true })
  ajv.addKeyword('components')
  ajv.addSchema({ $id: 'api', components: api.components })
  const seen = new Map<string, ValidateFunction>()
  check = (schema) => {
    const text = JSON.stringify(schema).replaceAll('"#/components', '"api#/components')
    const known = seen.get(text) ?? ajv.compile(JSON.parse(text) as object)
    seen.set(text, known)
    return known
  }
})
afterAll(() => studio.close())

test('what ships is what the types say @long', () => {
  const shipped = JSON.parse(readFileSync('packages/server/src/app/openapi/answers.json', 'utf8')) as object
  // When this fails: npm run schemas.
  expect(shipped).toEqual(answerSchemas())
})

test('it is OpenAPI 3.1, says so of every route of the table, and names each once @long', async () => {
  const { valid, errors } = await new Validator().validate(JSON.parse(JSON.stringify(api)) as never)
  expect([valid, errors]).toEqual([true, undefined])
  expect(api.openapi).toBe('3.1.0')
  const told = Object.entries(api.paths).flatMap(([path, of]) =>
    Object.keys(of).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  )
  expect(told.sort()).toEqual([...names].sort())
  const ids = names.map((name) => operationOf(name).operationId)
  expect(new Set(ids).size).toBe(ids.length)
  // Every route answers with what is described: JSON by its type, or a file.
  for (const name of names) {
    const { responses } = operationOf(name)
    const [type, { schema }] = Object.entries((responses['200'] ?? responses['201']).content)[0]
    expect([
      name,
      type === 'application/json' && !routeFacts[name].file ? Object.keys(schema ?? {}).length > 0 : true,
    ]).toEqual([name, true])
  }
})

/** Answers that are no fault of the description: the example names what this studio does not have, or not now. */
const mayAnswer = [200, 201, 401, 404, 409, 503]
const exampleErrors: Partial<Record<RouteName, RegExp>> = {
  // Tokens and codes that are told once cannot be examples that work.
  'POST /first-visit': /conflict|invalid-input/,
  'POST /accept': /invalid-input/,
  // This studio has no buildings.
  'PUT /rounds/ways': /invalid-input/,
  'PUT /session/password': /invalid-input/,
  'PUT /session/second-factor': /conflict|invalid-input/,
  'POST /session/second-factor/codes': /invalid-input|too-many/,
  'POST /session/second-factor/remove': /invalid-input|too-many/,
}
/** Sent last of all: what they take away others need. */
const takesAway = (name: RouteName) => name.startsWith('DELETE ') || /\/(keep|replace|swap|move|withdraw)$/.test(name)
const inOrder = [...names].sort((a, b) => Number(takesAway(a)) - Number(takesAway(b)))

describe('each route’s example', () => {
  test.each(inOrder.filter((name) => name !== 'GET /events' && name !== 'DELETE /session'))('%s', async (name) => {
    const operation = operationOf(name)
    const [method, pattern] = name.split(' ')
    const path = pattern
      .replace(/:(id|displayId)/, '1')
      .replace(':thing', 'room')
      .replace(':id', '1')
    const json = operation.requestBody?.content['application/json']
    if (json) {
      expect([json.schema && check(json.schema)(json.example), check(json.schema!).errors]).toEqual([true, null])
      expect(fits(routeFacts[name].body as yup.Schema<unknown>, json.example)).toBe(true)
    }
    const client = name.includes(' /session') ? new ApiClient(studio.server.url) : studio.admin
    if (client !== studio.admin) await client.signIn('viewer', passwords.viewer)
    const response = await client.raw(method, path, json?.example ?? (method === 'GET' ? undefined : {}))
    const type = response.headers.get('content-type')!.split(';')[0]
    if (type === 'application/problem+json') {
      const problem = (await response.json()) as { type: string; detail: string }
      expect(check({ $ref: '#/components/schemas/Problem' })(problem)).toBe(true)
      if (!exampleErrors[name]?.test(problem.type) && name !== 'PUT /settings/logo')
        expect([problem.detail, mayAnswer.includes(response.status)]).toEqual([problem.detail, true])
      return
    }
    const described = operation.responses[String(response.status)]
    expect(Object.keys(described.content)).toContain(type)
    const { schema } = described.content[type]
    if (!schema || routeFacts[name].file) return
    const answer: unknown = await response.json()
    const fit = check(schema)
    expect([fit(answer), fit.errors?.slice(0, 3)]).toEqual([true, undefined])
  })
})

test('what the description of a body refuses, the server refuses too, and the other way round where JSON can say it @long @long', () => {
  const random = uniformFrom(20261127)
  const wrong: unknown[] = [null, 'x', -1, 1e308, [], {}, true, 0.5, '']
  let compared = 0
  for (const name of names) {
    const json = operationOf(name).requestBody?.content['application/json']
    if (!json?.schema) continue
    const schema = routeFacts[name].body as yup.Schema<unknown>
    const fit = check(json.schema)
    const fields = Object.keys(json.example ?? {})
    const changes: Json[] = [
      { ...json.example, nonsense: 1 },
      ...fields.map((f) => {
        const { [f]: _gone, ...rest } = json.example as Json
        return rest
      }),
      ...fields.flatMap((f) =>
        Array.from({ length: 3 }, () => ({ ...json.example, [f]: wrong[Math.floor(random() * wrong.length)] })),
      ),
    ]
    for (const body of changes) {
      compared++
      // Yup knows more (one of two, sums, common passwords), never less.
      if (!fit(body)) expect([name, body, fits(schema, body)]).toEqual([name, body, false])
    }
    expect([name, fit({ ...json.example, nonsense: 1 })]).toEqual([name, false])
  }
  expect(compared).toBeGreaterThan(200)
})
