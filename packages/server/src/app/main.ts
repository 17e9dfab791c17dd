import { storeFault, StoreRefusal } from '../data/storeFault'
import { log, logFault } from '../data/log'
import { workerThreads } from '../http/threads'
import { threadedSolver } from '../runs/solver'
import { startServer, type RunningServer } from './server'
import { commentedConfig, mustBeRight, readSettings, type Settings } from './settings'
import { readTls } from './tls'
import { portSentence, whatHinders } from './whatHinders'

/** Wall time in which a server that is to end lets go of what it does, ms. */
const closingMs = 8000

const hour = 3_600_000
const day = 24 * hour

let running: RunningServer | null = null
let ending = false

/** Ends the process once what is going on was let go of as it stands, or after a while without. */
function end(code: number): void {
  if (ending) return
  ending = true
  setTimeout(() => process.exit(code || 1), closingMs).unref()
  Promise.resolve(running?.close()).then(
    () => process.exit(code),
    (error: unknown) => {
      logFault('The server was closed', error)
      process.exit(1)
    },
  )
}

// Whatever nobody foresaw: it is written down, and the next start finds everything named.
process.on('uncaughtException', (error) => {
  logFault('Nobody foresaw this; the server ends', error)
  end(1)
})
process.on('unhandledRejection', (error) => {
  logFault('Nobody foresaw this; the server ends', error)
  end(1)
})
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => end(0))

async function main() {
  const asked = readSettings(process.argv.slice(2), process.env)
  if (asked.printConfig) return void process.stdout.write(commentedConfig())
  const settings = mustBeRight(asked)
  if (asked.check) {
    const found = await whatHinders(settings, Date.now)
    console.log(found.length ? found.join('\n') : 'Nothing stands in the way: Bichroma would start.')
    process.exitCode = found.length ? 1 : 0
    return
  }
  log.level = settings.log
  const threadWorker = new URL('./threadWorker.ts', import.meta.url).href
  running = await startServer({
    ...optionsOf(settings),
    solver: threadedSolver(new URL('../runs/solverWorker.ts', import.meta.url).href),
    threads: workerThreads(threadWorker),
    slowThreads: workerThreads(threadWorker, { longestMs: Infinity }),
  })
  // Whoever starts it reads where it listens, and with which token the first administrator is made.
  console.log(JSON.stringify({ url: running.url, first: await running.access.firstVisit.begin() }))
}

const optionsOf = ({
  data,
  port,
  host,
  web,
  tlsKey,
  tlsCert,
  proxy,
  sessionHours,
  sessionDays,
  ...backup
}: Settings) => ({
  dataDir: data,
  port,
  host,
  ...(web !== null && { webDir: web }),
  ...(tlsKey !== null && tlsCert !== null && { tls: readTls(tlsKey, tlsCert, Date.now()) }),
  proxy,
  ...(backup.smtp !== null && { mail: { url: backup.smtp, from: backup.mailFrom } }),
  ...(backup.metricsToken !== null && { metricsToken: backup.metricsToken }),
  backups: {
    ...(backup.backups !== null && { folder: backup.backups }),
    everyHours: backup.backupHours,
    keep: backup.backupKeep,
  },
  sessions: { idleMs: sessionHours * hour, lastMs: sessionDays * day },
})

/** Why the server does not start, in one sentence where it is one that can be foreseen. */
function whyNot(error: NodeJS.ErrnoException): string {
  if (error instanceof StoreRefusal) return error.sentence
  const fault = storeFault(error)
  if (fault) return `The server cannot start: ${fault.sentence} Nothing stored was lost.`
  return portSentence(error) ?? error.stack ?? error.message
}

main().catch((error: NodeJS.ErrnoException) => {
  console.error(whyNot(error))
  process.exit(1)
})
