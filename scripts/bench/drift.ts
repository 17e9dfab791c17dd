import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { FleetDrift, SlotHistory } from '@bichroma/contract'
import { openStore, refreshSlotDrift, startServer } from '@bichroma/server'
import { ApiClient } from '../apiClient'
import { fillFleet } from './fleet'
import { report, note } from './measure'

const [displays, validations] = [1000, 60_000]
const rounds = 15
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

/** Times an answer of the API, from the request to its last byte. */
async function timed<T>(ask: () => Promise<T>): Promise<{ ms: number; answer: T }> {
  const began = performance.now()
  const answer = await ask()
  return { ms: performance.now() - began, answer }
}

/** The Drift view of a large fleet: what is kept with every validation, against working it all out when asked. */
export async function benchDrift(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-drift-'))
  const now = Date.UTC(2026, 10, 24)
  try {
    const first = await startServer({ dataDir: folder, now: () => now })
    await first.access.addAccount('bench', 'Bench', 'administrator', 'a-large-fleet')
    await first.close()
    fillFleet(folder, { displays, validations, now, due: true })
    const store = await openStore(folder)
    const anew = await timed(async () => {
      for (let d = 1; d <= displays; d++) await refreshSlotDrift(store, d, 1, now)
    })
    await store.destroy()
    const server = await startServer({ dataDir: folder, now: () => now })
    try {
      const client = new ApiClient(server.url)
      await client.signIn('bench', 'a-large-fleet')
      const fleet: number[] = []
      const single: number[] = []
      for (let i = 0; i < rounds; i++) {
        const { ms, answer } = await timed(() => client.get<FleetDrift>('/drift'))
        if (answer.slots !== displays) throw new Error(`${answer.slots} slots`)
        fleet.push(ms)
        single.push((await timed(() => client.get<SlotHistory>(`/drift/${1 + i * 60}`))).ms)
      }
      report('the fleet, median', `${median(fleet).toFixed(0)} ms`, '≤ 300 ms', median(fleet) <= 300)
      report(
        'one slot with its 60 validations, median',
        `${median(single).toFixed(0)} ms`,
        '≤ 300 ms',
        median(single) <= 300,
      )
      note(
        `worked out anew when asked it would take ${(anew.ms / 1000).toFixed(1)} s, ${(anew.ms / median(fleet)).toFixed(0)} times as long`,
      )
    } finally {
      await server.close()
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
