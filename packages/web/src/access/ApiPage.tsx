import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useApiDescription, type ApiOperation, type ApiSchema } from '../api/queries'
import { FindInput } from '../parts/FindInput'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'

type Definitions = Readonly<Record<string, ApiSchema>>

interface Route {
  readonly method: string
  readonly path: string
  readonly operation: ApiOperation
}

/** What programs can ask the server for, with a token; made from the server's own description (OpenAPI 3.1). */
export function ApiPage() {
  const [search, setSearch] = useState('')
  return (
    <>
      <div className="top">
        <div>
          <h1>The API</h1>
          <p>
            <Link to="/account">Your account</Link> · what programs can ask with a token ·{' '}
            <a href="/api/openapi.json">the description as OpenAPI 3.1</a>
          </p>
        </div>
      </div>
      <Loaded query={useApiDescription()}>
        {({ paths, components }) => (
          <Routes paths={paths} definitions={components.schemas} search={search} onSearch={setSearch} />
        )}
      </Loaded>
    </>
  )
}

function Routes({
  paths,
  definitions,
  search,
  onSearch,
}: {
  paths: Readonly<Record<string, Readonly<Record<string, ApiOperation>>>>
  definitions: Definitions
  search: string
  onSearch: (search: string) => void
}) {
  const areas = useMemo(() => {
    const routes = Object.entries(paths).flatMap(([path, of]) =>
      Object.entries(of).map(([method, operation]): Route => ({ method: method.toUpperCase(), path, operation })),
    )
    const words = search.toLowerCase().split(/\s+/).filter(Boolean)
    const fits = ({ method, path, operation }: Route) => {
      const text = `${method} ${path} ${operation.summary} ${operation.tags[0]}`.toLowerCase()
      return words.every((word) => text.includes(word))
    }
    const byArea = new Map<string, Route[]>()
    for (const route of routes.filter(fits)) {
      const [area] = route.operation.tags
      byArea.set(area, [...(byArea.get(area) ?? []), route])
    }
    return [...byArea]
  }, [paths, search])
  return (
    <div className="stack">
      <p className="second">
        A program sends <code className="fig">Authorization: Bearer</code> and its token, to addresses below{' '}
        <code className="fig">{window.location.origin}/api</code>. What is refused comes as problem details (RFC 9457)
        with a sentence and the field at fault.
      </p>
      <FindInput
        label="Find a route"
        placeholder="Find by address, method or what it does"
        value={search}
        onFind={onSearch}
      />
      {areas.map(([area, routes]) => (
        <Plane key={area} title={area} aside={String(routes.length)}>
          {routes.map((route) => (
            <RouteOf key={route.method + route.path} route={route} definitions={definitions} />
          ))}
        </Plane>
      ))}
      {!areas.length && <p className="none">No route fits.</p>}
    </div>
  )
}

function RouteOf({ route: { method, path, operation }, definitions }: { route: Route; definitions: Definitions }) {
  const body = operation.requestBody?.content['application/json']
  const done = operation.responses['200'] ?? operation.responses['201']
  const [type, { schema }] = Object.entries(done.content)[0]
  const isFile = !schema
  return (
    <details className="route">
      <summary>
        <span className="fig">
          {method} {path}
        </span>
        <span className="second">{operation.summary}</span>
      </summary>
      <div className="facts">
        <p className="second">{operation.description}</p>
        {operation.parameters && (
          <Fields
            title="In the address"
            definitions={definitions}
            fields={operation.parameters.map((p) => ({ name: p.name, schema: p.schema, isNeeded: p.required }))}
          />
        )}
        {body?.schema && <Fields title="Sent" definitions={definitions} fields={fieldsOf(body.schema, definitions)} />}
        {body?.example !== undefined && <pre className="fig">{JSON.stringify(body.example, null, 2)}</pre>}
        {isFile || type !== 'application/json' ? (
          <p className="second">Answers with a file: {Object.keys(done.content).join(', ')}.</p>
        ) : (
          <Fields
            title={`Answers with ${wordsOf(schema)}`}
            definitions={definitions}
            fields={fieldsOf(schema, definitions)}
          />
        )}
      </div>
    </details>
  )
}

interface Field {
  readonly name: string
  readonly schema: ApiSchema
  readonly isNeeded: boolean
}

/** A definition by its address; anything else is itself. */
const resolved = (schema: ApiSchema, definitions: Definitions): ApiSchema =>
  schema.$ref ? (definitions[schema.$ref.split('/').at(-1)!] ?? {}) : schema

/** The fields of an object, or of a list's entries. */
function fieldsOf(schema: ApiSchema, definitions: Definitions): Field[] {
  const of = resolved(schema.items ?? schema, definitions)
  return Object.entries(of.properties ?? {}).map(([name, field]) => ({
    name,
    schema: field,
    isNeeded: of.required?.includes(name) ?? false,
  }))
}

/** What a value is, in few words. */
function wordsOf(schema: ApiSchema): string {
  if (schema.$ref) return schema.$ref.split('/').at(-1)!
  if (schema.const !== undefined) return JSON.stringify(schema.const)
  if (schema.enum) return schema.enum.map((v) => JSON.stringify(v)).join(' | ')
  const several = schema.anyOf ?? schema.oneOf
  if (several)
    return several
      .map((s) => (s.properties?.kind ? `{ kind: ${wordsOf(s.properties.kind)} … }` : wordsOf(s)))
      .join(' | ')
  if (schema.items) return `list of ${wordsOf(schema.items)}`
  if (schema.prefixItems) return `[${schema.prefixItems.map(wordsOf).join(', ')}]`
  const type = Array.isArray(schema.type) ? schema.type.join(' | ') : (schema.type ?? 'anything')
  const bounds = [
    schema.minimum !== undefined && `from ${schema.minimum}`,
    schema.exclusiveMinimum !== undefined && `above ${schema.exclusiveMinimum}`,
    schema.maximum !== undefined && `to ${schema.maximum}`,
    schema.maxLength !== undefined && `${schema.maxLength} characters at most`,
  ].filter(Boolean)
  return [type, ...bounds].join(' ')
}

function Fields({ title, fields, definitions }: { title: string; fields: readonly Field[]; definitions: Definitions }) {
  return (
    <>
      <h3>{title}</h3>
      {fields.length > 0 && (
        <table className="figures people">
          <tbody>
            {fields.map(({ name, schema, isNeeded }) => (
              <tr key={name}>
                <td className="fig">
                  {name}
                  {!isNeeded && <span className="quiet">?</span>}
                </td>
                <td>{wordsOf(schema)}</td>
                <td className="second" style={{ textAlign: 'left' }}>
                  {schema.description ?? resolved(schema, definitions).description}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
