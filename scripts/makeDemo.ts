import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { fenLantern, readScenarioFile, type Scenario } from '@bichroma/bench'
import { startServer, threadedSolver } from '@bichroma/server'
import { ApiClient } from './apiClient'
import { live } from './demoHistory'
import { day, HistoryClock, Making } from './demoMaking'
import { planDemoRounds } from './demoRounds'
import { demoAccounts } from './demoStudio'
import { Processes } from './processes.mjs'

/** Days before today at which the history begins. */
const beginning = 545

/**
 * Makes a studio in a folder: registers the scenario through the API and, for Fen & Lantern, lives its last eighteen
 * months. `today`: ms since 1970.
 */
export async function makeDemo(
  folder: string,
  today: number,
  say: (line: string) => void = () => {},
  scenario: Scenario = fenLantern,
): Promise<void> {
  const hasHistory = scenario === fenLantern
  const clock = new HistoryClock(hasHistory ? today - beginning * day : today)
  const server = await startServer({
    dataDir: join(folder, 'data'),
    now: clock.now,
    // A studio that is left half made is made again.
    durable: false,
    // Hands of this history need no time to turn anything.
    gaugeMs: 1,
    solver: threadedSolver(new URL('../packages/server/src/runs/solverWorker.ts', import.meta.url).href, 2),
  })
  try {
    for (const { login, name, role, password } of demoAccounts)
      await server.access.addAccount(login, name, role, password)
    const client = new ApiClient(server.url)
    await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
    const making = new Making(scenario, clock, server, client, say)
    const keys = await making.register()
    mkdirSync(join(folder, 'bench'), { recursive: true })
    writeFileSync(join(folder, 'bench', 'keys.json'), JSON.stringify(keys, null, 1), { mode: 0o600 })
    if (hasHistory) {
      const processes = new Processes()
      try {
        const { control } = await processes.start([
          'packages/bench/src/main.ts',
          ...['--server', server.url, '--keys', join(folder, 'bench', 'keys.json'), '--state', join(folder, 'bench')],
          ...['--pace', 'max', '--start', String(clock.now()), '--at', String(today)],
        ])
        await live(making, control, today)
        clock.jumpTo(today)
        await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
        await planDemoRounds(client, today)
      } finally {
        processes.stop()
      }
    }
    writeFileSync(join(folder, 'made-7'), new Date(today).toISOString())
  } finally {
    await server.close()
  }
}

async function main() {
  const { values } = parseArgs({
    options: {
      folder: { type: 'string', default: '.demo' },
      scenario: { type: 'string' },
      // The studio as it would be on another day.
      today: { type: 'string' },
    },
  })
  const scenario = values.scenario ? readScenarioFile(values.scenario) : fenLantern
  await makeDemo(
    values.folder,
    values.today ? Date.parse(values.today) : Date.now(),
    (line) => console.log(line),
    scenario,
  )
}

if (process.argv[1]?.endsWith('makeDemo.ts'))
  main().catch((error: Error) => {
    console.error(error.message)
    process.exit(1)
  })
