import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Bench, BenchClock, fenLantern } from '@bichroma/bench'
import { computeMetrics, quantizeSignal, uniformFrom, type Triple } from '@bichroma/core'
import type { DisplaySummary, RunDetail } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { ApiClient } from './apiClient'
import { demoAccounts, demoAims, demoLimits } from './demoStudio'

const seeds = [1, 2, 3, 4, 5]
const workstation = 'sedge-02'

/** One full run on the demo's live display with a seed of its own, judged by the panel's noise-free truth. */
async function once(seed: number): Promise<Record<Figure, number>> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-accuracy-'))
  const clock = new BenchClock(Infinity)
  const server = await startServer({ dataDir: join(folder, 'data'), now: () => Math.floor(clock.now()) })
  const { login, name, role, password } = demoAccounts[0]
  await server.access.addAccount(login, name, role, password)
  const client = new ApiClient(server.url)
  await client.signIn(login, password)
  const idOf = async (path: string, body: unknown) => (await client.post<{ id: number }>(path, body)).id
  const aimId = await idOf('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })
  const limitsId = await idOf('/limits', { name: 'Plate work', limits: demoLimits['Plate work'] })
  const { host, displays } = fenLantern.workstations.find((w) => w.host.name === workstation)!
  const workstationId = await idOf('/workstations', { ...host, roomId: await idOf('/rooms', { name: 'Room' }) })
  const { maker, model, serial, firmware, slots, panel } = displays[0]
  const displayId = await idOf('/displays', {
    name: 'Display',
    maker,
    model,
    serial,
    firmware,
    slots,
    panelKind: panel.kind,
    workstationId,
    limitsId,
    checkEveryDays: 28,
  })
  const keys = { [workstation]: (await client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key }
  const bench = new Bench({
    scenario: { ...fenLantern, seed },
    server: server.url,
    keys,
    clock,
    stateDir: join(folder, 'bench'),
    retryMs: 10,
  })
  try {
    bench.carry(fenLantern.instruments[0].serial, workstation)
    bench.connect(workstation)
    while (!(await client.get<DisplaySummary[]>('/displays'))[0].live)
      await new Promise((resolve) => setImmediate(resolve))
    const id = await idOf('/runs', { displayId, kind: 'full', slot: 1, aimId, overwrites: '' })
    await server.engine.ended(id)
    const run = await client.get<RunDetail>(`/runs/${id}`)
    const uniform = uniformFrom(seed + 1000)
    const signals: Triple[] = [
      [1, 1, 1],
      [0, 0, 0],
      ...Array.from({ length: 300 }, (): Triple => quantizeSignal([uniform(), uniform(), uniform()], 10)),
    ]
    const truth = bench.truth(serial, signals)
    const { averageDeltaE, worstDeltaE, whiteDeltaUv, luminanceOff } = computeMetrics(
      signals.map((rgb, i) => ({ name: String(i), rgb, xyz: truth[i] })),
      run.resolvedAim!,
    )
    const minutes = run.stages.reduce((sum, s) => sum + s.tookMs, 0) / 60_000
    return {
      readings: run.log.length,
      minutes,
      averageDeltaE,
      worstDeltaE,
      whiteDeltaUv,
      luminanceOff: Math.abs(luminanceOff),
      seenAverage: run.judged!.averageDeltaE,
      seenWorst: run.judged!.worstDeltaE,
    }
  } finally {
    bench.stop()
    await server.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

const digits = {
  readings: 0,
  minutes: 1,
  averageDeltaE: 3,
  worstDeltaE: 2,
  whiteDeltaUv: 5,
  luminanceOff: 2,
  seenAverage: 3,
  seenWorst: 2,
} as const
type Figure = keyof typeof digits
const figures = Object.keys(digits) as Figure[]

async function main() {
  const results: (Record<Figure, number> & { seed: string })[] = []
  for (const seed of seeds) results.push({ seed: String(seed), ...(await once(seed)) })
  const median = (f: Figure) => results.map((r) => r[f]).sort((a, b) => a - b)[Math.floor(results.length / 2)]
  console.log(
    `Full runs on the demo's live display, aim “Atlas web”, judged by the panel's noise-free truth on 300 patches that no run used.`,
  )
  console.log(['seed', ...figures].join('\t'))
  for (const r of results) console.log([r.seed, ...figures.map((f) => r[f].toFixed(digits[f]))].join('\t'))
  console.log(['median', ...figures.map((f) => median(f).toFixed(digits[f]))].join('\t'))
}

main().catch((error: Error) => {
  console.error(error)
  process.exit(1)
})
