import type Database from 'better-sqlite3'

/** What an archive says of itself. */
export interface ArchiveHead {
  readonly format: 'bichroma-archive'
  readonly version: 1
  /** UTC, as in 2026-11-26T09:00:00.000Z. */
  readonly madeAt: string
  /** The last step of the store that its tables are of. */
  readonly store: string
  /** Rows by table. */
  readonly tables: Readonly<Record<string, number>>
  readonly contents: number
  /** Numbers that tables have given out, by table. */
  readonly numbers: Readonly<Record<string, number>>
}

/** Tables that are made from others, or that are of this server and nobody else's. */
const notArchived = new Set([
  'display_now',
  'wanted_due',
  'migrations',
  'session',
  'account_token',
  'api_token',
  'recovery_code',
  'courier_content',
  // Its tokens are made with a secret that stays in the folder.
  'open_link',
])

/** Columns that hold secrets: they stay where they are. */
export const secrets: Readonly<Record<string, readonly string[]>> = {
  account: ['password_hash', 'factor_secret', 'factor_offered'],
  workstation: ['courier_key_hash'],
}

/** What stands for a secret that was left behind: an account without a password waits for its owner. */
export const leftBehind = (column: string): string | null => (column === 'password_hash' ? '' : null)

/** Tables that an archive holds, in the order of their names. */
export const archivedTables = (store: Database.Database): string[] =>
  (
    store
      .prepare(`SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name`)
      .pluck()
      .all() as string[]
  ).filter((name) => !notArchived.has(name))

/** Columns of a table that hold something of their own, not made from others. */
export const columnsOf = (store: Database.Database, table: string): string[] =>
  (store.pragma(`table_xinfo(${table})`) as { name: string; hidden: number }[])
    // Contents are files of their own.
    .filter((c) => c.hidden === 0 && !(table === 'content' && c.name === 'bytes'))
    .map((c) => c.name)

/** How a content is called in an archive: by its hash, and what it looks like. */
export function contentName(hash: string, bytes: Buffer): string {
  const begins = bytes.subarray(0, 64).toString('latin1')
  const ending =
    begins.slice(36, 40) === 'acsp'
      ? 'icc'
      : begins.startsWith('\x89PNG')
        ? 'png'
        : begins.startsWith('\xff\xd8')
          ? 'jpg'
          : /^\s*[{[]/.test(begins)
            ? 'json'
            : /^\s*</.test(begins)
              ? 'html'
              : 'bin'
  return `contents/${hash}.${ending}`
}
