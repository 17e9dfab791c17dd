import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { promisify } from 'node:util'
import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import { open, type Entry, type ZipFile } from 'yauzl'
import { FirstVisit, newToken, tokenDigest } from '../../access/firstVisit'
import { StoreRefusal } from '../../data/storeFault'
import { rebuildDisplays } from '../../floor/rebuildDisplays'
import { proveLedger } from '../../ledger/ledger'
import { migrationNames, openStore } from '../store'
import { archivedTables, columnsOf, type ArchiveHead } from './tables'

/** Days for which the links of administrators are good. */
const linkDays = 7
/** The longest head that an archive has, bytes, and the longest content. */
const longestHead = 1_000_000
const longestContent = 512 * 2 ** 20

/** A one-time link for an administrator, by login. */
export interface ArchiveLink {
  readonly login: string
  readonly token: string
}

const refuse = (file: string, why: string) =>
  new StoreRefusal(`${file} cannot be taken in. Nothing was changed. ${why}`)

const openZip = promisify<string, { lazyEntries: true; autoClose: false; validateEntrySizes: true }, ZipFile>(
  open as never,
)

/** The entries of an archive by name. */
function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>()
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry)
      zip.readEntry()
    })
    zip.on('end', () => resolve(entries))
    zip.on('error', reject)
    zip.readEntry()
  })
}

const streamOf = (zip: ZipFile, entry: Entry) =>
  new Promise<NodeJS.ReadableStream>((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  )

async function bytesOf(zip: ZipFile, entry: Entry, most: number): Promise<Buffer> {
  if (entry.uncompressedSize > most) throw new Error(`${entry.fileName} is larger than it may be.`)
  const chunks: Buffer[] = []
  for await (const chunk of await streamOf(zip, entry)) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

/** What an archive says of itself. Throws an error with a sentence. */
async function headOf(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<ArchiveHead> {
  const entry = entries.get('archive.json')
  if (!entry) throw new Error('There is no archive.json in it: it is no archive of Bichroma.')
  const head = JSON.parse((await bytesOf(zip, entry, longestHead)).toString('utf8')) as Partial<ArchiveHead> | null
  if (head?.format !== 'bichroma-archive') throw new Error('It is no archive of Bichroma.')
  if (head.version !== 1) throw new Error(`It is of version ${String(head.version)}; this Bichroma reads version 1.`)
  if (!migrationNames.includes(head.store!))
    throw new Error('It was made by a newer Bichroma. Take it in with that one.')
  return head as ArchiveHead
}

/** The rows of a table's lines. Throws an error that names the line. */
async function* rowsOf(zip: ZipFile, entry: Entry): AsyncGenerator<Record<string, unknown>> {
  let n = 0
  for await (const line of createInterface({ input: await streamOf(zip, entry), crlfDelay: Infinity })) {
    n++
    let row: unknown
    try {
      row = JSON.parse(line, (_key, value: unknown) => {
        const base64 = (value as { $base64?: unknown } | null)?.$base64
        return typeof base64 === 'string' ? Buffer.from(base64, 'base64') : value
      })
    } catch {
      throw new Error(`${entry.fileName}, line ${n}: this is no JSON.`)
    }
    if (typeof row !== 'object' || row === null || Array.isArray(row))
      throw new Error(`${entry.fileName}, line ${n}: this is no row.`)
    yield row as Record<string, unknown>
  }
}

/** Writes the rows of a table; gives how many. */
async function takeTable(store: Database.Database, zip: ZipFile, entry: Entry, table: string): Promise<number> {
  const columns = columnsOf(store, table)
  const places = columns.map(() => '?').join(', ')
  const insert = store.prepare(`INSERT INTO "${table}" (${columns.map((c) => `"${c}"`).join(', ')}) VALUES (${places})`)
  let count = 0
  for await (const row of rowsOf(zip, entry)) {
    const unknown = Object.keys(row).find((name) => !columns.includes(name))
    if (unknown !== undefined) throw new Error(`${entry.fileName}, line ${count + 1}: there is no column “${unknown}”.`)
    insert.run(...columns.map((c) => row[c] ?? null))
    count++
  }
  return count
}

/** Writes the contents, each looked at by its hash; gives how many. */
async function takeContents(
  store: Database.Database,
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
): Promise<number> {
  const table = entries.get('tables/content.jsonl')
  if (!table) return 0
  const insert = store.prepare('INSERT INTO content (hash, bytes, created_at) VALUES (?, ?, ?)')
  const files = new Map(
    [...entries].flatMap(([name, entry]): [string, Entry][] => {
      const hash = /^contents\/([0-9a-f]{64})\.[a-z]+$/.exec(name)?.[1]
      return hash ? [[hash, entry]] : []
    }),
  )
  let count = 0
  for await (const { hash, created_at: at } of rowsOf(zip, table)) {
    const file = files.get(String(hash))
    if (!file) throw new Error(`The content ${String(hash).slice(0, 12)}… is not in it.`)
    const bytes = await bytesOf(zip, file, longestContent)
    if (createHash('sha256').update(bytes).digest('hex') !== hash)
      throw new Error(`${file.fileName} is not what its name says.`)
    insert.run(hash, bytes, at)
    count++
  }
  return count
}

/** Writes all that an archive holds into a store that is empty, and looks whether it holds together. */
async function fill(
  data: DataSource,
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  head: ArchiveHead,
): Promise<void> {
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  // Tables come in the order of their names; whether they fit together is looked at once all are there.
  store.pragma('foreign_keys = OFF')
  store.exec('BEGIN')
  const known = archivedTables(store)
  const lacking = known.find((table) => !(table in head.tables))
  const strange = Object.keys(head.tables).find((table) => !known.includes(table))
  if (lacking ?? strange) throw new Error(`The table ${lacking ?? strange} does not belong to what it says it is.`)
  // What a new store begins with is not this studio's.
  for (const table of known) if (table !== 'ledger') store.exec(`DELETE FROM "${table}"`)
  await takeContents(store, zip, entries)
  // What is due for a validation is noted by triggers while runs come in, and then said by the archive itself.
  for (const table of [...known.filter((t) => t !== 'content' && t !== 'validation_due'), 'validation_due']) {
    if (table === 'validation_due') store.exec('DELETE FROM validation_due')
    const entry = entries.get(`tables/${table}.jsonl`)
    const count = entry ? await takeTable(store, zip, entry, table) : 0
    if (count !== head.tables[table])
      throw new Error(`The table ${table} has ${count} rows; archive.json says ${head.tables[table]}.`)
  }
  for (const [table, number] of Object.entries(head.numbers))
    if (!store.prepare('UPDATE sqlite_sequence SET seq = ? WHERE name = ?').run(number, table).changes)
      store.prepare('INSERT INTO sqlite_sequence (name, seq) VALUES (?, ?)').run(table, number)
  const [loose] = store.pragma('foreign_key_check') as { table: string; parent: string }[]
  if (loose) throw new Error(`A row of ${loose.table} belongs to a row of ${loose.parent} that is not there.`)
  const proof = await proveLedger(store)
  if (proof.faults.length) throw new Error(`Entry ${proof.faults[0].id} of the ledger: ${proof.faults[0].what}.`)
  store.exec('COMMIT')
  store.pragma('foreign_keys = ON')
}

/** Lets administrators in, whose passwords stayed behind: a one-time link for each. */
async function linksFor(data: DataSource, now: number): Promise<ArchiveLink[]> {
  const admins = await data.query<{ id: number; login: string }[]>(
    `SELECT id, login FROM account WHERE role = 'administrator' AND locked_at IS NULL ORDER BY id`,
  )
  const links: ArchiveLink[] = []
  for (const { id, login } of admins) {
    const token = newToken()
    await data.query('INSERT INTO account_token (account_id, hash, made_at, expires_at) VALUES (?, ?, ?, ?)', [
      id,
      tokenDigest(token).toString('hex'),
      now,
      now + linkDays * 86_400_000,
    ])
    links.push({ login, token })
  }
  return links
}

/**
 * Makes a store in a folder from an archive: of this version's tables, or of an earlier one's, which are brought up to date.
 * The folder must hold none. Everything is looked at before it counts; else nothing is left. Throws StoreRefusal.
 */
export async function readArchive(
  file: string,
  folder: string,
  now: number,
): Promise<{ head: ArchiveHead; links: ArchiveLink[] }> {
  const place = join(folder, 'bichroma.sqlite')
  if (existsSync(place)) throw refuse(file, `There is a store in ${folder} already; choose an empty folder.`)
  const arriving = join(folder, `.arriving-${randomBytes(4).toString('hex')}`)
  let zip: ZipFile | null = null
  try {
    zip = await openZip(file, { lazyEntries: true, autoClose: false, validateEntrySizes: true })
    const entries = await entriesOf(zip)
    const head = await headOf(zip, entries)
    mkdirSync(arriving, { recursive: true, mode: 0o700 })
    const then = await openStore(arriving, { durable: false, upTo: head.store })
    try {
      await fill(then, zip, entries, head)
    } finally {
      await then.destroy()
    }
    const data = await openStore(arriving)
    let links: ArchiveLink[]
    try {
      await rebuildDisplays(data)
      links = (await new FirstVisit(data).open()) ? [] : await linksFor(data, now)
      await data.query('PRAGMA wal_checkpoint(TRUNCATE)')
    } finally {
      await data.destroy()
    }
    renameSync(join(arriving, 'bichroma.sqlite'), place)
    return { head, links }
  } catch (error) {
    if (error instanceof StoreRefusal) throw error
    throw refuse(file, (error as Error).message)
  } finally {
    zip?.close()
    rmSync(arriving, { recursive: true, force: true })
  }
}
