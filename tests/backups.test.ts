import { spawnSync } from 'node:child_process'
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  statSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { Backup, Backups, LedgerEntry, Page, Session } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { proveBackup } from '../packages/server/src/studio/proveBackup'
import { ApiClient } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { Studio } from './studio'
import { builtProgram } from '../scripts/builtProgram.cjs'

let studio: Studio
const outside = mkdtempSync(join(tmpdir(), 'bichroma-backups-'))
const folder = join(outside, 'kept')
beforeAll(async () => {
  studio = await Studio.proven({ backups: { folder, keep: 3 } })
})
afterAll(async () => {
  await studio.close()
  rmSync(outside, { recursive: true, force: true })
})

const make = async () => {
  // Its name is the instant that it is of, to the second.
  studio.clock.jumpTo(studio.clock.now() + 2000)
  return studio.admin.post<Backup>('/backups')
}
const restore = (...args: string[]) =>
  spawnSync(process.execPath, [builtProgram('packages/server/src/app/restore.ts'), ...args], { encoding: 'utf8' })

test('a backup made while a run goes on holds everything that was acknowledged, and is told of @long', async () => {
  const before = existsSync(folder) ? readdirSync(folder) : []
  const id = await studio.start({ kind: 'check' })
  const [made] = await Promise.all([make(), studio.finish(id)])
  const file = join(folder, made.name)
  expect(await proveBackup(file)).toMatchObject({ displays: 1, faults: [] })
  // One file, for its owner only.
  expect(readdirSync(folder).filter((name) => !before.includes(name))).toEqual([made.name])
  expect((statSync(file).mode & 0o777).toString(8)).toBe('600')
  const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=backup')
  expect(items[0]).toMatchObject({ act: 'made', name: made.name, evidence: { bytes: made.bytes, displays: 1 } })
})

test('what a killed server left of one is cleared away a day later, and nothing else', async () => {
  await make()
  const left = ['bichroma-2026-01-02T030405.sqlite.part', 'bichroma-2026-01-02T030405.sqlite.part-journal']
  const others = ['notes.part', 'bichroma-2026-01-02T030406.sqlite.part']
  for (const name of [...left, ...others]) writeFileSync(join(folder, name), 'half')
  const before = new Date(Date.now() - 25 * 3_600_000)
  for (const name of [...left, 'notes.part']) utimesSync(join(folder, name), before, before)
  await make()
  const there = readdirSync(folder)
  expect(there).toEqual(expect.arrayContaining(others))
  expect(there.filter((name) => left.includes(name))).toEqual([])
  for (const name of others) rmSync(join(folder, name))
})

test('two asked for at once are one; the newest three are kept', async () => {
  const [a, b] = await Promise.all([make(), studio.admin.post<Backup>('/backups')])
  expect(b).toEqual(a)
  for (let n = 0; n < 3; n++) await make()
  const { backups, fault } = await studio.admin.get<Backups>('/backups')
  expect(backups).toHaveLength(3)
  expect(readdirSync(folder)).toHaveLength(3)
  expect(fault).toBeNull()
})

test('a folder that cannot be written is told in a sentence, and nothing half made is left', async () => {
  const taken = join(outside, 'a-file')
  writeFileSync(taken, '')
  const other = await Studio.open(undefined, { backups: { folder: join(taken, 'in-a-file') } })
  await expect(other.admin.post('/backups')).rejects.toThrow('No backup could be made in')
  const { backups, fault } = await other.admin.get<Backups>('/backups')
  expect(backups).toEqual([])
  expect(fault).toContain('No backup could be made in')
  await other.close()
})

test('a server that is stopped waits for no backup, and leaves no half of one', async () => {
  let begun = () => {}
  const copying = new Promise<void>((resolve) => (begun = resolve))
  let breakOff = (_: Error) => {}
  const other = await Studio.open(undefined, {
    backups: { folder: join(outside, 'broken-off') },
    // A store so large that its copy never ends by itself.
    slowThreads: {
      run: (_task, ...[paths]) =>
        new Promise((_, reject) => {
          writeFileSync((paths as { to: string }).to, 'half')
          breakOff = reject
          begun()
        }),
      close: async () => breakOff(new Error('The thread was ended')),
    },
  })
  const asked = other.admin.raw('POST', '/backups').catch(() => null)
  await copying
  await other.close()
  await asked
  expect(readdirSync(join(outside, 'broken-off'))).toEqual([])
})

describe('what does not hold is found', () => {
  const spoiled = async (spoil: (store: Database.Database) => void) => {
    const { name } = await make()
    const file = join(outside, `spoiled-${name}`)
    copyFileSync(join(folder, name), file)
    const store = new Database(file)
    spoil(store)
    store.close()
    return file
  }

  test('one byte of a content @long', async () => {
    const file = await spoiled((store) =>
      store.exec(`UPDATE content SET bytes = CAST(x'00' || substr(bytes, 2) AS BLOB) WHERE rowid = 1`),
    )
    const { faults } = await proveBackup(file)
    expect(faults).toHaveLength(1)
    expect(faults[0]).toMatch(/^The content [0-9a-f]{12}… is not what its hash says\.$/)
    const target = join(outside, 'never')
    const { stderr, status } = restore(file, '--data', target)
    expect([status, stderr]).toEqual([1, expect.stringContaining('cannot be restored. Nothing was changed.')])
    expect(existsSync(target)).toBe(false)
  })

  test('an entry of the ledger', async () => {
    const file = await spoiled((store) => {
      store.exec('DROP TRIGGER ledger_unchanged')
      store.exec(`UPDATE ledger SET by = 'Nobody' WHERE id = 2`)
    })
    expect((await proveBackup(file)).faults).toEqual(['Entry 2 of the ledger: it was changed.'])
  })

  test.each([
    ['a file that is none', 'no database at all, but long enough to be looked at'.repeat(40)],
    ['an empty file', ''],
  ])('%s @long', async (_what, text) => {
    const file = join(outside, `no-${text.length}.sqlite`)
    writeFileSync(file, text)
    expect((await proveBackup(file)).faults.length).toBeGreaterThan(0)
    expect(restore(file, '--data', join(outside, 'never')).status).toBe(1)
  })

  test('a file cut short', async () => {
    const { name, bytes } = await make()
    const file = join(outside, 'cut.sqlite')
    copyFileSync(join(folder, name), file)
    truncateSync(file, Math.floor(bytes / 2))
    expect((await proveBackup(file)).faults[0]).toMatch(/damaged|no store/)
  })
})

test('restoring keeps what was there, refuses a folder in use, and gives the same studio @long', async () => {
  const made = await make()
  const file = join(folder, made.name)
  const used = restore(file, '--data', join(studio.folder, 'data'))
  expect(used.stderr).toContain('belongs to another Bichroma that is running')
  expect(restore('--data', outside).stderr).toContain('Say which backup')
  expect(restore(join(outside, 'none.sqlite')).stderr).toContain('There is no file')

  const target = join(outside, 'target')
  expect(restore(file, '--data', target).stdout).toContain('Restored: 1 displays')
  // What was written last is in the log beside the store: it goes with the one that is kept.
  const before = new Database(join(target, 'bichroma.sqlite'))
  before.pragma('journal_mode = WAL')
  before.exec(`INSERT INTO room (name) VALUES ('Written last')`)
  // As a server that was killed leaves both.
  const both = ['bichroma.sqlite', 'bichroma.sqlite-wal']
  for (const name of both) copyFileSync(join(target, name), join(outside, name))
  before.close()
  for (const name of both) copyFileSync(join(outside, name), join(target, name))
  const told = restore(file, '--data', target).stdout
  const kept = new Database(/is kept as (.*)\.\n/.exec(told)![1], { readonly: true })
  expect(kept.prepare('SELECT name FROM room').pluck().all()).toContain('Written last')
  kept.close()
  expect(readdirSync(target).filter((name) => /^bichroma\.sqlite(-wal|-shm|\.restored)$/.test(name))).toEqual([])
  const server = await startServer({ dataDir: target, durable: false })
  const client = new HeldClient(server.url)
  // Its people are its people again.
  await client.signIn('administrator', 'admin-word')
  expect((await client.get<Session>('/session')).account).toMatchObject({ login: 'administrator' })
  const report = async (from: ApiClient) =>
    Buffer.from(await (await from.raw('GET', '/runs/1/report?as=html')).arrayBuffer())
  expect(Buffer.compare(await report(client), await report(studio.admin))).toBe(0)
  expect((await client.get<{ faults: unknown[] }>('/ledger/proof')).faults).toEqual([])
  await server.close()
})

test('before a store is brought up to date a copy of it is kept @long', async () => {
  const old = join(outside, 'old')
  const server = await startServer({ dataDir: old, durable: false })
  await server.close()
  const store = new Database(join(old, 'bichroma.sqlite'))
  // As the version before left it.
  store.exec(`DROP TABLE ledger; DROP TABLE account_token; DROP INDEX session_of_account;
    ALTER TABLE account DROP COLUMN locked_at; ALTER TABLE account DROP COLUMN signed_in_at;
    ALTER TABLE session DROP COLUMN account_id; ALTER TABLE session DROP COLUMN started_at;
    ALTER TABLE session DROP COLUMN seen_at; ALTER TABLE session DROP COLUMN browser;
    DELETE FROM migrations WHERE name LIKE 'Eighth%'`)
  store.close()
  const told = jest.spyOn(console, 'error').mockImplementation(() => {})
  const again = await startServer({ dataDir: old, durable: false })
  await again.close()
  expect(told.mock.calls.flat().join()).toMatch(
    /brought up to date in 1 steps\. As it was it is kept in .*before-Eighth/,
  )
  told.mockRestore()
  const copy = new Database(join(old, 'backups', readdirSync(join(old, 'backups'))[0]), { readonly: true })
  expect(copy.prepare(`SELECT COUNT(*) FROM migrations`).pluck().get()).toBe(17)
  copy.close()
})
