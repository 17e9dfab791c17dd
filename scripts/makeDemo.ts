import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { Bench, BenchClock, fenLantern } from '@bichroma/bench'
import { heldStates } from '@bichroma/core'
import type { DisplaySummary, RunDetail, RunSummary } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { ApiClient } from './apiClient'
import { demoAccounts, demoAims, demoCare, demoHistory, demoLimits } from './demoStudio'

const day = 86_400_000

/**
 * Makes the demo studio in a folder: registers Fen & Lantern through the API, then lives its last months on the bench,
 * run by run, through the same engine and courier messages as the application. `today`: ms since 1970.
 */
export async function makeDemo(folder: string, today: number, say: (line: string) => void = () => {}): Promise<void> {
  const clock = new BenchClock(Infinity, today - 130 * day)
  const server = await startServer({ dataDir: join(folder, 'data'), now: () => Math.floor(clock.now()) })
  for (const { login, name, role, password } of demoAccounts)
    await server.access.addAccount(login, name, role, password)
  const client = new ApiClient(server.url)
  await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
  const idOf = async (path: string, body: unknown) => (await client.post<{ id: number }>(path, body)).id

  const aimIds: Record<string, number> = {}
  for (const [name, aim] of Object.entries(demoAims)) aimIds[name] = await idOf('/aims', { name, aim })
  const limitsIds: Record<string, number> = {}
  for (const [name, limits] of Object.entries(demoLimits)) limitsIds[name] = await idOf('/limits', { name, limits })

  const roomIds: Record<string, number> = {}
  const displayIds: Record<string, number> = {}
  const workstationOf: Record<string, string> = {}
  const keys: Record<string, string> = {}
  for (const { room, host, displays } of fenLantern.workstations) {
    roomIds[room] ??= await idOf('/rooms', { name: room })
    const workstationId = await idOf('/workstations', { ...host, roomId: roomIds[room] })
    keys[host.name] = (await client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key
    for (const { name, maker, model, serial, firmware, slots, panel } of displays) {
      const care = demoCare[name] ?? { limits: 'Everyday', checkEveryDays: 28 }
      displayIds[name] = await idOf('/displays', {
        name,
        maker,
        model,
        serial,
        firmware,
        slots,
        panelKind: panel.kind,
        workstationId,
        limitsId: limitsIds[care.limits],
        checkEveryDays: care.checkEveryDays,
      })
      workstationOf[name] = host.name
    }
  }
  mkdirSync(join(folder, 'bench'), { recursive: true })
  writeFileSync(join(folder, 'bench', 'keys.json'), JSON.stringify(keys, null, 1), { mode: 0o600 })

  const bench = new Bench({
    scenario: fenLantern,
    server: server.url,
    keys,
    clock,
    stateDir: join(folder, 'bench'),
    retryMs: 20,
  })
  try {
    const visits = [...demoHistory].sort((a, b) => b.daysAgo - a.daysAgo)
    for (const [i, visit] of visits.entries()) {
      // Visits begin at nine in the morning of their day, one after another.
      const nine = Math.floor((today - visit.daysAgo * day) / day) * day + 9 * 3_600_000
      if (clock.now() < nine) clock.jumpTo(nine)
      // Weeks pass between visits, so the session of the last one has run out.
      await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
      const workstation = workstationOf[visit.display]
      bench.carry(fenLantern.instruments[i % 2].serial, workstation)
      bench.connect(workstation)
      await until(async () =>
        (await client.get<DisplaySummary[]>('/displays')).some((d) => d.name === visit.display && d.live),
      )
      const display = (await client.get<DisplaySummary[]>('/displays')).find((d) => d.name === visit.display)!
      const runId = await idOf('/runs', {
        displayId: display.id,
        kind: visit.kind,
        slot: visit.slot,
        ...(visit.aim ? { aimId: aimIds[visit.aim], overwrites: display.slots[visit.slot - 1].label ?? '' } : {}),
      })
      await server.engine.ended(runId)
      const run = await client.get<RunDetail>(`/runs/${runId}`)
      if (heldStates.includes(run.state) || run.state !== 'done')
        throw new Error(`History could not be made: ${run.message}`)
      if (visit.place) await client.post('/placements', { runId })
      await server.rollout.close()
      bench.disconnect(workstation)
      await until(async () => !(await client.get<DisplaySummary[]>('/displays')).some((d) => d.live))
      const { judged } = run as RunSummary
      say(
        `${new Date(nine).toISOString().slice(0, 10)}  ${visit.display}, slot ${visit.slot}: ${visit.kind}, average ${judged!.averageDeltaE.toFixed(2)}, ${judged!.verdict}`,
      )
    }
    writeFileSync(join(folder, 'made'), new Date(today).toISOString())
  } finally {
    bench.stop()
    await server.close()
  }
}

async function until(condition: () => Promise<boolean>): Promise<void> {
  const deadline = Date.now() + 20_000
  while (!(await condition())) {
    if (Date.now() > deadline) throw new Error('The bench did not do what was asked of it within 20 seconds.')
    await new Promise((resolve) => setTimeout(resolve, 5))
  }
}

if (process.argv[1]?.endsWith('makeDemo.ts')) {
  const { values } = parseArgs({ options: { folder: { type: 'string', default: '.demo' } } })
  makeDemo(values.folder, Date.now(), (line) => console.log(line)).catch((error: Error) => {
    console.error(error)
    process.exit(1)
  })
}
