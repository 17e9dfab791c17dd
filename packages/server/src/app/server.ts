import { createServer, type Server } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import type { Request } from 'express'
import { In } from 'typeorm'
import { Registry } from 'prom-client'
import { Access, sessionMiddleware } from '../access/access'
import { peopleRoutes } from '../access/people'
import { usualSpan, type SessionSpan } from '../access/sessionStore'
import { Ledger } from '../ledger/ledger'
import { ledgerRoutes } from '../ledger/routes'
import { aimRoutes } from '../aims/routes'
import { registerArrival } from '../register/arrivals'
import { contentRoutes } from '../couriers/contentRoutes'
import { CourierHub } from '../couriers/hub'
import { workstationOfKey } from '../register/courierKeys'
import { SeenTimes } from '../register/seenTimes'
import { ContentStore } from '../data/contents'
import { ownFolder } from '../data/folderLock'
import { collectStudioMetrics, healthRoute, metricsRoute } from './health'
import { requestMetrics } from '../http/requestLog'
import { Door } from './door'
import { httpApp } from './httpApp'
import { describeApi } from './openapi/describe'
import { roomsAskedIn } from './roomsAsked'
import { openStore } from './store'
import type { TlsFiles } from './tls'
import { FleetDriftKeeper } from '../drift/fleet'
import { DriftKeeper } from '../drift/history'
import { driftRoutes } from '../drift/routes'
import { Events } from '../http/events'
import { Api } from '../http/api'
import { pulseOf } from '../floor/pulse'
import { FloorNews } from '../floor/news'
import { foundRoutes } from '../floor/found'
import { inventoryRoutes } from '../floor/inventory/routes'
import { Places } from '../floor/places'
import { Peers } from '../peers/peers'
import { floorRoutes } from '../floor/routes'
import { Standings } from '../floor/standings'
import { heldByRuns, runsReadWith } from '../runs/heldByRuns'
import { displaysJudgedBy } from '../register/displaysJudgedBy'
import { roomEntity } from '../register/entities'
import { forgetImports } from '../review/importReadings'
import { reviewRoutes } from '../review/routes'
import { correctionRoutes } from '../register/corrections'
import { lightRoutes } from '../register/light/lightRoutes'
import { LightWatch } from '../register/light/lightWatch'
import { roomRoutes } from '../register/rooms'
import { registerRoutes } from '../register/routes'
import { Rollout } from '../rollout/rollout'
import { policyRoutes } from '../rollout/policies'
import { rolloutRoutes } from '../rollout/routes'
import { RolloutSchedule } from '../rollout/schedule'
import { WantedKeeper } from '../rollout/wantedKeeper'
import { forgetHalfMade } from '../rollout/waves/beginWave'
import { Waves } from '../rollout/waves/waves'
import type { MailOptions } from '../rounds/mailer'
import { roundsName } from '../rounds/houseFacts'
import { Rounds } from '../rounds/rounds'
import { workingHours } from '../rounds/settings'
import { RunEngine } from '../runs/engine/engine'
import { RunLog } from '../runs/context/runLog'
import { outlookRoutes } from '../runs/outlook'
import { runRoutes } from '../runs/routes'
import { inlineSolver, type Solver } from '../runs/solver'
import { inlineThreads, type Threads } from '../http/threads'
import { Holds } from '../register/holds'
import { BackupKeeper, backupRoutes, type BackupPolicy } from '../studio/backups'
import { settingRoutes, studioSettings } from '../studio/settings'

export interface ServerOptions {
  /** Folder of everything that is kept. */
  readonly dataDir: string
  /** 0 for any free port. */
  readonly port?: number
  readonly host?: string
  /** Folder of the built web application, if it is to be served. */
  readonly webDir?: string
  /** UTC, ms since 1970. */
  readonly now?: () => number
  readonly solver?: Solver
  readonly threads?: Threads
  /** In place of better-sqlite3, for tests of disks that fail. */
  readonly storeDriver?: unknown
  /** False leaves it to the system when commits reach the disk; true unless given. See StoreOptions. */
  readonly durable?: boolean
  /** How long sessions last. */
  readonly sessions?: SessionSpan
  /** Where backups go and how often; none by themselves unless given. */
  readonly backups?: Partial<BackupPolicy>
  /** Private key and certificate, where the server ends TLS itself. */
  readonly tls?: TlsFiles
  /** What opens /metrics; off unless given. */
  readonly metricsToken?: string
  /** Proxies in front, by address, that are believed about who asks. */
  readonly proxy?: readonly string[]
  /** Where mail is sent and in whose name; none is sent unless given. */
  readonly mail?: MailOptions
  /** Wall time for which a run that starts waits for a courier that has just gone, ms; 10 s unless given. */
  readonly graceMs?: number
  /** Wall time between two looks at what hands do at a display, ms; 700 unless given. */
  readonly gaugeMs?: number
}

export interface RunningServer {
  readonly url: string
  readonly access: Access
  readonly engine: RunEngine
  readonly rollout: Rollout
  readonly waves: Waves
  readonly schedule: RolloutSchedule
  readonly rounds: Rounds
  readonly light: LightWatch
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
  const data = await openStore(options.dataDir, { driver: options.storeDriver, durable: options.durable })
  const events = new Events()
  const standings = new Standings(data)
  events.on('register', () => standings.forget())
  const contents = new ContentStore(data, now)
  const ledger = new Ledger(data, now)
  const access = new Access(
    data,
    ledger,
    now,
    (session) => events.signedOut(session),
    async () => (await studioSettings(data)).secondFactor,
  )
  events.on('register', () => access.forgetPolicy())
  const solver = options.solver ?? inlineSolver
  const threads = options.threads ?? inlineThreads
  const holds = new Holds((held) => heldByRuns(data, held))
  const seen = new SeenTimes(data)
  const keyOwner = (key: string) => workstationOfKey(data, key)
  const fleetDrift = new FleetDriftKeeper(data, threads)
  // Its groups are named after rooms.
  events.on('register', () => fleetDrift.forget())
  const drift = new DriftKeeper(data, now, () => {
    fleetDrift.forget()
    events.changed('drift')
  })

  const instrumentInUse = async (id: number) => (await runsReadWith(data, id)) || roundsName(data, id)
  const hub: CourierHub = new CourierHub(keyOwner, {
    arrived: async (workstationId, hello) => {
      await registerArrival(data, workstationId, hello, now(), {
        elsewhere: (serial) => {
          const holder = hub.workstationOfInstrument(serial)
          return holder !== null && holder !== workstationId
        },
        inUse: instrumentInUse,
      })
      seen.note(workstationId, now())
      // Once the hub has taken the connection in, whatever waited for this workstation goes on.
      setImmediate(() => {
        news.courier(workstationId)
        void rollout.attend(workstationId)
        rounds.attend(workstationId)
        light.soon()
        engine.lookAtQueue()
      })
    },
    left: async (workstationId) => {
      if (closing) return
      seen.note(workstationId, now())
      news.courier(workstationId)
    },
    changed: (workstationId) => void rollout.attend(workstationId),
    displays: async (workstationId, hello) => {
      await registerArrival(data, workstationId, hello, now(), {
        elsewhere: () => true,
        inUse: instrumentInUse,
      })
      news.courier(workstationId)
      events.changed('couriers')
      void rollout.attend(workstationId)
      engine.lookAtQueue()
    },
  })
  let closing = false
  const rollout = new Rollout({
    data,
    hub,
    ledger,
    now,
    changed: () => news.changed(),
    moved: () => {
      wanted.soon()
      waves.soon()
    },
  })
  const wanted: WantedKeeper = new WantedKeeper(
    data,
    now,
    (changes) => rollout.follow(changes),
    () => {
      news.changed()
      waves.soon()
    },
  )
  const waves = new Waves({
    data,
    hub,
    ledger,
    now,
    tend: (workstations) => rollout.tend(workstations),
    changed: () => {
      news.changed()
      events.changed('rollout')
    },
  })
  const rounds: Rounds = new Rounds({
    data,
    hub,
    contents,
    threads,
    ledger,
    now,
    folder: options.dataDir,
    mail: options.mail,
    startRun: (input, who) => engine.start(input, who),
    changed: () => events.changed('rounds'),
    dueChanged: () => news.changed(),
  })
  for (const topic of ['register', 'aims'] as const) events.on(topic, () => rounds.due.soon())
  const peers: Peers = new Peers({
    data,
    hub,
    holds,
    threads,
    ledger,
    now,
    startRun: (input, who) => engine.start(input, who),
    stopRun: (id, who) => engine.stop(id, false, who),
    changed: () => events.changed('peers'),
    aimsChanged: () => events.changed('aims'),
    fleetDrift: (at) => fleetDrift.sums(at),
    refreshDrift: (displayId, slot) => drift.refresh(displayId, slot),
    judgedAnew: () => {
      fleetDrift.forget()
      events.changed('runs', 'drift')
    },
  })
  for (const topic of ['register', 'drift'] as const) events.on(topic, () => peers.soon())
  const hours = () => workingHours(data)
  const levelled = () => {
    events.changed('register', 'light')
    rounds.replan()
  }
  const light: LightWatch = new LightWatch({
    data,
    hub,
    holds,
    ledger,
    now,
    hours,
    read: () => events.changed('light'),
    turned: () => {
      events.changed('light')
      rounds.lightTurned()
      engine.lookAtQueue()
    },
    levelled,
  })
  const schedule = new RolloutSchedule({ data, rollout, waves, wanted, now })
  const engine = new RunEngine({
    data,
    hub,
    contents,
    solver,
    threads,
    holds,
    log: new RunLog(data),
    ledger,
    now,
    lights: {
      at: (workstationId) => light.at(workstationId),
      back: (roomId, signal) => light.back(roomId, signal),
      zone: async () => (await hours()).zone,
    },
    publish: (run) => events.run(run),
    changed: (runId) => {
      news.run(runId)
      rounds.runChanged(runId)
      peers.runChanged()
    },
    judged: async (run) => {
      wanted.soon()
      waves.soon()
      await drift.judged(run)
      await rounds.judged(run)
    },
    takenBack: (run) => drift.takenBack(run),
    graceMs: options.graceMs ?? 10_000,
    gaugeMs: options.gaugeMs ?? 700,
  })
  const backups = new BackupKeeper(data, threads, ledger, now, {
    folder: join(options.dataDir, 'backups'),
    everyHours: 0,
    keep: 14,
    ...options.backups,
  })
  const news = new FloorNews({ data, hub, engine, events, standings, now })
  await forgetImports(data)
  await forgetHalfMade(data)
  await engine.takeStock()
  await drift.catchUp()
  await rounds.takeStock()
  await peers.start()
  engine.lookAtQueue()
  await news.start()
  void wanted.catchUp()
  waves.soon()
  schedule.start()
  rounds.start()
  light.start()

  const api = new Api((request: Request) => access.accountOf(request), roomsAskedIn(data))
  access.routes(api)
  peopleRoutes(api, data, ledger, access, now, async (ids) =>
    (await data.getRepository(roomEntity).findBy({ id: In([...ids]) })).map(({ id }) => id),
  )
  ledgerRoutes(api, data, ledger)
  const limitsChanged = () => void drift.limitsChanged()
  registerRoutes(api, data, hub, holds, events, ledger, now, limitsChanged, () => news.changed())
  roomRoutes(api, data, events, ledger, now, (isLevelled) => {
    light.soon()
    if (isLevelled) rounds.replan()
  })
  lightRoutes(api, { data, hub, holds, events, threads, ledger, now, watch: light, hours, levelled })
  correctionRoutes(api, data, hub, holds, ledger, now, () => events.changed('register'))
  aimRoutes(api, data, (id) => displaysJudgedBy(data, id), limitsChanged, events, ledger, now)
  backupRoutes(api, backups)
  settingRoutes(api, data, contents, threads, events, ledger, limitsChanged)
  runRoutes(api, { data, hub, engine, contents, threads, ledger, changed: (runId) => news.run(runId) })
  outlookRoutes(api, data, hub)
  reviewRoutes(api, { data, contents, threads, drift, ledger, now, changed: (runId) => news.run(runId) })
  driftRoutes(api, data, fleetDrift, now)
  policyRoutes(api, {
    data,
    ledger,
    now,
    changed: () => {
      events.changed('rollout')
      wanted.soon()
    },
  })
  rolloutRoutes(api, { data, hub, contents, ledger, now, rollout, waves, wantedAnew: () => wanted.catchUp() })
  rounds.routes(api)
  peers.routes(api)
  foundRoutes(api, data, hub)
  const placesChanged = () => {
    events.changed('register')
    fleetDrift.forget()
    news.changed()
    wanted.soon()
  }
  const places = new Places({ data, holds, ledger, rollout, now, changed: placesChanged })
  places.routes(api)
  inventoryRoutes(api, { data, places, ledger, now, changed: placesChanged })
  floorRoutes(api, { data, hub, engine, standings, now })
  let description: string | null = null
  api.on('GET /openapi.json', (_request, response) => {
    description ??= JSON.stringify(describeApi())
    response.type('application/json').send(description)
  })
  api.on('GET /events', (request, response) =>
    events.listen(response, request.sessionID ?? `token ${request.account.name}`),
  )
  const missing = api.missing()
  if (missing.length) throw new Error(`Routes of the role table that nobody put up: ${missing.join(', ')}.`)

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
    access,
    engine,
    rollout,
    waves,
    schedule,
    rounds,
    light,
    api,
    close: async () => {
      closing = true
      const ended = engine.close()
      hub.close()
      await ended
      await news.close()
      await seen.write()
      stopCounting()
      await backups.close()
      schedule.close()
      await light.close()
      await rounds.close()
      await peers.close()
      await wanted.close()
      await waves.close()
      await rollout.close()
      await drift.close()
      events.close()
      await new Promise<void>((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      })
      await solver.close()
      await threads.close()
      await data.destroy()
    },
  }
}
