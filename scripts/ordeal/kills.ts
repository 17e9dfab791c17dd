import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { Bench, BenchClock, fenLantern } from '@bichroma/bench'
import type { DisplaySummary, RunDetail, RunSummary } from '@bichroma/contract'
import { uniformFrom } from '@bichroma/core'
import { startServer } from '@bichroma/server'
import { live, until } from '../../tests/studio'
import { ApiClient } from '../apiClient'
import { demoAims, demoLimits } from '../demoStudio'
import { displayBody } from '../displayBody'
import { ServerChild } from './serverChild'

export interface KillsOutcome {
  kills: number
  /** Stages in which the server was killed, and how often. */
  readonly stages: Record<string, number>
  /** Longest start after a kill, ms. */
  slowestStartMs: number
  runs: number
  readings: number
  readonly wrong: string[]
}

const word = 'kill-word'

async function prepare(dataDir: string) {
  const server = await startServer({ dataDir })
  await server.access.addAccount('administrator', 'Admin', 'administrator', word)
  const client = new ApiClient(server.url)
  await client.signIn('administrator', word)
  await client.post('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })
  const { id: limitsId } = await client.post<{ id: number }>('/limits', {
    name: 'Own',
    limits: demoLimits['Plate work'],
  })
  await client.post('/rooms', { name: 'Sedge Room' })
  await client.post('/workstations', {
    name: live.workstation,
    operatingSystem: 'linux',
    systemVersion: '12',
    roomId: 1,
  })
  const { displays } = fenLantern.workstations.find((w) => w.host.name === live.workstation)!
  await client.post('/displays', displayBody(displays[0], { workstationId: 1, limitsId, checkEveryDays: 28 }))
  const { key } = await client.post<{ key: string }>('/workstations/1/courier-key')
  await server.close()
  return { [live.workstation]: key }
}

/**
 * Kills the server with SIGKILL again and again, at seeded moments of full runs and checks, of imports and placements, and
 * starts another on the same folder: whatever was acknowledged is there, and every run is brought to its end.
 */
export async function kills(count: number, seed: number): Promise<KillsOutcome> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-kills-'))
  const dataDir = join(folder, 'data')
  const uniform = uniformFrom(seed)
  const outcome: KillsOutcome = { kills: 0, stages: {}, slowestStartMs: 0, runs: 0, readings: 0, wrong: [] }
  const keys = await prepare(dataDir)
  let child = await ServerChild.start(dataDir, { probe: false })
  const port = Number(new URL(child.url).port)
  const bench = new Bench({
    scenario: fenLantern,
    server: child.url,
    keys,
    clock: new BenchClock(Infinity),
    stateDir: join(folder, 'bench'),
    retryMs: 20,
  })
  bench.carry(live.instrument, live.workstation)
  bench.connect(live.workstation)
  const client = new ApiClient(child.url)
  await client.signIn('administrator', word)
  const display = async () => (await client.get<DisplaySummary[]>('/displays'))[0]
  const runOf = (id: number) => client.get<RunDetail>(`/runs/${id}`)
  const here = () => until(async () => (await display()).live, 'the courier is connected')

  const killAndStart = async (stage: string) => {
    await child.end('SIGKILL')
    outcome.kills++
    outcome.stages[stage] = (outcome.stages[stage] ?? 0) + 1
    const started = Date.now()
    child = await ServerChild.start(dataDir, { probe: false, port })
    outcome.slowestStartMs = Math.max(outcome.slowestStartMs, Date.now() - started)
    await here()
  }

  /** Sends something and kills in the middle of it: it is there whole, or not at all. */
  const inTheMiddle = async (
    what: string,
    send: () => Promise<unknown>,
    whole: (acknowledged: boolean) => Promise<string | null>,
  ) => {
    let acknowledged = false
    const sent = send().then(
      () => (acknowledged = true),
      () => null,
    )
    await new Promise((resolve) => setTimeout(resolve, Math.floor(uniform() * 40)))
    await killAndStart(what)
    await sent
    const wrong = await whole(acknowledged)
    if (wrong) outcome.wrong.push(`${what}: ${wrong}`)
  }

  const importOnce = async (n: number) => {
    const fileName = `read ${n}.csv`
    await inTheMiddle(
      'an import',
      () =>
        client.post('/displays/1/validations', {
          slot: 1,
          aimId: 1,
          fileName,
          text: `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0,0,0,0.1,0.1,0.1\n${'0.5,0.5,0.5,24,25,27\n'.repeat(3000)}`,
          readAt: 1_700_000_000_000 + n,
          instrument: 'Elsewhere',
        }),
      async (acknowledged) => {
        const found = (await client.get<RunSummary[]>('/runs')).filter((r) => r.imported?.fileName === fileName)
        if (!found.length) return acknowledged ? 'it was acknowledged and is gone' : null
        if (found.length > 1 || found[0].readings !== 3002 || !found[0].judged) return 'it is there in part'
        const { history } = await client.get<{ history: { runId: number }[] }>('/drift/1?slot=1')
        return found[0].judged && history.some((h) => h.runId === found[0].id) ? null : 'its history lacks it'
      },
    )
  }

  const placeOnce = (runId: number) =>
    inTheMiddle(
      'a placement',
      () => client.post('/placements', { runId }),
      async (acknowledged) => {
        const rows = await client.get<{ placement: { runId: number; state: string } | null }[]>('/rollout')
        const placement = rows[0].placement
        if (acknowledged && placement?.runId !== runId) return 'it was acknowledged and is gone'
        if (placement)
          await until(async () => {
            const [now] = await client.get<typeof rows>('/rollout')
            return now.placement?.state === 'in force'
          }, 'the profile is in force')
        return null
      },
    )

  try {
    await here()
    for (let n = 0; outcome.kills < count; n++) {
      const { slots } = await display()
      const check = n % 3 === 2
      const body = check
        ? { displayId: 1, kind: 'check', slot: 1 }
        : { displayId: 1, kind: 'full', slot: 1, aimId: 1, overwrites: slots[0].label ?? '', sampling: 'brief' }
      const { id } = await client.post<{ id: number }>('/runs', body)
      outcome.runs++
      for (;;) {
        // How far it gets before the next kill: readings on, and a moment more, so that writes are cut in the middle.
        let seen = await runOf(id)
        const further = seen.log.length + 1 + Math.floor(uniform() * (check ? 12 : 30))
        const goesOn = () => ['running', 'waiting'].includes(seen.state)
        await until(async () => {
          seen = await runOf(id)
          return !goesOn() || seen.log.length >= further
        }, `run ${id} goes on`)
        if (!goesOn() || outcome.kills >= count) break
        await new Promise((resolve) => setTimeout(resolve, Math.floor(uniform() * 30)))
        seen = await runOf(id)
        await killAndStart(seen.stage)
        const after = await runOf(id)
        if (JSON.stringify(after.log.slice(0, seen.log.length)) !== JSON.stringify(seen.log))
          outcome.wrong.push(`run ${id}: of ${seen.log.length} readings that were told some are gone`)
        if (after.state === 'interrupted') await client.post(`/runs/${id}/resume`)
        else if (after.state !== 'done')
          outcome.wrong.push(`run ${id} is ${after.state} after a kill: ${after.message}`)
      }
      await until(async () => !['running', 'waiting'].includes((await runOf(id)).state), `run ${id} ends`)
      const done = await runOf(id)
      outcome.readings += done.log.length
      if (done.state !== 'done') outcome.wrong.push(`run ${id} was ${done.state}: ${done.message}`)
      else if ((await display()).slots[0].judged?.runId !== id) outcome.wrong.push(`run ${id} does not judge its slot`)
      if ((await display()).slots[0].unsure) outcome.wrong.push(`after run ${id} nobody knows what the slot holds`)
      if (outcome.kills < count) await importOnce(n)
      if (!check && done.profileHash && outcome.kills < count) await placeOnce(id)
    }
    await child.end('SIGTERM')
    const store = new Database(join(dataDir, 'bichroma.sqlite'), { readonly: true })
    const integrity = store.pragma('integrity_check', { simple: true })
    if (integrity !== 'ok') outcome.wrong.push(`integrity: ${String(integrity)}`)
    store.close()
    return outcome
  } finally {
    bench.stop()
    await child.end('SIGKILL')
    rmSync(folder, { recursive: true, force: true })
  }
}
