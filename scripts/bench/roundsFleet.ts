import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { PlanStanding, Week } from '@bichroma/contract'
import { ApiClient } from '../apiClient'
import { fleetFolder } from './fleetReads'
import { note, report } from './measure'
import { ServerChild } from '../ordeal/serverChild'

const [displays, validations, people, instruments] = [10_000, 100_000, 20, 30]

/** People who go, and spectroradiometers, which fit every display. */
function staff(folder: string): void {
  const store = new Database(join(folder, 'bichroma.sqlite'))
  store.transaction(() => {
    const account = store.prepare(
      `INSERT INTO account (login, name, role, password_hash, factor_step) VALUES (?, ?, 'technician', '', 0)`,
    )
    for (let i = 0; i < people; i++) account.run(`tech${i}`, `Technician ${i}`)
    const rooms = store.prepare('SELECT id FROM room ORDER BY id').pluck().all() as number[]
    const instrument = store.prepare(
      `INSERT INTO instrument (maker, model, serial, kind, kept) VALUES ('Heron', 'S1', ?, 'spectroradiometer', 'in use')`,
    )
    const keep = store.prepare('INSERT INTO round_instrument (instrument_id, room_id) VALUES (?, ?)')
    const person = store.prepare(
      'INSERT INTO round_person (account_id, goes, room_id, carries, off) VALUES (?, 1, ?, 2, ?)',
    )
    for (let i = 0; i < instruments; i++)
      keep.run(instrument.run(`S-${i}`).lastInsertRowid, rooms[Math.floor((i * rooms.length) / instruments)])
    const ids = store.prepare(`SELECT id FROM account WHERE role = 'technician' ORDER BY id`).pluck().all() as number[]
    ids.forEach((id, i) => person.run(id, rooms[Math.floor((i * rooms.length) / ids.length)], '[]'))
  })()
  store.close()
}

/** A week of rounds for a fleet of 10,000: how long it takes, and whether anybody waits for it. */
export async function benchRoundsFleet(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-rounds-'))
  try {
    await fleetFolder(folder, { displays, validations })
    staff(folder)
    const child = await ServerChild.start(folder)
    try {
      const client = new ApiClient(child.url)
      await client.signIn('bench', 'a-large-fleet')
      const times: number[] = []
      let planning = true
      const others = (async () => {
        while (planning) {
          const asked = performance.now()
          await client.get('/pulse')
          times.push(performance.now() - asked)
          await new Promise((resolve) => setTimeout(resolve, 20))
        }
      })()
      const began = performance.now()
      const { plan } = await client.post<{ plan: PlanStanding }>('/rounds/plan', { days: 7 })
      const took = performance.now() - began
      planning = false
      await others
      times.sort((a, b) => a - b)
      const at = (share: number) => times[Math.min(times.length - 1, Math.floor(share * times.length))]
      note(`a week: ${plan.planned} visits planned, ${plan.unplanned} without room, in ${(took / 1000).toFixed(1)} s`)
      report(
        'others meanwhile',
        `median ${at(0.5).toFixed(0)} ms, p99 ${at(0.99).toFixed(0)} ms, longest ${times[times.length - 1].toFixed(0)} ms`,
        'p99 ≤ 100 ms',
        at(0.99) <= 100,
      )
      for (const path of [
        '/rounds/week',
        '/rounds/plan',
        '/rounds/unplanned',
        '/rounds/house',
        '/due-rules',
        '/kept?months=6',
        '/kept?months=6',
      ]) {
        const asked = performance.now()
        const response = await client.raw('GET', path)
        const bytes = (await response.arrayBuffer()).byteLength
        const ms = performance.now() - asked
        note(`${path}: ${ms.toFixed(0)} ms, ${(bytes / 1000).toFixed(0)} kB`)
      }
      const week = await client.get<Week>('/rounds/week')
      const visit = week.visits.find((v) => v.state === 'planned')
      if (visit) {
        const asked = performance.now()
        const { token } = await client.post<{ token: string }>(`/workstations/${visit.display.id}/desk-link`)
        await client.get(`/desk/${token}`)
        note(`the page of a desk: ${(performance.now() - asked).toFixed(0)} ms`)
      }
    } finally {
      await child.end('SIGKILL')
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
