import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import type { LedgerEntry, LedgerQuery, Page } from '@bichroma/contract'
import { usualRows } from '@bichroma/contract'
import { Refusal } from '../http/problem'
import { entryOf, ledgerColumns, type LedgerRow } from './ledger'

const day = 86_400_000

/** What is asked for, as conditions with their values. */
function conditionsOf(query: LedgerQuery): { where: string[]; values: unknown[] } {
  const where: string[] = []
  const values: unknown[] = []
  const ask = (condition: string, ...given: unknown[]) => {
    where.push(condition)
    values.push(...given)
  }
  if (query.thing) ask('thing = ?', query.thing)
  if (query.thingId) ask('thing_id = ?', Number(query.thingId))
  if (query.by) ask('by = ?', query.by)
  if (query.from) ask('at >= ?', Date.parse(query.from))
  if (query.to) ask('at < ?', Date.parse(query.to) + day)
  if (query.search?.trim())
    ask(
      `holds_all(by || ' ' || act || ' ' || thing || ' ' || name, folded(?))`,
      query.search.trim().replace(/\s+/g, ' '),
    )
  return { where, values }
}

const storeOf = (data: DataSource) =>
  (data.driver as unknown as { databaseConnection: Database.Database }).databaseConnection

/** Entries that are read at a time for a file, so that others are answered in between. */
const fileBlock = 500

/** The entries that are asked for as JSON lines, oldest first, block by block. */
export async function* ledgerLines(data: DataSource, query: LedgerQuery): AsyncGenerator<string> {
  const { where, values } = conditionsOf(query)
  const block = storeOf(data).prepare(
    `SELECT ${ledgerColumns} FROM ledger WHERE ${[...where, 'id > ?'].join(' AND ')} ORDER BY id LIMIT ${fileBlock}`,
  )
  for (let last = 0; ;) {
    const rows = block.all(...values, last) as LedgerRow[]
    if (rows.length)
      yield rows.map((row) => `${JSON.stringify({ ...entryOf(row), previous: row.previous })}\n`).join('')
    if (rows.length < fileBlock) return
    last = rows[rows.length - 1].id
    await new Promise((resolve) => setImmediate(resolve))
  }
}

/** Entries by what is asked for, newest first; the cursor is the number of the last one given. */
export function listLedger(data: DataSource, query: LedgerQuery): Page<LedgerEntry> {
  const store = storeOf(data)
  const limit = query.limit === undefined ? usualRows : Number(query.limit)
  const { where, values } = conditionsOf(query)
  const ask = (condition: string, ...given: unknown[]) => {
    where.push(condition)
    values.push(...given)
  }
  const all = where.length ? `WHERE ${where.join(' AND ')}` : ''
  const total = store
    .prepare(`SELECT COUNT(*) FROM ledger ${all}`)
    .pluck()
    .get(...values) as number
  if (query.cursor !== undefined) {
    if (!/^[1-9][0-9]{0,14}$/.test(query.cursor))
      throw new Refusal('invalid-input', '“cursor” must be what the part before gave as “next”.', 'cursor')
    ask('id < ?', Number(query.cursor))
  }
  const rows = store
    .prepare(
      `SELECT ${ledgerColumns} FROM ledger ${where.length ? `WHERE ${where.join(' AND ')}` : ''} ORDER BY id DESC LIMIT ?`,
    )
    .all(...values, limit + 1) as LedgerRow[]
  const items = rows.slice(0, limit).map(entryOf)
  return { items, next: rows.length > limit ? String(items[items.length - 1].id) : null, total, more: false }
}
