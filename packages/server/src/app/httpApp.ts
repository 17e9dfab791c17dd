import { existsSync } from 'node:fs'
import { join, resolve, sep } from 'node:path'
import compression from 'compression'
import express from 'express'
import helmet, { strictTransportSecurity } from 'helmet'
import { problemHandler, Refusal } from '../http/problem'
import { requestLog, type RequestMetrics } from '../http/requestLog'

/** What the web application's pages may do: its own scripts only. Its components write their styles into the page. */
const safeHeaders = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      'default-src': ["'self'"],
      'script-src': ["'self'"],
      'style-src': ["'self'", "'unsafe-inline'"],
      'img-src': ["'self'", 'data:', 'blob:'],
      'font-src': ["'self'", 'data:'],
      'worker-src': ["'self'", 'blob:'],
      'object-src': ["'none'"],
      'base-uri': ["'none'"],
      'form-action': ["'self'"],
      'frame-ancestors': ["'none'"],
    },
  },
  strictTransportSecurity: false,
  referrerPolicy: { policy: 'same-origin' },
  xFrameOptions: { action: 'deny' },
})

const onlyTls = strictTransportSecurity({ maxAge: 180 * 86_400 })

/** The parts that the answers to requests come from. */
export interface HttpParts {
  /** Every route of the role table. */
  readonly api: express.RequestHandler
  /** Contents that couriers fetch and leave. */
  readonly contents: express.RequestHandler
  readonly sessions: express.RequestHandler
  /** Whether whoever asks has an account; refuses a token that is worth nothing. */
  readonly letsIn: (request: express.Request) => Promise<boolean>
  /** Folder of the built web application, if it is to be served. */
  readonly webDir?: string
  /** For whoever watches the server. */
  readonly health: express.RequestHandler
  readonly metrics: express.RequestHandler
  readonly counted: RequestMetrics
  /** Proxies in front, by address. */
  readonly proxy: readonly string[]
}

/** Everything that answers requests: the API, what couriers fetch, and the web application's files. */
export function httpApp({
  api,
  contents,
  sessions,
  letsIn,
  webDir,
  health,
  metrics,
  counted,
  proxy,
}: HttpParts): express.Express {
  const app = express()
  app.disable('x-powered-by')
  // Answers of the API are asked for when they are stale; hashing megabytes of them would hold everybody up.
  app.set('etag', false)
  if (proxy.length) app.set('trust proxy', [...proxy])
  app.use(safeHeaders)
  // A plain address on this machine must not promise TLS.
  app.use((request, response, next) => (request.secure ? onlyTls(request, response, next) : next()))
  app.get('/healthz', health)
  app.get('/metrics', metrics)
  app.use(requestLog(counted))
  app.use('/courier/contents', contents)
  // What is answered may be somebody's only: no cache on the way keeps it.
  app.use('/api', (_request, response, next) => void (response.set('cache-control', 'no-store'), next()))
  app.use('/api', sameOriginOnly)
  // A program with a token has no session.
  app.use('/api', (request, response, next) =>
    request.headers.authorization === undefined ? sessions(request, response, next) : next(),
  )
  /** Refuses what is large from whoever has no account, before it is taken in. */
  const signedInFirst: express.RequestHandler = async (request, _response, next) => {
    if (!(await letsIn(request))) throw new Refusal('not-signed-in', 'You are not signed in. Sign in and try again.')
    next()
  }
  // Readings that were measured elsewhere come as whole files; nobody sends so much without having signed in.
  for (const path of ['/api/displays/:id/validations', '/api/inventory'])
    app.use(path, signedInFirst, express.json({ limit: '5mb', strict: true }))
  app.use(
    '/api/settings/logo',
    signedInFirst,
    express.raw({ limit: '1mb', type: ['image/*', 'application/octet-stream'] }),
  )
  app.use('/api', express.json({ limit: '256kb', strict: true }))
  app.use(
    '/api',
    compression({ filter: (request, response) => request.path !== '/events' && compression.filter(request, response) }),
    api,
  )
  app.use('/api', () => {
    throw new Refusal('not-found', 'There is no such address in the API.')
  })
  if (webDir && existsSync(webDir)) {
    const folder = resolve(webDir)
    app.use(
      compression(),
      express.static(folder, {
        index: false,
        // Only what Vite names after its contents may be kept for good.
        setHeaders: (response, path) =>
          response.set(
            'cache-control',
            path.includes(`${sep}assets${sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache',
          ),
      }),
    )
    // Every other address belongs to the web application's own router.
    app.get('/{*path}', (_request, response) =>
      response.set('cache-control', 'no-cache').sendFile(join(folder, 'index.html')),
    )
  }
  app.use(problemHandler)
  return app
}

/** Refuses what another site's page sends in a signed-in person's name. */
const sameOriginOnly: express.RequestHandler = (request, _response, next) => {
  const origin = request.headers.origin
  if (origin && request.method !== 'GET') {
    let host: string | null = null
    try {
      host = new URL(origin).host
    } catch {
      host = null
    }
    if (host !== request.headers.host) throw new Refusal('not-allowed', 'This came from another site’s page.')
  }
  next()
}
