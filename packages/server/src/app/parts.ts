import { join } from 'node:path'
import { Access } from '../access/access'
import { Ledger } from '../ledger/ledger'
import { registerArrival } from '../register/arrivals'
import { CourierHub } from '../couriers/hub'
import { workstationOfKey } from '../register/courierKeys'
import { SeenTimes } from '../register/seenTimes'
import { ContentStore } from '../data/contents'
import { openStore } from './store'
import { FleetDriftKeeper } from '../drift/fleet'
import { DriftKeeper } from '../drift/keeper'
import { Events } from '../http/events'
import { FloorNews } from '../floor/news'
import { Peers } from '../peers/peers'
import { Standings } from '../floor/standings'
import { heldByRuns, runsReadWith } from '../runs/heldByRuns'
import { forgetImports } from '../review/importReadings'
import { LightWatch } from '../register/light/lightWatch'
import { Rollout } from '../rollout/rollout'
import { RolloutSchedule } from '../rollout/schedule'
import { WantedKeeper } from '../rollout/wantedKeeper'
import { forgetHalfMade } from '../rollout/waves/beginWave'
import { Waves } from '../rollout/waves/waves'
import { roundsName } from '../rounds/houseFacts'
import { Rounds } from '../rounds/rounds'
import { workingHours } from '../rounds/settings'
import { RunEngine } from '../runs/engine/engine'
import { RunLog } from '../runs/context/runLog'
import { inlineSolver } from '../runs/solver'
import { inlineThreads } from '../http/threads'
import { Holds } from '../register/holds'
import { BackupKeeper } from '../studio/backups'
import { studioSettings } from '../studio/settings'
import type { ServerOptions } from './serverOptions'

/**
 * Everything that a server is made of, wired together: what one part tells is heard here by those whom it concerns. Nothing
 * runs yet. Throws StoreRefusal for a folder that cannot be used.
 */
export async function openParts(options: ServerOptions, now: () => number) {
  const data = await openStore(options.dataDir, { driver: options.storeDriver, durable: options.durable })
  let closing = false
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
    (changes) => rollout.agreements.follow(changes),
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
  const slowThreads = options.slowThreads ?? inlineThreads
  const backups = new BackupKeeper(data, slowThreads, ledger, now, {
    folder: join(options.dataDir, 'backups'),
    everyHours: 0,
    keep: 14,
    ...options.backups,
  })
  const news = new FloorNews({ data, hub, engine, events, standings, now })
  return {
    data,
    events,
    standings,
    contents,
    ledger,
    access,
    solver,
    threads,
    holds,
    seen,
    keyOwner,
    fleetDrift,
    drift,
    hub,
    rollout,
    wanted,
    waves,
    rounds,
    peers,
    light,
    hours,
    levelled,
    schedule,
    engine,
    backups,
    news,
    now,
    /** Ends what goes on in them, couriers first; the store last, once `lastAnswers` has let go of whoever still asks. */
    async close(lastAnswers: () => Promise<void>): Promise<void> {
      closing = true
      const ended = engine.close()
      hub.close()
      await ended
      await news.close()
      await seen.write()
      const noMoreBackups = backups.close()
      // A large one takes minutes: it is broken off.
      await slowThreads.close()
      await noMoreBackups
      schedule.close()
      await light.close()
      await rounds.close()
      await peers.close()
      await wanted.close()
      await waves.close()
      await rollout.close()
      await drift.close()
      events.close()
      await lastAnswers()
      await solver.close()
      await threads.close()
      await data.destroy()
    },
  }
}

export type Parts = Awaited<ReturnType<typeof openParts>>

/** Takes stock of what a server before this one left, and lets everything run. */
export async function letRun({
  data,
  engine,
  drift,
  rounds,
  peers,
  news,
  wanted,
  waves,
  schedule,
  light,
}: Parts): Promise<void> {
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
}
