import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startServer } from '@bichroma/server'
import { ApiClient } from '../apiClient'
import { ServerChild } from '../ordeal/serverChild'
import { fillFleet } from './fleet'
import { note } from './measure'

const [displays, validations] = [10_000, 600_000]
const rounds = 9

/** What people read, and how soon a change is seen, on a fleet of 10,000 displays and 600,000 validations. */
export async function benchFleet(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-fleet-'))
  try {
    const first = await startServer({ dataDir: folder })
    await first.access.addAccount('bench', 'Bench', 'administrator', 'a-large-fleet')
    await first.close()
    fillFleet(folder, { displays, validations, now: Date.now(), slots: 3, placements: 6 })
    const began = performance.now()
    const child = await ServerChild.start(folder)
    note(`start ${((performance.now() - began) / 1000).toFixed(1)} s`)
    try {
      const client = new ApiClient(child.url)
      await client.signIn('bench', 'a-large-fleet')
      for (const path of [
        '/pulse',
        '/displays',
        '/displays/5000',
        '/runs',
        '/instruments',
        '/rollout',
        '/workstations',
        '/drift',
        '/drift/5000',
      ]) {
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
        note(
          `${path.padEnd(16)} median ${sorted[rounds >> 1].toFixed(0).padStart(6)} ms, slowest ${sorted[rounds - 1].toFixed(0).padStart(6)} ms, ${(bytes / 1000).toFixed(0).padStart(6)} kB`,
        )
      }
      note(`resident memory ${(await child.ask()).residentMb.toFixed(0)} MB`)
    } finally {
      await child.end('SIGKILL')
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
