import type Database from 'better-sqlite3'
import type { DataSource, EntityManager, EntitySchema } from 'typeorm'

/** A query that can be asked for its SQL: TypeORM's builders for insert and update. */
export interface Statement {
  getQueryAndParameters(): [string, unknown[]]
}

/** Takes one statement; gives the number of the row it added. */
export type Take = (statement: Statement) => number

/**
 * Carries out several statements as one, or none of them. They run in one go without giving way to anything else: all
 * work of the server shares one connection, so a transaction that waited in between would take others' readings into
 * itself, and lose them if it failed.
 */
export function atomically<T>(data: DataSource, work: (take: Take) => T): T {
  const { databaseConnection: connection } = data.driver as unknown as { databaseConnection: Database.Database }
  const take: Take = (statement) => {
    const [sql, parameters] = statement.getQueryAndParameters()
    return Number(
      prepared(connection, sql).run(...parameters.map((p) => (typeof p === 'boolean' ? Number(p) : p))).lastInsertRowid,
    )
  }
  return connection.transaction(() => work(take))()
}

/** Statements that are kept prepared, the newest used last: some have triggers that take a millisecond to compile. */
const mostPrepared = 200
const statements = new WeakMap<Database.Database, Map<string, Database.Statement>>()

function prepared(connection: Database.Database, sql: string): Database.Statement {
  const known = statements.get(connection) ?? new Map<string, Database.Statement>()
  statements.set(connection, known)
  const statement = known.get(sql) ?? connection.prepare(sql)
  known.delete(sql)
  known.set(sql, statement)
  if (known.size > mostPrepared) known.delete(known.keys().next().value!)
  return statement
}

/** The statement that adds a row. */
export const insertion = <T extends { id: number }>(
  manager: EntityManager,
  entity: EntitySchema<T>,
  row: Omit<T, 'id'>,
): Statement =>
  manager
    .createQueryBuilder()
    .insert()
    .into(entity)
    .values(row as never)

/** A statement written out. */
export const written = (sql: string, parameters: readonly unknown[]): Statement => ({
  getQueryAndParameters: () => [sql, [...parameters]],
})

/** Rows that the statement before has changed. */
export const changesMade = (data: DataSource): number => ask(data, 'SELECT changes()')

/** Rows that were changed since the store was opened. */
export const changesInAll = (data: DataSource): number => ask(data, 'SELECT total_changes()')

function ask(data: DataSource, sql: string): number {
  const { databaseConnection: connection } = data.driver as unknown as { databaseConnection: Database.Database }
  return connection.prepare(sql).pluck().get() as number
}
