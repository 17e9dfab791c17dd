import { spawn, type ChildProcess } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { DisplayListing, InventoryPlan, LedgerProof, Person } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { proveLedger } from '../packages/server/src/ledger/ledger'
import { proveBackup } from '../packages/server/src/studio/proveBackup'
import { ApiClient, Refused } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { demoLimits } from '../scripts/demoStudio'
import { passwords } from './studio'

// A limit of the system on how large a file may grow stands in for a disk that fills up: writes beyond it fail.
const folder = mkdtempSync(join(tmpdir(), 'bichroma-full-'))
const data = join(folder, 'data')
let child: ChildProcess
afterAll(() => {
  child?.kill('SIGKILL')
  rmSync(folder, { recursive: true, force: true })
})

/** Starts the server as a process; no file of it may grow beyond so many kB. */
function start(mostKb: number | 'unlimited'): Promise<string> {
  const blocks = mostKb === 'unlimited' ? mostKb : mostKb * 2
  const command = `ulimit -f ${blocks}; exec "${process.execPath}" --import tsx packages/server/src/app/main.ts --data "${data}" --port 0`
  // POSIX counts in blocks of 512 bytes; dash does.
  child = spawn('sh', ['-c', command], { stdio: ['ignore', 'pipe', 'pipe'] })
  return new Promise((resolve, reject) => {
    let text = ''
    child.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      if (text.includes('\n')) resolve((JSON.parse(text) as { url: string }).url)
    })
    child.once('exit', (code, signal) => reject(new Error(`The server ended with ${code ?? signal}.`)))
  })
}
const end = () => new Promise((done) => (child.once('exit', done), child.kill('SIGTERM')))

test('when no more can be written, each refusal says so, nothing that was acknowledged is lost, and it goes on once there is room @long @long', async () => {
  const first = await startServer({ dataDir: data })
  await first.access.addAccount('administrator', 'Admin', 'administrator', passwords.administrator)
  const before = new HeldClient(first.url)
  await before.signIn('administrator', passwords.administrator)
  await before.post('/limits', { name: 'Plate work', limits: demoLimits['Plate work'] })
  await first.close()
  // A content that takes most of the room.
  const filled = new Database(join(data, 'bichroma.sqlite'))
  const bytes = randomBytes(4_000_000)
  const hash = createHash('sha256').update(bytes).digest('hex')
  filled.prepare('INSERT INTO content (hash, bytes, created_at) VALUES (?, ?, 0)').run(hash, bytes)
  filled.close()

  // More than the log of the store takes before it is put in, and little more.
  const url = await start(5400)
  const client = new HeldClient(url)
  await client.signIn('administrator', passwords.administrator)
  const told: { serials: string[]; logins: string[]; refusals: Refused[] } = { serials: [], logins: [], refusals: [] }
  for (let n = 0; n < 60 && told.refusals.length < 6; n++) {
    try {
      const serials = Array.from({ length: 150 }, (_, i) => `F-${n}-${i}`)
      const text = `serial,name,maker,model,panel,slots,room,workstation,system,system version,limits\n${serials
        .map((s) => `${s},Full ${s},Quillon,Q27,oled,8,Loft,desk-${n},linux,12,Plate work`)
        .join('\n')}`
      const { digest } = await client.post<InventoryPlan>('/inventory/plan', { text })
      await client.post('/inventory', { text, digest })
      told.serials.push(...serials)
      await client.post('/people', { login: `full${n}`, name: `Full ${n}`, role: 'viewer' })
      told.logins.push(`full${n}`)
    } catch (error) {
      told.refusals.push(error as Refused)
    }
  }
  expect([told.serials.length > 0, told.refusals[0]?.message]).toEqual([true, expect.stringMatching(/disk|written/)])
  expect(told.refusals.length).toBe(6)
  for (const { status, message } of told.refusals)
    expect([status, message]).toEqual([503, expect.stringMatching(/disk|written/)])
  // It still answers, and what was told is there.
  expect((await fetch(`${url}/healthz`)).status).toBe(200)
  const there = async (c: ApiClient) => {
    const displays = new Set((await c.list<DisplayListing>('/displays')).map((d) => d.serial))
    const people = new Set((await c.get<Person[]>('/people')).map((p) => p.login))
    return [told.serials.filter((s) => !displays.has(s)), told.logins.filter((l) => !people.has(l))]
  }
  expect(await there(client)).toEqual([[], []])
  await end()

  const store = new Database(join(data, 'bichroma.sqlite'))
  expect(store.pragma('integrity_check', { simple: true })).toBe('ok')
  expect((await proveLedger(store)).faults).toEqual([])
  // No display without its slots and its entry, no account without its entry.
  expect(
    store
      .prepare(
        `SELECT (SELECT COUNT(*) FROM display WHERE (SELECT COUNT(*) FROM slot WHERE display_id = display.id) <> 8),
           (SELECT COUNT(*) FROM display WHERE NOT EXISTS
             (SELECT 1 FROM ledger WHERE thing = 'display' AND thing_id = display.id AND act = 'added')),
           (SELECT COUNT(*) FROM account WHERE login LIKE 'full%' AND NOT EXISTS
             (SELECT 1 FROM ledger WHERE thing = 'account' AND thing_id = account.id))`,
      )
      .raw()
      .get(),
  ).toEqual([0, 0, 0])
  store.close()
  expect((await proveBackup(join(data, 'bichroma.sqlite'))).faults).toEqual([])

  const again = new HeldClient(await start('unlimited'))
  await again.signIn('administrator', passwords.administrator)
  expect(await there(again)).toEqual([[], []])
  await again.post('/rooms', { name: 'Room again' })
  expect((await again.get<LedgerProof>('/ledger/proof')).faults).toEqual([])
  await end()
}, 300_000)
