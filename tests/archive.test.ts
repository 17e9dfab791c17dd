import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { createWriteStream, existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import Database from 'better-sqlite3'
import { ZipFile } from 'yazl'
import { openPromise } from './unzip'
import { readReadings } from '@bichroma/core/formats'
import { startServer } from '@bichroma/server'
import type { LedgerProof, RunDetail } from '@bichroma/contract'
import { readArchive } from '../packages/server/src/app/archive/readArchive'
import { writeArchive } from '../packages/server/src/app/archive/writeArchive'
import { HeldClient } from './heldClient'
import { Studio } from './studio'
import { builtProgram } from '../scripts/builtProgram.cjs'

let studio: Studio
let folder = ''
let file = ''
/** What an archive holds: bytes by name. */
let held: Map<string, Buffer>
const at = Date.UTC(2026, 10, 27)
beforeAll(async () => {
  studio = await Studio.proven()
  await studio.finish(await studio.start({ kind: 'check' }))
  await studio.admin.post('/placements', { runId: 1 })
  await studio.admin.post('/tokens', { name: 'secret', role: 'viewer', days: 1 })
  folder = mkdtempSync(join(studio.folder, 'archive-'))
  file = join(folder, 'out.zip')
  await writeArchive(join(studio.folder, 'data', 'bichroma.sqlite'), file, at)
  held = await openPromise(file)
})
afterAll(() => studio.close())

/** Writes an archive of what is held, changed. */
async function changed(name: string, change: (entries: Map<string, Buffer>) => void): Promise<string> {
  const entries = new Map(held)
  change(entries)
  const zip = new ZipFile()
  const path = join(folder, name)
  for (const [entry, bytes] of entries) zip.addBuffer(bytes, entry)
  zip.end()
  await pipeline(zip.outputStream as never, createWriteStream(path))
  return path
}
const textOf = (name: string) => held.get(name)!.toString('utf8')
let folders = 0
const empty = () => join(folder, `in-${++folders}`)

test('it is made while the server runs, holds everything in open forms, and no secret', async () => {
  const head = JSON.parse(textOf('archive.json')) as {
    tables: Record<string, number>
    contents: number
    madeAt: string
  }
  expect(head).toMatchObject({ format: 'bichroma-archive', version: 1, madeAt: '2026-11-27T00:00:00.000Z' })
  for (const [table, rows] of Object.entries(head.tables))
    expect([table, textOf(`tables/${table}.jsonl`).split('\n').length - 1]).toEqual([table, rows])
  const contents = [...held.keys()].filter((n) => n.startsWith('contents/'))
  expect(contents).toHaveLength(head.contents)
  for (const name of contents) expect(name).toContain(createHash('sha256').update(held.get(name)!).digest('hex'))
  expect(contents.some((n) => n.endsWith('.icc'))).toBe(true)
  const all = [...held.values()].map((b) => b.toString('latin1')).join('')
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'), { readonly: true })
  const kept = [
    ...(store.prepare('SELECT password_hash FROM account').pluck().all() as string[]),
    ...(store.prepare('SELECT courier_key_hash FROM workstation').pluck().all() as string[]),
    ...(store.prepare('SELECT hash FROM api_token').pluck().all() as string[]),
  ]
  store.close()
  expect(kept.filter((secret) => secret && all.includes(secret))).toEqual([])
})

test('readings are CGATS that a reader of its own reads, to every digit', async () => {
  const run = await studio.run(1)
  const { format, readings, scale } = readReadings(textOf('readings/1.cgats'))
  expect([format, scale, readings.length]).toEqual(['CGATS', 100, run.log.length])
  readings.forEach(({ name, rgb, xyz }, i) => {
    expect([name, xyz]).toEqual([run.log[i].name, [...run.log[i].xyz]])
    rgb.forEach((v, c) => expect(v).toBeCloseTo(run.log[i].rgb[c], 12))
  })
})

test('taken in, it is the same studio: every table to the byte, every report, the ledger; administrators get in by links', async () => {
  const data = empty()
  const { links } = await readArchive(file, data, Date.now())
  expect(links.map((l) => l.login)).toEqual(['administrator'])
  const again = join(folder, 'again.zip')
  await writeArchive(join(data, 'bichroma.sqlite'), again, at)
  const second = await openPromise(again)
  expect([...second.keys()].sort()).toEqual([...held.keys()].sort())
  for (const [name, bytes] of second) expect([name, bytes.equals(held.get(name)!)]).toEqual([name, true])
  const report = await (await studio.admin.raw('GET', '/runs/2/report?as=csv')).text()
  const server = await startServer({ dataDir: data })
  try {
    const client = new HeldClient(server.url)
    await client.post('/accept', { token: links[0].token, password: 'sallow and alder' })
    expect(await (await client.raw('GET', '/runs/2/report?as=csv')).text()).toBe(report)
    expect((await client.get<LedgerProof>('/ledger/proof')).faults).toEqual([])
    expect((await client.get<RunDetail>('/runs/1')).log).toEqual((await studio.run(1)).log)
    expect(await client.list('/displays')).toMatchObject([
      { name: 'Sedge 2', verdict: (await studio.display()).verdict },
    ])
    const { id } = await client.post<{ id: number }>('/rooms', { name: 'After' })
    expect(id).toBeGreaterThan(studio.ids.room)
  } finally {
    await server.close()
  }
  expect(readdirSync(data).filter((f) => f.startsWith('.arriving'))).toEqual([])
})

test.each<[string, (entries: Map<string, Buffer>) => void, string]>([
  ['no head', (e) => e.delete('archive.json'), 'no archive.json'],
  ['another format', (e) => e.set('archive.json', Buffer.from('{"format":"other"}')), 'no archive of Bichroma'],
  ['a head that is null', (e) => e.set('archive.json', Buffer.from('null')), 'no archive of Bichroma'],
  [
    'a newer one',
    (e) => e.set('archive.json', Buffer.from(textOf('archive.json').replace(/Eighteenth\w+/, 'Hundredth'))),
    'newer Bichroma',
  ],
  [
    'a reading that is lost',
    (e) => e.set('tables/reading.jsonl', Buffer.from(textOf('tables/reading.jsonl').replace(/^.*\n/, ''))),
    'The table reading has',
  ],
  ['a table that is lost', (e) => e.delete('tables/run.jsonl'), 'The table run has 0 rows'],
  [
    'a line that is no JSON',
    (e) => e.set('tables/room.jsonl', Buffer.from('{"id":1\n')),
    'tables/room.jsonl, line 1: this is no JSON',
  ],
  ['a line that is no row', (e) => e.set('tables/room.jsonl', Buffer.from('[1]\n')), 'line 1: this is no row'],
  [
    'a column that is strange',
    (e) => e.set('tables/room.jsonl', Buffer.from(textOf('tables/room.jsonl').replace('"name"', '"nom"'))),
    'no column “nom”',
  ],
  [
    'a content that was changed',
    (e) =>
      e.set(
        [...e.keys()].find((n) => n.endsWith('.icc'))!,
        Buffer.from('x'),
      ),
    'is not what its name says',
  ],
  ['a content that is lost', (e) => e.delete([...e.keys()].find((n) => n.endsWith('.icc'))!), 'is not in it'],
  [
    'an entry of the ledger that was edited',
    (e) => e.set('tables/ledger.jsonl', Buffer.from(textOf('tables/ledger.jsonl').replace('Sedge Room', 'Sedge Roof'))),
    'of the ledger',
  ],
  [
    'a run of a display that is not there',
    (e) =>
      e.set('tables/run.jsonl', Buffer.from(textOf('tables/run.jsonl').replace(/"display_id":1/, '"display_id":99'))),
    'belongs to a row of display',
  ],
])('%s: refused with a sentence, and nothing is left', async (what, change, words) => {
  const data = empty()
  await expect(readArchive(await changed(`${folders}.zip`, change), data, Date.now())).rejects.toThrow(words)
  expect([what, existsSync(data) ? readdirSync(data) : []]).toEqual([what, []])
})

test('a file that is none, and a folder that has a store', async () => {
  const none = join(folder, 'none.zip')
  writeFileSync(none, 'no zip at all')
  await expect(readArchive(none, empty(), Date.now())).rejects.toThrow('cannot be taken in')
  writeFileSync(none, readFileSync(file).subarray(0, 5000))
  await expect(readArchive(none, empty(), Date.now())).rejects.toThrow('cannot be taken in')
  await expect(readArchive(file, join(studio.folder, 'data'), Date.now())).rejects.toThrow('There is a store')
})

test('the command says what it did and what is wrong in one line @long', () => {
  const run = (...args: string[]) =>
    spawnSync(process.execPath, [builtProgram('packages/server/src/app/archive/main.ts'), ...args], {
      encoding: 'utf8',
    })
  const out = run('out', join(folder, 'command.zip'), '--data', join(studio.folder, 'data'))
  expect([out.status, out.stdout]).toEqual([0, expect.stringMatching(/^Written: 1 displays, 2 runs with \d+ readings/)])
  const taken = run('in', join(folder, 'command.zip'), '--data', empty())
  expect(taken.stdout).toMatch(/administrator: \/welcome\?token=[A-Z2-9-]{23}/)
  expect(run('in', file, '--data', join(studio.folder, 'data')).stderr).toContain(
    'belongs to another Bichroma that is running',
  )
  expect(run().stderr).toContain('Say what')
})

test.each(['archive/main.ts', 'restore.ts'])(
  'asked how it is called, or called wrongly, %s says it in a line @long',
  (program) => {
    const run = (...args: string[]) =>
      spawnSync(process.execPath, [builtProgram(`packages/server/src/app/${program}`), ...args], { encoding: 'utf8' })
    const usage = /^Say w.*npm run -s (archive|restore) -- .*--data DIR\n$/
    expect([run('--help').status, run('--help').stdout]).toEqual([0, expect.stringMatching(usage)])
    for (const [args, words] of [
      [['--nonsense'], /^Unknown option '--nonsense'\. Say w/],
      [['--data'], /argument missing\. Say w/],
      [['out', 'a', 'b'], /^“\w+” is one word too many\. Say w/],
    ] as const) {
      const { status, stderr } = run(...args)
      expect(status).toBe(1)
      expect(stderr).toMatch(words)
      expect(stderr.trim().split('\n')).toHaveLength(1)
    }
  },
)
