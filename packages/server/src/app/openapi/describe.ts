import { readFileSync } from 'node:fs'
import { jsonSchemaOf, type JsonSchema } from '@bichroma/contract'
import { problemKinds } from '../../http/problem'
import { routeRoles, type RouteName } from '../../http/routeRoles'
import { version } from '../../data/version'
import { areas, routeFacts } from './routeFacts'

/** Schemas of all answers, made from their types by `npm run schemas`. */
interface AnswerSchemas {
  readonly answers: Readonly<Partial<Record<string, JsonSchema>>>
  readonly definitions: Readonly<Record<string, JsonSchema>>
}

const answerSchemas = () =>
  JSON.parse(readFileSync(new URL('./answers.json', import.meta.url), 'utf8')) as AnswerSchemas

const problem = {
  type: 'object',
  description: 'Problem details (RFC 9457).',
  properties: {
    type: { enum: Object.keys(problemKinds).map((kind) => `/problems/${kind}`) },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string', description: 'A sentence for people: what is wrong, and what would be right.' },
    field: { type: 'string', description: 'The field at fault.' },
  },
  required: ['type', 'title', 'status', 'detail'],
}

/** Answers that each route may give besides its own, by status. */
const refusals = (name: RouteName): number[] => {
  const { body, takes, asksWho } = routeFacts[name]
  const open = routeRoles[name] === 'anyone'
  return [
    // A number, or an address, can be wrong everywhere.
    400,
    ...(open && !asksWho ? [] : [401]),
    ...(open ? [] : [403]),
    404,
    409,
    ...((body ?? takes) ? [413] : []),
    ...[429, 500, 503],
  ]
}

const titleOf = (status: number) =>
  Object.values(problemKinds)
    .filter((kind) => kind.status === status)
    .map((kind) => kind.title)
    .join('; or: ')

/** Fields of an object's schema, each as a parameter. */
const parametersOf = (query: unknown) => {
  const { properties, required = [] } = jsonSchemaOf(query) as {
    properties: Record<string, JsonSchema>
    required?: readonly string[]
  }
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }))
}

/** An operation's name: the words of its address in one. */
const operationId = (method: string, path: string) =>
  method.toLowerCase() +
  path
    .split('/')
    .filter(Boolean)
    .map((part) => part.replace(':', 'By-'))
    .flatMap((part) => part.split('-'))
    .map((word) => word[0].toUpperCase() + word.slice(1))
    .join('')

function operation(name: RouteName, answer: JsonSchema | undefined) {
  const { area, tells, query, body, example, makes, file, takes } = routeFacts[name]
  const needs = routeRoles[name]
  const [method, path] = name.split(' ')
  const inPath = [...path.matchAll(/:(\w+)/g)].map(([, parameter]) => ({
    name: parameter,
    in: 'path',
    required: true,
    schema: parameter === 'thing' ? { type: 'string' } : { type: 'integer', minimum: 1 },
  }))
  const parameters = [...inPath, ...(query ? parametersOf(query) : [])]
  const content = file
    ? Object.fromEntries(file.map((type) => [type, {}]))
    : { 'application/json': { schema: answer ?? {} } }
  const asProblem = { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } }
  return {
    operationId: operationId(method, path),
    tags: [area],
    summary: tells,
    description: needs === 'anyone' ? 'Needs no account.' : `Needs the role ${needs}.`,
    'x-role': needs,
    ...(parameters.length && { parameters }),
    ...(body !== undefined && {
      requestBody: { required: true, content: { 'application/json': { schema: jsonSchemaOf(body), example } } },
    }),
    ...(takes && {
      requestBody: { required: true, content: Object.fromEntries(takes.map((type) => [type, {}])) },
    }),
    responses: {
      [makes ? '201' : '200']: { description: tells, content },
      ...Object.fromEntries(
        refusals(name).map((status) => [String(status), { description: titleOf(status), content: asProblem }]),
      ),
    },
    security: needs === 'anyone' ? [] : [{ token: [] }, { session: [] }],
  }
}

/** The API's description: OpenAPI 3.1, from the table of routes, the schemas of what comes in, and the types of what goes out. */
export function describeApi(): JsonSchema {
  const { answers, definitions } = answerSchemas()
  const paths: Record<string, Record<string, unknown>> = {}
  for (const name of Object.keys(routeRoles) as RouteName[]) {
    const [method, path] = name.split(' ')
    const at = path.replace(/:(\w+)/g, '{$1}')
    paths[at] = { ...paths[at], [method.toLowerCase()]: operation(name, answers[name]) }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Bichroma',
      version,
      description:
        'Displays, runs, verdicts, profiles and their rollout. Times are ms since 1970 in UTC; luminances cd/m²; colour differences ΔE2000 unless told otherwise. Lists come in parts: `next` brings the following one.',
      license: { name: 'As the studio has it', url: 'https://example.invalid/' },
    },
    servers: [{ url: '/api' }],
    tags: areas.map((name) => ({ name })),
    paths,
    components: {
      schemas: { ...definitions, Problem: problem },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A token made in Your account.' },
        session: { type: 'apiKey', in: 'cookie', name: 'bichroma', description: 'What signing in sets.' },
      },
    },
  }
}
