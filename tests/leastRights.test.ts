import fc from 'fast-check'
import WebSocket from 'ws'
import { courierProtocol, type CommandMessage, type Instrument } from '@bichroma/contract'
import { exampleDisplay, exampleHost, exampleInstrument } from '@bichroma/contract/test'
import { contentHash } from '@bichroma/core/profiles'
import { openStore, type RunningServer } from '@bichroma/server'
import { good, StrangeCourier } from './strangeCourier'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
/** Keys and numbers of two workstations, each with a display of its own. */
const other = { id: 0, displayId: 0, key: '' }
// Each has a studio of its own: couriers come and go in them, with instruments that stay.
beforeEach(async () => {
  studio = await Studio.open()
  const body = { name: 'lantern-09', operatingSystem: 'linux', systemVersion: '12', roomId: studio.ids.room }
  other.id = (await studio.admin.post<{ id: number }>('/workstations', body)).id
  const { serial, maker, model, firmware, panelKind, slots } = { ...exampleDisplay, serial: 'OTHER-1' }
  const care = { workstationId: other.id, limitsId: studio.ids.limits, checkEveryDays: 28 }
  const display = { name: 'Lantern 9', serial, maker, model, firmware, panelKind, slots, ...care }
  other.displayId = (await studio.admin.post<{ id: number }>('/displays', display)).id
  other.key = (await studio.admin.post<{ key: string }>(`/workstations/${other.id}/courier-key`)).key
})
afterEach(() => studio.close())

const contents = (server: RunningServer, key: string, hash: string, init: RequestInit = {}) =>
  fetch(`${server.url}/courier/contents/${hash}`, { ...init, headers: { authorization: `Bearer ${key}` } })

/** A socket of the other workstation that says what it is told to say, and what it was answered. */
async function say(messages: readonly unknown[], key = other.key) {
  const socket = new WebSocket(`${studio.server.url.replace('http', 'ws')}/courier`, {
    headers: { authorization: `Bearer ${key}` },
  })
  const heard: { type: string; sentence?: string }[] = []
  socket.on('message', (data) => heard.push(JSON.parse(data.toString())))
  socket.on('error', () => {})
  const closed = new Promise<void>((resolve) => socket.on('close', () => resolve()))
  const opened = await new Promise<boolean>((resolve) => {
    socket.once('open', () => resolve(true))
    socket.once('close', () => resolve(false))
  })
  for (const message of messages) socket.send(JSON.stringify(message))
  return { socket, heard, closed, opened }
}
const hello = (change: object = {}) => ({
  type: 'hello',
  protocol: courierProtocol,
  host: { ...exampleHost, name: 'lantern-09' },
  displays: [],
  instruments: [],
  ...change,
})
const online = () =>
  until(async () => workstations().then((all) => all.find((w) => w.id === other.id)!.courierOnline), 'it is in')
const workstations = () => studio.admin.list<{ id: number; courierOnline: boolean }>('/workstations')
const instruments = () => studio.admin.get<Instrument[]>('/instruments')

test('of all contents of a run and its placement, another workstation’s courier fetches none, and leaves none @long', async () => {
  const run = await studio.finish(await studio.start({ sampling: 'brief' }))
  await studio.admin.post('/placements', { runId: run.id })
  await until(async () => {
    const rows = await studio.admin.list<{ placement: { state: string } | null }>('/rollout')
    return rows[0].placement?.state === 'in force'
  }, 'the profile is in force')
  const data = await openStore(`${studio.folder}/data`)
  const hashes = ((await data.query('SELECT hash FROM content')) as { hash: string }[]).map((r) => r.hash)
  await data.destroy()
  expect(hashes.length).toBeGreaterThan(2)
  const { socket } = await say([hello({ displays: [{ ...exampleDisplay, serial: live.serial }] })])
  await online()
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...hashes),
      fc.uint8Array({ minLength: 1, maxLength: 50 }),
      async (hash, bytes) => {
        expect((await contents(studio.server, other.key, hash)).status).toBe(404)
        const put = { method: 'PUT', body: Buffer.from(bytes) }
        expect((await contents(studio.server, other.key, contentHash(bytes), put)).status).toBe(403)
      },
    ),
    { numRuns: 25 },
  )
  // Not even those that it fetched before, once the command is done.
  for (const hash of hashes)
    expect((await contents(studio.server, studio.keys[live.workstation], hash)).status).toBe(404)
  socket.terminate()
})

test('what a courier says of another’s displays and instruments changes nothing @long', async () => {
  /** When its own courier was seen last goes on. */
  const standing = async () => {
    const { workstation, ...display } = await studio.display()
    const instrument = (await instruments()).find((i) => i.serial === live.instrument)
    return { display, instrument, workstation: { ...workstation, courierSeenAt: null } }
  }
  const before = await standing()
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom('9.9', '0.1', 'x'),
      fc.integer({ min: 0, max: 4_102_444_800_000 }),
      async (firmware, certifiedAt) => {
        const { socket } = await say([
          hello({
            displays: [{ ...exampleDisplay, serial: live.serial, firmware }],
            instruments: [{ ...exampleInstrument, serial: live.instrument, certifiedAt }],
          }),
        ])
        await online()
        expect(await standing()).toEqual(before)
        socket.terminate()
        await until(async () => !(await workstations()).find((w) => w.id === other.id)!.courierOnline, 'it has gone')
      },
    ),
    { numRuns: 12 },
  )
})

test('certificates go forward, and not past today; instruments that nothing was read with do not pile up', async () => {
  const certified = async (certifiedAt: number | null) => {
    const { socket } = await say([hello({ instruments: [{ ...exampleInstrument, serial: 'OWN-1', certifiedAt }] })])
    await online()
    const found = (await instruments()).find((i) => i.serial === 'OWN-1')!.certifiedAt
    socket.terminate()
    await until(async () => !(await workstations()).find((w) => w.id === other.id)!.courierOnline, 'it has gone')
    return found
  }
  const now = Math.floor(studio.clock.now())
  expect(await certified(4_102_444_800_000)).toBeNull()
  expect(await certified(now - 1000)).toBe(now - 1000)
  expect(await certified(now - 5000)).toBe(now - 1000)
  expect(await certified(null)).toBe(now - 1000)
  const had = (await instruments()).length
  for (let n = 0; n < 12; n++) {
    const many = Array.from({ length: 16 }, (_, i) => ({ ...exampleInstrument, serial: `MADE-UP-${n}-${i}` }))
    const { socket } = await say([hello({ instruments: many })])
    await online()
    socket.terminate()
    await until(async () => !(await workstations()).find((w) => w.id === other.id)!.courierOnline, 'it has gone')
  }
  expect((await instruments()).length).toBeLessThanOrEqual(had + 16)
  // What readings rest on stays.
  expect((await instruments()).map((i) => i.serial)).toContain(live.instrument)
})

describe('sockets', () => {
  test('no more than four of a workstation wait to say who they are', async () => {
    const all = []
    for (let n = 0; n < 7; n++) all.push(await say([]))
    expect(all.filter((s) => s.opened)).toHaveLength(4)
    for (const { socket } of all) socket.terminate()
  })

  test('whoever goes on before being taken in, or says much that nobody asked, is told so and hung up on', async () => {
    const early = await say([hello(), hello()])
    await early.closed
    expect(early.heard.at(-1)!.sentence).toBe('The courier went on before it was taken in.')
    const { socket, heard, closed } = await say([hello()])
    await online()
    for (let n = 0; n < 1200; n++) socket.send(JSON.stringify({ type: 'result', id: 10_000 + n, ok: true, tookMs: 1 }))
    await closed
    expect(heard.at(-1)).toMatchObject({ type: 'refused', sentence: expect.stringContaining('much that nobody asked') })
  })

  test('a replaced key closes what was opened with the old one, taken in or not', async () => {
    const [taken, waiting] = [await say([hello()]), await say([])]
    await online()
    const old = other.key
    other.key = (await studio.admin.post<{ key: string }>(`/workstations/${other.id}/courier-key`)).key
    await Promise.all([taken.closed, waiting.closed])
    expect(taken.heard.at(-1)!.sentence).toContain('was replaced')
    expect((await say([], old)).opened).toBe(false)
  })
})

test('a courier that carries out a write fetches what the write names, and nothing else, for as long as it takes @long', async () => {
  const run = await studio.finish(await studio.start({ sampling: 'brief' }))
  studio.bench.stop()
  await until(async () => !(await studio.display()).live, 'the bench’s own courier is away')
  let write: CommandMessage | null = null
  const courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], (command, send) => {
    if (command.name === 'host.placeProfile') write = command
    else send(good(command))
  })
  await until(async () => (await studio.display()).live, 'it is connected')
  await studio.admin.post('/placements', { runId: run.id })
  await until(async () => write !== null, 'it is asked to place')
  const { hash } = write!.args as { hash: string }
  const key = studio.keys[live.workstation]
  expect((await contents(studio.server, key, hash)).status).toBe(200)
  expect((await contents(studio.server, other.key, hash)).status).toBe(404)
  courier.close()
  await until(async () => !(await studio.display()).live, 'it is away')
  expect((await contents(studio.server, key, hash)).status).toBe(404)
})
