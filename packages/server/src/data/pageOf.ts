import type { DataSource } from 'typeorm'
import { InvalidInput, usualRows, type Page } from '@bichroma/contract'
import { folded } from './folded'

/** What a list is asked by; see the contract's listFields. */
export interface Asked {
  readonly search?: string
  readonly cursor?: string
  readonly limit?: string
}

/** A condition with its parameters. */
export interface Condition {
  readonly sql: string
  readonly parameters?: readonly unknown[]
}

export interface ListOf {
  readonly columns: string
  /** Tables and how they are joined. */
  readonly from: string
  readonly fromParameters?: readonly unknown[]
  readonly where: readonly (Condition | null | false | undefined)[]
  /** What sorts it, an SQL expression that is never null, and its direction. */
  readonly by: string
  readonly byParameters?: readonly unknown[]
  readonly down?: boolean
  /** The column that tells rows apart, an SQL expression: the order among what is alike, in the same direction. */
  readonly id: string
  /** Tables that are enough to count rows, where `from` joins more than the conditions need. */
  readonly countFrom?: string
  /** Rows after which nobody counts further; all are counted unless given. */
  readonly countUpTo?: number
}

/** One part of a list, from where a cursor says: by keys and not by their number, so that its end costs what its beginning does. */
export async function pageOf<R>(
  data: DataSource,
  { cursor, limit }: Asked,
  {
    columns,
    from,
    fromParameters = [],
    where,
    by,
    byParameters = [],
    down = false,
    id,
    countFrom = from,
    countUpTo,
  }: ListOf,
): Promise<Page<R>> {
  const conditions = where.filter((c) => c !== null && c !== undefined && c !== false)
  const kept = (all: readonly Condition[]) => (all.length ? `WHERE ${all.map((c) => `(${c.sql})`).join(' AND ')}` : '')
  const parameters = (all: readonly Condition[]) => all.flatMap((c) => [...(c.parameters ?? [])])
  const rows = usualOr(limit)
  const start = cursor === undefined ? null : readCursor(cursor)
  const after = start
    ? [
        ...conditions,
        { sql: `(${by}, ${id}) ${down ? '<' : '>'} (?, ?)`, parameters: [...byParameters, start.by, start.id] },
      ]
    : conditions
  const found = await data.query<(R & { sort_key: string | number; sort_id: number })[]>(
    `SELECT ${by} AS sort_key, ${id} AS sort_id, ${columns} FROM ${from} ${kept(after)}
     ORDER BY 1 ${down ? 'DESC' : 'ASC'}, 2 ${down ? 'DESC' : 'ASC'} LIMIT ${rows + 1}`,
    [...byParameters, ...fromParameters, ...parameters(after)],
  )
  const part = found.slice(0, rows)
  const last = part.at(-1)
  const { total, more } = start ?? (await count())
  return {
    items: part.map(({ sort_key: _by, sort_id: _id, ...row }) => row as unknown as R),
    next: found.length > rows && last ? writeCursor({ by: last.sort_key, id: last.sort_id, total, more }) : null,
    total,
    more,
  }

  async function count(): Promise<Pick<Cursor, 'total' | 'more'>> {
    const [{ total: counted }] = await data.query<{ total: number }[]>(
      countUpTo === undefined
        ? `SELECT COUNT(*) AS total FROM ${countFrom} ${kept(conditions)}`
        : `SELECT COUNT(*) AS total FROM (SELECT 1 FROM ${countFrom} ${kept(conditions)} LIMIT ${countUpTo + 1})`,
      [...fromParameters, ...parameters(conditions)],
    )
    const beyond = countUpTo !== undefined && counted > countUpTo
    return { total: beyond ? countUpTo : counted, more: beyond }
  }
}

const usualOr = (limit: string | undefined) => (limit === undefined ? usualRows : Number(limit))

/** Where a list goes on: after the row of these keys. What was counted at its beginning goes with it. */
interface Cursor {
  readonly by: string | number
  readonly id: number
  readonly total: number
  readonly more: boolean
}

const writeCursor = ({ by, id, total, more }: Cursor) =>
  Buffer.from(JSON.stringify([by, id, total, more ? 1 : 0])).toString('base64url')

function readCursor(cursor: string): Cursor {
  let key: unknown = null
  try {
    key = JSON.parse(Buffer.from(cursor, 'base64url').toString('utf8'))
  } catch {
    // Told below, like any other that no list gave.
  }
  const [by, id, total, more] = Array.isArray(key) && key.length === 4 ? (key as unknown[]) : []
  const isCount = Number.isSafeInteger(total) && (total as number) >= 0
  if ((typeof by !== 'string' && typeof by !== 'number') || !Number.isSafeInteger(id) || !isCount)
    throw new InvalidInput('“cursor” must be one that this list gave.', 'cursor')
  return { by, id: id as number, total: total as number, more: more === 1 }
}

/** Rows that hold every word of a search, whatever their case and accents. `column`: an SQL expression of text. */
export function holds(column: string, search: string | undefined): Condition | null {
  const words = folded(search ?? '')
    .split(/\s+/)
    .filter(Boolean)
  if (!words.length) return null
  return { sql: `holds_all(${column}, ?)`, parameters: [words.join(' ')] }
}
