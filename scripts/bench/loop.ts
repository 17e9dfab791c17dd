import { fork } from 'node:child_process'
import { once } from 'node:events'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { folded } from '../../packages/server/src/data/folded'
import { until } from '../waiting'
import { LiveServer } from '../ordeal/liveServer'
import { note, report } from './measure'

const displays = 40
/** Wall time for which the loop is watched, ms. */
const watchedMs = 20_000
/** Fastest pace at which there is a reading every few milliseconds. */
const pace = 20

/** Gives the room of a studio so many displays, each with the run that its first one was proved by. */
function fillRoom(dataDir: string, runId: number): void {
  const store = new Database(join(dataDir, 'bichroma.sqlite'), { timeout: 5000 })
  store.function('folded', { deterministic: true }, (text) => folded(String(text)))
  const columns = (table: string, without: string[]) =>
    (store.pragma(`table_xinfo(${table})`) as { name: string; hidden: number }[])
      .filter((c) => !c.hidden && !without.includes(c.name))
      .map((c) => c.name)
      .join(', ')
  const copy = (table: string, where: string, change: Record<string, number | string>) => {
    const rest = columns(table, ['id', ...Object.keys(change)])
    const names = Object.keys(change)
    return Number(
      store
        .prepare(
          `INSERT INTO ${table} (${[rest, ...names].join(', ')}) SELECT ${[rest, ...names.map(() => '?')].join(', ')} FROM ${table} WHERE ${where}`,
        )
        .run(...Object.values(change)).lastInsertRowid,
    )
  }
  store.transaction(() => {
    for (let i = 2; i <= displays; i++) {
      const display = copy('display', 'id = 1', { name: `Sedge ${i}0`, serial: `QL-27-9${String(i).padStart(4, '0')}` })
      const run = copy('run', `id = ${runId}`, { display_id: display })
      copy('slot', 'display_id = 1', { display_id: display, judged_run_id: run })
      copy('reading', `run_id = ${runId}`, { run_id: run })
      copy('run_stage', `run_id = ${runId}`, { run_id: run })
    }
  })()
  store.close()
}

const p95 = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(0.95 * (values.length - 1))]

interface Figures {
  readonly delayMs: { readonly p99: number; readonly max: number }
  /** From the arrival of each reading of the checks until it was on the disk, ms. */
  readonly storedMs: readonly number[]
  readonly done: { readonly zips: number; readonly profiles: number; readonly imports: number; readonly checks: number }
}

/** Does everything at once on a server and watches its loop, and how soon each reading of a running check is stored. */
async function measure(program?: string): Promise<Figures> {
  const server = await LiveServer.open(pace, true, program)
  const { client } = server
  try {
    const proved = await server.start('full')
    const ended = (id: number) => async () =>
      !['running', 'waiting'].includes((await client.get<{ state: string }>(`/runs/${id}`)).state)
    await until(ended(proved), 'a run is proved')
    fillRoom(server.dataDir, proved)

    const load = fork('scripts/bench/loopLoad.ts', [server.child.url, client.cookie, String(proved)], {
      execArgv: ['--import', 'tsx'],
    })
    await once(load, 'message')
    await server.child.ask('reset')
    let checks = 0
    for (const over = performance.now() + watchedMs; performance.now() < over || !checks; checks++) {
      const id = await server.start('check')
      // Asked for seldom: what is measured is the run, not the asking.
      while (!(await ended(id)())) await new Promise((resolve) => setTimeout(resolve, 250))
    }
    load.send('end')
    const [done] = (await once(load, 'message')) as [Omit<Figures['done'], 'checks'>]
    const { delayMs, storedMs } = await server.child.ask()
    return { delayMs, storedMs, done: { ...done, checks } }
  } finally {
    await server.close()
  }
}

/** The request loop while a room's ZIP of 40 displays, a table profile, an import of 20,000 readings and a run go on at once. */
export async function benchLoop(): Promise<void> {
  console.log('\nA room’s ZIP of 40 displays, a table profile, an import of 20,000 readings and a check run at once')
  const before = await measure('scripts/bench/inlineServer.ts')
  const now = await measure()
  const told = ({ delayMs, storedMs }: Figures) =>
    `loop p99 ${delayMs.p99.toFixed(0)} ms, worst ${delayMs.max.toFixed(0)} ms; reading stored p95 ${p95(storedMs).toFixed(1)} ms of ${storedMs.length}`
  note(`everything on one loop: ${told(before)}; ${JSON.stringify(before.done)}`)
  note(`with threads:           ${told(now)}; ${JSON.stringify(now.done)}`)
  report('event loop delay, p99', `${now.delayMs.p99.toFixed(1)} ms`, '< 25 ms', now.delayMs.p99 < 25)
  const stored = p95(now.storedMs)
  report('a reading of a running run is on the disk, p95', `${stored.toFixed(1)} ms`, '≤ 10 ms', stored <= 10)
}
