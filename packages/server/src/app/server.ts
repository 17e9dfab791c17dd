import { createServer, type Server } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import type { AddressInfo } from 'node:net'
import { Registry } from 'prom-client'
import { sessionMiddleware } from '../access/access'
import { usualSpan } from '../access/sessionStore'
import { contentRoutes } from '../couriers/contentRoutes'
import { ownFolder } from '../data/folderLock'
import { collectStudioMetrics, healthRoute, metricsRoute } from './health'
import { requestMetrics } from '../http/requestLog'
import { Door } from './door'
import { httpApp } from './httpApp'
import type { Api } from '../http/api'
import { pulseOf } from '../floor/pulse'
import type { ServerOptions } from './serverOptions'
import { letRun, openParts, type Parts } from './parts'
import { putUpRoutes } from './allRoutes'

type Lent = 'access' | 'engine' | 'rollout' | 'waves' | 'schedule' | 'rounds' | 'light'

export interface RunningServer extends Pick<Parts, Lent> {
  readonly url: string
  readonly api: Api
  /** Lets go of couriers and browsers; runs stay in the store as they stand. */
  close(): Promise<void>
}

/**
 * Starts the server: store, couriers, run engine, API, and the web application's files. The folder is owned and the port
 * taken before anything is changed. Throws StoreRefusal for a folder that cannot be used.
 */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const now = options.now ?? Date.now
  const lock = ownFolder(options.dataDir, now)
  const door = new Door()
  const server = options.tls ? createTlsServer(options.tls, door.answer) : createServer(door.answer)
  // Longer than clients keep an idle connection: one that is closed while it is being used again would fail.
  server.keepAliveTimeout = 65_000
  try {
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject)
      server.listen(options.port ?? 0, options.host ?? '127.0.0.1', () => {
        server.off('error', reject)
        resolve()
      })
    })
    const { address, port } = server.address() as AddressInfo
    const url = `${options.tls ? 'https' : 'http'}://${address.includes(':') ? `[${address}]` : address}:${port}`
    lock.tell(url)
    const studio = await openStudio(options, now, server, door)
    return {
      ...studio,
      url,
      close: async () => {
        try {
          await studio.close()
        } finally {
          lock.release()
        }
      },
    }
  } catch (error) {
    server.close()
    server.closeAllConnections()
    lock.release()
    throw error
  }
}

/** Opens what is kept in the folder, and lets people and couriers in. */
async function openStudio(
  options: ServerOptions,
  now: () => number,
  server: Server,
  door: Door,
): Promise<Omit<RunningServer, 'url'>> {
  const parts = await openParts(options, now)
  await letRun(parts)
  const api = putUpRoutes(parts)
  const { data, contents, access, keyOwner, hub, engine, rollout, waves, schedule, rounds, light } = parts

  const registry = new Registry()
  // Watching the process costs something: only where somebody can read it.
  const stopCounting = options.metricsToken
    ? collectStudioMetrics(registry, () => pulseOf(data, hub, engine, now()))
    : () => {}
  const app = httpApp({
    api: api.router,
    contents: contentRoutes(data, contents, hub, keyOwner, now),
    letsIn: async (request) => (await access.accountOf(request)) !== null,
    sessions: sessionMiddleware(data, options.dataDir, now, options.sessions ?? usualSpan),
    webDir: options.webDir,
    proxy: options.proxy ?? [],
    health: healthRoute(data),
    metrics: metricsRoute(registry, options.metricsToken ?? null),
    counted: requestMetrics([registry]),
  })
  hub.attach(server)
  door.open(app)

  return {
    ...{ access, engine, rollout, waves, schedule, rounds, light, api },
    close: () => {
      stopCounting()
      return parts.close(
        () =>
          new Promise((resolve) => {
            server.close(() => resolve())
            server.closeAllConnections()
          }),
      )
    },
  }
}
