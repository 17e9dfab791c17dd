import { parseArgs } from 'node:util'
import { startServer } from './server'
import { threadedSolver } from './runs/solver'

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
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error('--port must be a whole number from 0 to 65535.')
  const server = await startServer({
    dataDir: values.data,
    port,
    host: values.host,
    webDir: values.web,
    solver: threadedSolver(new URL('./runs/solverWorker.ts', import.meta.url).href),
  })
  console.log(JSON.stringify({ url: server.url }))
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.once(signal, () => void server.close().then(() => process.exit(0)))
}

main().catch((error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? 'The port is taken. Choose another with --port, or 0 for any free one.'
      : error.message,
  )
  process.exit(1)
})
