import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import type { LedgerEntry, LedgerQuery, Page } from '@bichroma/contract'
import { usualRows } from '@bichroma/contract'
import { Refusal } from '../http/problem'
import { entryOf, ledgerColumns, type LedgerRow } from './ledger'

const day = 86_400_000

/** Entries by what is asked for, newest first; the cursor is the number of the last one given. */
export function listLedger(data: DataSource, query: LedgerQuery): Page<LedgerEntry> {
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  const limit = query.limit === undefined ? usualRows : Number(query.limit)
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
