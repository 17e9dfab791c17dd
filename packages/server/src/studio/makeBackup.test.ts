import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import { openStore } from '../app/store'
import { makeBackup } from './makeBackup'

let folder: string
let store: DataSource
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-copy-'))
  store = await openStore(folder, { durable: false })
})
afterEach(async () => {
  await store.destroy()
  rmSync(folder, { recursive: true, force: true })
})
const from = () => join(folder, 'bichroma.sqlite')
const to = () => join(folder, 'copy.sqlite')

test('what is written while it is made waits for nothing, and is in the next one', async () => {
  // Large enough for several parts.
  for (let i = 0; i < 60; i++)
    await store.query(`INSERT INTO room (name, building) VALUES (?, ?)`, [`Room ${i}`, 'x'.repeat(600_000)])
  let over = false
  let written = 0
  const writing = (async () => {
    for (; !over; written++) {
      await store.query(`INSERT INTO room (name) VALUES (?)`, [`Meanwhile ${written}`])
      await new Promise((resolve) => setImmediate(resolve))
    }
  })()
  const made = await makeBackup({ from: from(), to: to() })
  over = true
  await writing
  expect(made).toMatchObject({ faults: [], displays: 0 })
  const rooms = (file: string) => {
    const copy = new Database(file, { readonly: true })
    const names = copy.prepare('SELECT name FROM room ORDER BY id').pluck().all() as string[]
    expect(copy.pragma('journal_mode', { simple: true })).toBe('delete')
    copy.close()
    return names
  }
  expect(written).toBeGreaterThan(4)
  // It is of the instant at which it began.
  const first = rooms(to())
  expect(first.filter((n) => n.startsWith('Room '))).toHaveLength(60)
  expect(first.length).toBeLessThan(60 + written)
  expect((statSync(to()).mode & 0o777).toString(8)).toBe('600')
  await makeBackup({ from: from(), to: join(folder, 'next.sqlite') })
  expect(rooms(join(folder, 'next.sqlite'))).toHaveLength(60 + written)
})

test.each<[string, () => { from: string; to: string }, RegExp]>([
  ['where there is no folder', () => ({ from: from(), to: join(folder, 'none', 'copy.sqlite') }), /does not exist/],
  ['of a store that is not there', () => ({ from: join(folder, 'none.sqlite'), to: to() }), /cannot be opened/],
  [
    'of a file that is none',
    () => {
      const file = join(folder, 'text.sqlite')
      writeFileSync(file, 'no store at all, but long enough to be looked at. '.repeat(40))
      return { from: file, to: to() }
    },
    /not a database|damaged/,
  ],
])('%s it fails with a sentence', async (_, paths, words) => {
  expect(await makeBackup(paths())).toEqual({ failed: expect.stringMatching(words) })
})
