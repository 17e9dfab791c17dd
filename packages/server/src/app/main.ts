import { parseArgs } from 'node:util'
import { storeFault, StoreRefusal } from '../data/storeFault'
import { logFault } from '../data/log'
import { startServer, type RunningServer } from './server'
import { threadedSolver } from '../runs/solver'
import { workerThreads } from '../http/threads'

/** Wall time in which a server that is to end lets go of what it does, ms. */
const closingMs = 8000

const portSentence = '--port must be a whole number from 0 to 65535.'

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
  const { values } = parseArgs({
    options: {
      data: { type: 'string', default: './data' },
      port: { type: 'string', default: '4610' },
      host: { type: 'string', default: '127.0.0.1' },
      web: { type: 'string' },
    },
  })
  const port = Number(values.port)
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new StoreRefusal(portSentence)
  running = await startServer({
    dataDir: values.data,
    port,
    host: values.host,
    webDir: values.web,
    solver: threadedSolver(new URL('../runs/solverWorker.ts', import.meta.url).href),
    threads: workerThreads(new URL('./threadWorker.ts', import.meta.url).href),
  })
  console.log(JSON.stringify({ url: running.url }))
}

/** Why the server does not start, in one sentence where it is one that can be foreseen. */
function whyNot(error: NodeJS.ErrnoException): string {
  if (error instanceof StoreRefusal) return error.sentence
  const fault = storeFault(error)
  if (fault) return `The server cannot start: ${fault.sentence} Nothing stored was lost.`
  if (error.code === 'EADDRINUSE')
    return 'The port is taken. Nothing was changed. Choose another with --port, or 0 for any free one.'
  if (error.code === 'EACCES') return 'This account may not listen on that port. Choose one from 1024 up.'
  if (error.code?.startsWith('ERR_PARSE_ARGS')) return error.message
  return error.stack ?? error.message
}

main().catch((error: NodeJS.ErrnoException) => {
  console.error(whyNot(error))
  process.exit(1)
})
