import { createWriteStream } from 'node:fs'
import { rename, rm } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import Database from 'better-sqlite3'
import { ZipFile } from 'yazl'
import { writeReadings } from '@bichroma/core/formats'
import { archivedTables, columnsOf, contentName, leftBehind, secrets, type ArchiveHead } from './tables'

/** What an archive holds, told in it. */
const readMe = `This is all that a studio keeps in Bichroma, in forms that anybody can read.

archive.json          what this is: its version, the step of the store that the tables are of, and how much of each there is
tables/NAME.jsonl     each table, a row a line as JSON, by the names of its columns. Times are ms since 1970 in UTC,
                      luminances cd/m2, XYZ as X, Y, Z in cd/m2. What is structured is JSON in its column.
readings/RUN.cgats    the readings of each run as CGATS.17: signal or drive 0 to 100, XYZ in cd/m2
contents/HASH.ENDING  profiles (ICC), reports and tables of slots, named by their SHA-256

Left out: passwords, second factors, keys and tokens, sessions. After "npm run -s archive -- in FILE --data DIR" each
administrator gets a one-time link.
`

const jsonOf = (row: Record<string, unknown>): string =>
  `${JSON.stringify(row, (_key, value: unknown) =>
    // A BLOB comes as what Node makes of a Buffer.
    typeof value === 'object' && value !== null && (value as { type?: unknown }).type === 'Buffer'
      ? { $base64: Buffer.from((value as unknown as { data: number[] }).data).toString('base64') }
      : value,
  )}\n`

/**
 * Writes all that a store holds as an open archive; a server may be on its folder meanwhile: what it told before this began
 * is in it. The file is whole or not there. Gives what it holds.
 */
export async function writeArchive(database: string, file: string, now: number): Promise<ArchiveHead> {
  const store = new Database(database, { readonly: true, fileMustExist: true })
  const part = `${file}.part`
  try {
    // One state of the store for all of it.
    store.exec('BEGIN')
    const head = headOf(store, now)
    const options = { mtime: new Date(now), compress: true }
    const zip = new ZipFile()
    const output = zip.outputStream as unknown as Readable
    /** Adds an entry that is made when its turn comes; what fails then ends it all. */
    const add = (name: string, made: () => Iterable<string | Buffer>) =>
      zip.addReadStreamLazy(name, options, (done) => {
        const stream = Readable.from(made())
        stream.once('error', (error) => output.destroy(error))
        done(null, stream)
      })
    const written = pipeline(output, createWriteStream(part, { mode: 0o600 }))
    zip.addBuffer(Buffer.from(`${JSON.stringify(head, null, 2)}\n`), 'archive.json', options)
    zip.addBuffer(Buffer.from(readMe), 'README.txt', options)
    for (const table of Object.keys(head.tables)) add(`tables/${table}.jsonl`, () => linesOf(store, table))
    for (const id of store.prepare('SELECT DISTINCT run_id FROM reading ORDER BY run_id').pluck().all() as number[])
      add(`readings/${id}.cgats`, () => [readingsOf(store, id)])
    const bytesOf = store.prepare('SELECT bytes FROM content WHERE hash = ?').pluck()
    const contents = store.prepare('SELECT hash, substr(bytes, 1, 64) AS start FROM content ORDER BY hash')
    for (const { hash, start } of contents.all() as { hash: string; start: Buffer }[])
      add(contentName(hash, Buffer.from(start)), () => [bytesOf.get(hash) as Buffer])
    zip.end()
    await written
    await rename(part, file)
    return head
  } catch (error) {
    await rm(part, { force: true })
    throw error
  } finally {
    store.close()
  }
}

function headOf(store: Database.Database, now: number): ArchiveHead {
  const count = (table: string) => store.prepare(`SELECT COUNT(*) FROM ${table}`).pluck().get() as number
  const tables = archivedTables(store)
  const numbers = store.prepare('SELECT name, seq FROM sqlite_sequence ORDER BY name').all() as {
    name: string
    seq: number
  }[]
  return {
    format: 'bichroma-archive',
    version: 1,
    madeAt: new Date(now).toISOString(),
    store: store.prepare('SELECT name FROM migrations ORDER BY id DESC LIMIT 1').pluck().get() as string,
    tables: Object.fromEntries(tables.map((table) => [table, count(table)])),
    contents: count('content'),
    numbers: Object.fromEntries(numbers.filter((n) => tables.includes(n.name)).map(({ name, seq }) => [name, seq])),
  }
}

/** The columns of a table's key, in which order its rows are written. */
const orderOf = (store: Database.Database, table: string): string =>
  (store.pragma(`table_info(${table})`) as { name: string; pk: number }[])
    .filter((c) => c.pk > 0)
    .sort((a, b) => a.pk - b.pk)
    .map((c) => `"${c.name}"`)
    .join(', ')

/** The rows of a table, a line each, by their key. */
function* linesOf(store: Database.Database, table: string): Generator<string> {
  const columns = columnsOf(store, table)
  const hidden = secrets[table] ?? []
  const rows = store.prepare(
    `SELECT ${columns.map((c) => `"${c}"`).join(', ')} FROM ${table} ORDER BY ${orderOf(store, table)}`,
  )
  let lines = ''
  for (const row of rows.iterate() as IterableIterator<Record<string, unknown>>) {
    for (const column of hidden) row[column] = leftBehind(column)
    lines += jsonOf(row)
    if (lines.length > 65_536) {
      yield lines
      lines = ''
    }
  }
  if (lines) yield lines
}

/** The readings of a run as CGATS.17, which any other program reads. */
function readingsOf(store: Database.Database, runId: number): string {
  const rows = store.prepare('SELECT name, r, g, b, x, y, z FROM reading WHERE run_id = ? ORDER BY seq').all(runId) as {
    name: string
    r: number
    g: number
    b: number
    x: number
    y: number
    z: number
  }[]
  const createdAt = store.prepare('SELECT started_at FROM run WHERE id = ?').pluck().get(runId) as number
  return writeReadings(
    rows.map(({ name, r, g, b, x, y, z }) => ({ name, rgb: [r, g, b], xyz: [x, y, z] })),
    { description: `Readings of run ${runId}`, createdAt },
  )
}
