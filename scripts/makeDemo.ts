import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { fenLantern, readScenarioFile, type Bench, type Scenario } from '@bichroma/bench'
import { watchEveryMs } from '@bichroma/core/aims'
import type { RunKind } from '@bichroma/core/runs'
import type { Instrument, RunDetail, WaveDetail, WavePreview } from '@bichroma/contract'
import { startServer, threadedSolver, type RunningServer } from '@bichroma/server'
import { ApiClient } from './apiClient'
import { bringTogether, layRing, type DemoWork } from './demoPeers'
import { planDemoRounds } from './demoRounds'
import { Processes } from './processes.mjs'
import { seeTo, type Hands } from './hands'
import { until, wait } from './waiting'
import { displayBody } from './displayBody'
import {
  demoAccounts,
  demoAims,
  demoCorrections,
  demoLimits,
  demoPeers,
  demoRing,
  demoRoomLight,
  demoScreens,
  demoStories,
} from './demoStudio'

const day = 86_400_000
const hour = 3_600_000
/** Days before today at which the history begins. */
const beginning = 545

/** One event of the history: what is done to which display on which day. */
interface Visit {
  readonly daysAgo: number
  readonly display: string
  readonly kind: RunKind
  readonly slot: number
  readonly aim?: string
  readonly place?: boolean
}

/** All visits of the stories, the oldest first; the slot in use is written last, so that it is the one shown. */
function visitsOf(): Visit[] {
  const visits = Object.entries(demoStories).flatMap(([display, { aims, full, checks }]) => [
    ...full.flatMap((daysAgo, i): Visit[] =>
      (i ? [0] : [...aims.keys()].reverse()).map((k) => ({
        daysAgo,
        display,
        kind: 'full',
        slot: k + 1,
        aim: aims[k],
        // What later runs filed goes out in a wave, or waits for one.
        place: k === 0 && i === 0,
      })),
    ),
    ...checks.map((daysAgo): Visit => ({ daysAgo, display, kind: 'check', slot: 1 })),
    ...demoScreens
      .filter((s) => s.display === display)
      .map(({ daysAgo }): Visit => ({ daysAgo, display, kind: 'uniformity', slot: 1 })),
  ])
  return visits.sort((a, b) => b.daysAgo - a.daysAgo)
}

/** The studio's clock while its history is made: it jumps from visit to visit, and runs on a little in between. */
class HistoryClock {
  private jumpedAt = Date.now()

  constructor(private at: number) {}

  now = () => this.at + Date.now() - this.jumpedAt

  jumpTo(at: number) {
    this.at = at
    this.jumpedAt = Date.now()
  }
}

/** A studio being made. */
class Making {
  readonly displayIds: Record<string, number> = {}
  readonly workstationOf: Record<string, string> = {}
  readonly workstationIds: Record<string, number> = {}
  readonly serialOf: Record<string, string> = {}
  readonly aimIds: Record<string, number> = {}
  readonly roomIds: Record<string, number> = {}

  constructor(
    readonly scenario: Scenario,
    readonly clock: HistoryClock,
    readonly server: RunningServer,
    readonly client: ApiClient,
    readonly say: (line: string) => void,
  ) {}

  idOf = async (path: string, body: unknown) => (await this.client.post<{ id: number }>(path, body)).id

  /** Puts aims, limits, rooms, workstations and displays into the register; gives the couriers' keys. */
  async register(): Promise<Record<string, string>> {
    for (const [name, aim] of Object.entries(demoAims)) this.aimIds[name] = await this.idOf('/aims', { name, aim })
    const limitsIds: Record<string, number> = {}
    for (const [name, limits] of Object.entries(demoLimits))
      limitsIds[name] = await this.idOf('/limits', { name, limits })
    const { roomIds } = this
    for (const name of Object.keys(this.scenario.rooms)) {
      const light = demoRoomLight.ranges[name] ?? null
      const lux = demoRoomLight.levels[name]
      roomIds[name] = await this.idOf('/rooms', { name, light, ...(lux !== undefined && { level: { lux } }) })
    }
    const keys: Record<string, string> = {}
    for (const { room, host, displays } of this.scenario.workstations) {
      const { name, operatingSystem, systemVersion } = host
      const body = { name, operatingSystem, systemVersion, roomId: roomIds[room] }
      const workstationId = await this.idOf('/workstations', body)
      this.workstationIds[name] = workstationId
      keys[name] = (await this.client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key
      for (const display of displays) {
        const { name: displayName, serial } = display
        const care = demoStories[displayName] ?? { limits: 'Everyday', checkEveryDays: 28 }
        const { checkEveryDays } = care
        const body = displayBody(display, { workstationId, limitsId: limitsIds[care.limits], checkEveryDays })
        this.displayIds[displayName] = await this.idOf('/displays', body)
        this.workstationOf[displayName] = name
        this.serialOf[displayName] = serial
      }
    }
    return keys
  }
}

/** Instruments that make the rounds, each with the rooms that it goes to. */
const lanes: readonly { readonly instrument: string; readonly rooms: readonly string[] }[] = [
  { instrument: 'TC-0417', rooms: ['Sedge Room'] },
  { instrument: 'HS-0031', rooms: ['Plate Room'] },
  { instrument: 'TC-0522', rooms: ['Lantern Hall', 'Dome'] },
  { instrument: 'TC-0288', rooms: ['Diorama Shop', 'Field Store'] },
]
const spectroradiometer = 'HS-0031'

/** Lives the studio's last eighteen months on the bench, run by run, through the application's own engine and messages. */
async function live(making: Making, control: string, today: number): Promise<void> {
  const { scenario, clock, server, client, displayIds, workstationOf, workstationIds, serialOf, aimIds, say } = making
  const roomOf = Object.fromEntries(scenario.workstations.map((w) => [w.host.name, w.room]))
  const bench = async (path: string, body: object) => {
    const response = await fetch(control + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    if (!response.ok) throw new Error(await response.text())
  }
  const here = async (instrument: string, workstation: string) => {
    await bench('/faults/carry', { instrument, workstation })
    await until(
      async () =>
        (await client.get<Instrument[]>('/instruments')).some(
          (i) => i.serial === instrument && i.workstationId === workstationIds[workstation],
        ),
      `${instrument} is at ${workstation}`,
    )
  }

  const handsAt = (serial: string, instrument: string): Hands => ({
    brightest: 100,
    brightness: async () => {
      const { workstations } = (await (await fetch(`${control}/state`)).json()) as ReturnType<Bench['overview']>
      const { slots, activeSlot } = workstations.flatMap((w) => w.displays).find((d) => d.serial === serial)!
      return slots[activeSlot - 1].backlight
    },
    turnTo: (backlight) => bench('/faults/buttons', { display: serial, backlight }),
    powerCycle: () => bench('/faults/powerCycle', { display: serial }),
    // Nobody knocks an instrument in this history.
    seat: async () => {},
    layOn: (place) => bench('/faults/seat', { instrument, ...place, tilt: 0 }),
  })

  // Accounts are numbered as they were added.
  const [administrator, technician] = demoAccounts.map(({ name }, i) => ({ id: i + 1, name }))

  /** What the slots hold so far, by display and slot. */
  const held = new Map<string, string>()
  const instrumentIds = new Map<string, number>()
  const idOfInstrument = async (serial: string) => {
    if (!instrumentIds.has(serial))
      for (const i of await client.get<Instrument[]>('/instruments')) instrumentIds.set(i.serial, i.id)
    return instrumentIds.get(serial)!
  }

  /** Does by hand what a run asks for, until it has ended. */
  const throughRun = async (runId: number, display: string, instrument: string): Promise<RunDetail> => {
    const ended = server.engine.ended(runId).then(() => true)
    while (!(await Promise.race([ended, wait(20)]))) {
      if (server.engine.live(runId)?.state !== 'waiting') continue
      const live = server.engine.live(runId)
      const confirm = live ? await seeTo(live, handsAt(serialOf[display], instrument)) : []
      if (confirm) await server.engine.resume(runId, confirm, administrator).catch(() => null)
    }
    const run = await client.get<RunDetail>(`/runs/${runId}`)
    if (run.state !== 'done') throw new Error(`History could not be made: ${display}: ${run.message}`)
    return run
  }

  const visit = async ({ daysAgo, display, kind, slot, aim, place }: Visit, instrument: string) => {
    await here(instrument, workstationOf[display])
    const runId = await server.engine.start(
      {
        displayId: displayIds[display],
        kind,
        slot,
        instrumentId: await idOfInstrument(instrument),
        ...(aim && {
          aimId: aimIds[aim],
          overwrites: held.get(`${display} ${slot}`) ?? '',
          sampling: 'brief' as const,
        }),
      },
      technician,
    )
    const run = await throughRun(runId, display, instrument)
    if (aim) held.set(`${display} ${slot}`, aim)
    if (place) {
      await server.rollout.place(runId, administrator)
      await server.rollout.idle()
    }
    say(
      `${new Date(today - daysAgo * day).toISOString().slice(0, 10)}  ${display}, slot ${slot}: ${kind}${run.judged ? `, average ${run.judged.averageDeltaE.toFixed(2)}, ${run.judged.verdict}` : ''}`,
    )
  }

  const at = async (daysAgo: number) => {
    const nine = Math.floor((today - daysAgo * day) / day) * day + 9 * hour
    clock.jumpTo(nine)
    await bench('/clock', { at: nine })
    // Weeks pass between visits, so the session of the last one has run out.
    await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
  }

  const work: DemoWork = { visit, here, throughRun, idOfInstrument }

  const correct = async (display: string) => {
    const instruments = lanes.map((lane) => lane.instrument).filter((i) => i !== spectroradiometer)
    for (const instrument of [...instruments, spectroradiometer]) await here(instrument, workstationOf[display])
    for (const instrument of instruments)
      await client.post('/corrections', {
        displayId: displayIds[display],
        instrumentId: await idOfInstrument(instrument),
        referenceId: await idOfInstrument(spectroradiometer),
      })
  }
  const visits = visitsOf()
  const days = [...visits, ...demoCorrections, ...demoPeers].flatMap((v) => v.daysAgo ?? [])
  for (const daysAgo of [...new Set(days)].sort((a, b) => b - a)) {
    await at(daysAgo)
    for (const { display } of demoCorrections.filter((c) => c.daysAgo === daysAgo)) await correct(display)
    const ofDay = visits.filter((v) => v.daysAgo === daysAgo)
    // On some days of checks the instruments change places, so that each is seen beside the others.
    const turn = ofDay.every((v) => v.kind === 'check') && daysAgo % 3 === 0 ? (daysAgo / 3) % lanes.length : 0
    await Promise.all(
      lanes.map(async ({ rooms }, i) => {
        const { instrument } = lanes[(i + turn) % lanes.length]
        for (const v of ofDay.filter(({ display }) => rooms.includes(roomOf[workstationOf[display]])))
          await visit(v, instrument)
      }),
    )
    for (const set of demoPeers.filter((p) => p.daysAgo === daysAgo)) await bringTogether(making, work, set)
    if (daysAgo === demoRing.daysAgo) await layRing(making, work)
    await Promise.all(scenario.workstations.map(({ host }) => bench('/faults/signOut', { workstation: host.name })))
  }
  for (const set of demoPeers.filter((p) => p.daysAgo === null)) await bringTogether(making, work, set)
  for (const daysAgo of demoRoomLight.days) {
    await at(daysAgo)
    for (const { instrument, rooms } of lanes)
      for (const room of rooms) {
        const there = scenario.workstations.find((w) => w.room === room)
        if (!there) continue
        await here(instrument, there.host.name)
        await bench('/faults/diffuser', { instrument, on: true })
        await client.post(`/rooms/${making.roomIds[room]}/light`, { instrumentId: await idOfInstrument(instrument) })
        await bench('/faults/diffuser', { instrument, on: false })
      }
  }
  await watchLight(making, bench, today)
  const settings = await client.get<object>('/settings')
  await client.put('/settings', { ...settings, studioName: scenario.studio })
  await server.rollout.idle()
  await rollOut(making, bench)
}

/** An instrument is left in a room with windows, and reads its light until today. */
async function watchLight(
  { client, clock, server, roomIds }: Making,
  bench: (path: string, body: object) => Promise<void>,
  today: number,
): Promise<void> {
  const { instrument, workstation, room, days, closely } = demoRoomLight.watch
  const jumpTo = async (at: number) => {
    clock.jumpTo(at)
    await bench('/clock', { at })
  }
  await jumpTo(today - days * day)
  await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
  await bench('/faults/carry', { instrument, workstation })
  await bench('/faults/diffuser', { instrument, on: true })
  let instrumentId: number | undefined
  await until(async () => {
    instrumentId = (await client.get<Instrument[]>('/instruments')).find(
      (i) => i.serial === instrument && i.workstationId !== null,
    )?.id
    return instrumentId !== undefined
  }, `${instrument} is there`)
  await client.post(`/rooms/${roomIds[room]}/watch`, { instrumentId })
  for (let at = today - days * day; at < today; at += at < today - closely * day ? hour : watchEveryMs) {
    await jumpTo(at)
    await server.light.look()
  }
  await jumpTo(today)
  await client.signIn(demoAccounts[0].login, demoAccounts[0].password)
}

/** What rollout has to tell today: a policy or two, a wave that is done but for who has not signed out, and what is astray. */
async function rollOut(
  { client, server, workstationOf, serialOf, displayIds, roomIds, aimIds, say }: Making,
  bench: (path: string, body: object) => Promise<void>,
): Promise<void> {
  for (const policy of [
    { level: 'studio', rules: { whenOther: 'put back once', fresh: 'gathered' } },
    { level: 'room', of: roomIds['Plate Room'], rules: { fresh: 'by a person', whenOther: 'tell' } },
    { level: 'room', of: roomIds['Lantern Hall'], rules: { whenOther: 'tell' } },
    { level: 'aim', of: aimIds['Atlas web'], rules: { keepOld: 1, programs: 'set' } },
    { level: 'display', of: displayIds['Dome 4'], rules: { whenSwitched: 'switch back' } },
  ])
    await client.put('/policies', policy)
  const settled = async () => {
    for (let n = 0; n < 4; n++) await server.schedule.look(0)
  }
  await settled()
  const selection = {
    rooms: Object.entries(roomIds).flatMap(([name, id]) => (name === 'Plate Room' ? [] : [id])),
    differs: true,
  }
  const { digest } = await client.post<WavePreview>('/waves/preview', { selection })
  const name = 'Profiles of the autumn'
  const { id } = await client.post<{ id: number }>('/waves', {
    ...{ name, selection, digest, first: 3, gate: 'read-back', stopShare: 0.2, days: 14 },
  })
  await until(
    async () => (await client.get<WaveDetail>(`/waves/${id}`)).counts['held back'] === 0,
    'the wave holds nothing back',
  )
  await settled()
  await bench('/faults/signOut', { workstation: workstationOf['Sedge 4'] })
  const lantern = { workstation: workstationOf['Lantern 5'], display: serialOf['Lantern 5'] }
  await bench('/faults/replaceProfile', { ...lantern, by: 'Glint Arcade' })
  await bench('/faults/buttons', { display: serialOf['Diorama 1'], slot: 2 })
  await settled()
  say(`wave “${name}” has gone out`)
}

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
