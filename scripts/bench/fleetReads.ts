import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openStore, refreshSlotDrift, startServer } from '@bichroma/server'
import { ApiClient } from '../apiClient'
import { ServerChild } from '../ordeal/serverChild'
import { copyTrends, fillFleet } from './fleet'
import { benchNews, enrolCouriers } from './fleetNews'
import { note, report } from './measure'

const [displays, validations, slots] = [10_000, 600_000, 3]
const rounds = 21

/** What people read, with filters, searches and the ends of lists among it. */
const reads = [
  '/pulse',
  '/floor',
  '/needs',
  '/displays',
  '/displays?search=desk 77',
  '/displays?room=7&limit=200',
  '/displays?verdict=outside&sort=deltaE',
  '/displays?due=overdue&sort=due',
  '/displays?sort=verdict',
  '/displays/5000',
  '/runs',
  '/runs?of=work&search=desk 4321',
  '/runs?of=judged&verdict=outside',
  '/runs?room=7',
  '/runs?kind=uniformity',
  '/instruments',
  '/models',
  '/put-away',
  '/ledger',
  '/rollout',
  '/rollout?standing=astray',
  '/rollout?mend=decision',
  '/rollout/summary',
  '/displays/5000/rollout',
  '/waves',
  '/workstations',
  '/workstations?search=desk-99',
  '/rooms',
  '/drift',
  '/drift/slots',
  '/drift/slots?room=7',
  '/drift/5000',
]

/** Fills a folder with a large fleet and the account “bench”. Trends are worked out for `worked` displays; the others’ are copies. */
export async function fleetFolder(
  folder: string,
  { worked = 240, ...size }: { displays: number; validations: number; worked?: number },
): Promise<void> {
  const first = await startServer({ dataDir: folder, durable: false })
  await first.access.addAccount('bench', 'Bench', 'administrator', 'a-large-fleet')
  await first.close()
  fillFleet(folder, { ...size, now: Date.now(), slots, placements: 6, due: true })
  const store = await openStore(folder, { durable: false })
  const some = Math.min(worked, size.displays)
  for (let d = 1; d <= some; d++) await refreshSlotDrift(store, d, 1, Date.now())
  await store.destroy()
  copyTrends(folder, { worked: some, slots })
}

/** What people read, and how soon a change is seen, on a fleet of 10,000 displays and 600,000 validations. */
export async function benchFleet(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-fleet-'))
  try {
    await fleetFolder(folder, { displays, validations })
    enrolCouriers(folder)
    const empty = mkdtempSync(join(tmpdir(), 'bichroma-empty-'))
    const [bare, start] = [await startIn(empty), await startIn(folder)]
    rmSync(empty, { recursive: true, force: true })
    report('start', `${(start / 1000).toFixed(1)} s`, '≤ 3 s', start <= 3000)
    note(`of which ${(bare / 1000).toFixed(1)} s with an empty store`)
    const child = await ServerChild.start(folder)
    try {
      const client = new ApiClient(child.url)
      await client.signIn('bench', 'a-large-fleet')
      await warmUp(client)
      for (const path of reads) await measure(client, path)
      // Twelve streams belong to one session at most.
      const sessions = [client]
      for (let i = 0; i < 9; i++) {
        const other = new ApiClient(child.url)
        await other.signIn('bench', 'a-large-fleet')
        sessions.push(other)
      }
      await benchNews(client, sessions)
      const { residentMb, heapMb } = await child.ask()
      note(`the main thread’s heap: ${heapMb.toFixed(0)} MB`)
      report('resident memory', `${residentMb.toFixed(0)} MB`, '≤ 400 MB', residentMb <= 400)
    } finally {
      await child.end('SIGKILL')
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

async function startIn(folder: string): Promise<number> {
  const began = performance.now()
  const child = await ServerChild.start(folder)
  const took = performance.now() - began
  await child.end('SIGKILL')
  return took
}

/** Rounds in which everything is read and nothing is counted. */
const uncounted = 5

/** A server runs for weeks: what its first answers take, before its code is compiled, is told and not counted. */
async function warmUp(client: ApiClient): Promise<void> {
  const asked = performance.now()
  await (await client.raw('GET', '/pulse')).arrayBuffer()
  note(`the first answer of /pulse after a start: ${(performance.now() - asked).toFixed(0)} ms`)
  for (let i = 0; i < uncounted; i++) for (const path of reads) await (await client.raw('GET', path)).arrayBuffer()
}

async function measure(client: ApiClient, path: string): Promise<void> {
  const times: number[] = []
  let bytes = 0
  for (let i = 0; i < rounds; i++) {
    const asked = performance.now()
    const response = await client.raw('GET', path)
    bytes = (await response.arrayBuffer()).byteLength
    if (!response.ok) throw new Error(`${path}: ${response.status}`)
    times.push(performance.now() - asked)
  }
  const sorted = times.sort((a, b) => a - b)
  const [median, p95] = [sorted[rounds >> 1], sorted[Math.floor(0.95 * (rounds - 1))]]
  const most = path === '/pulse' ? 10 : 100
  report(
    path,
    `median ${median.toFixed(0)} ms, p95 ${p95.toFixed(0)} ms, first ${times[0].toFixed(0)} ms, ${(bytes / 1000).toFixed(0)} kB`,
    `p95 ≤ ${most} ms, ≤ 300 kB`,
    p95 <= most && bytes <= 300_000,
  )
}
