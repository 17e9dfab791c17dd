import { readFileSync } from 'node:fs'
import { Validator } from '@seriousme/openapi-schema-validator'
import type { ValidateFunction } from 'ajv/dist/2020.js'
import { fits, type yup } from '@bichroma/contract'
import { uniformFrom } from '@bichroma/core/basics'
import { routeFacts } from '../packages/server/src/app/openapi/routeFacts'
import { routeRoles, type RouteName } from '../packages/server/src/http/routeRoles'
import { answerSchemas } from '../scripts/answerSchemas'
import { ApiClient } from '../scripts/apiClient'
import { otherwiseThanDescribed, schemaChecks } from '../scripts/otherwiseThanDescribed'
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
/** What each route answered to its example, all sent to one studio. */
const answered = new Map<RouteName, Response>()
const names = Object.keys(routeRoles) as RouteName[]
const operationOf = (name: RouteName): Operation => {
  const [method, path] = name.split(' ')
  return api.paths[path.replace(/:(\w+)/g, '{$1}')][method.toLowerCase()]
}
/** Looks come first, and last of all what takes away what others need. */
const takesAway = (name: RouteName) => name.startsWith('DELETE ') || /\/(keep|replace|swap|move|withdraw)$/.test(name)
const turn = (name: RouteName) => (name.startsWith('GET ') ? 0 : takesAway(name) ? 2 : 1)
const inOrder = names
  .filter((name) => name !== 'GET /events' && name !== 'DELETE /session')
  .sort((a, b) => turn(a) - turn(b))
const pathOf = (name: RouteName) => name.split(' ')[1].replace(':thing', 'room').replace(/:\w+/g, '1')
async function send(name: RouteName): Promise<Response> {
  const [method] = name.split(' ')
  const body = operationOf(name).requestBody?.content['application/json']?.example
  // Each is held by a test of its own.
  const own = name.includes(' /session')
  const client = new ApiClient(studio.server.url, own ? '' : studio.admin.cookie)
  if (own) await client.signIn('viewer', passwords.viewer)
  return client.raw(method, pathOf(name), body ?? (method === 'GET' ? undefined : {}))
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
  check = schemaChecks(api.components)
  for (const name of inOrder) answered.set(name, await send(name))
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
describe('each route’s example', () => {
  test.each(inOrder)('%s', async (name) => {
    const json = operationOf(name).requestBody?.content['application/json']
    if (json) {
      expect([json.schema && check(json.schema)(json.example), check(json.schema!).errors]).toEqual([true, null])
      expect(fits(routeFacts[name].body as yup.Schema<unknown>, json.example)).toBe(true)
    }
    const response = answered.get(name)!
    const type = response.headers.get('content-type')!.split(';')[0]
    const told = { status: response.status, type, json: () => response.clone().json() }
    expect(await otherwiseThanDescribed(name.split(' ')[0], pathOf(name), told)).toBe(null)
    if (response.ok)
      return expect(Object.keys(operationOf(name).responses[String(response.status)].content)).toContain(type)
    const problem = (await response.json()) as { type: string; detail: string }
    if (!exampleErrors[name]?.test(problem.type) && name !== 'PUT /settings/logo')
      expect([problem.detail, mayAnswer.includes(response.status)]).toEqual([problem.detail, true])
  })

  test('of what can be looked at, all but what nobody made is there', () => {
    const absent = inOrder.filter((name) => name.startsWith('GET ') && !answered.get(name)!.ok)
    expect(absent).toEqual([
      'GET /settings/logo',
      'GET /waves/:id',
      'GET /feeds/:token',
      'GET /desk/:token',
      'GET /desk-reports/:id/picture',
      'GET /rounds/capacity',
      'GET /peer-sets/:id',
    ])
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
