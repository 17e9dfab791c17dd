import WebSocket from 'ws'
import { courierProtocol, type CommandMessage, type Hello } from '@bichroma/contract'
import { fenLantern } from '@bichroma/bench'
import { live, Studio, until } from './studio'
import { exampleControls, exampleDisplay, exampleHost, exampleInstrument } from '@bichroma/contract/test'

/** A courier of this test's own making, which answers as it is told. */
class StrangeCourier {
  readonly asked: CommandMessage[] = []
  private readonly socket: WebSocket
  /** Resolves when the line is down. */
  readonly closed: Promise<void>

  constructor(
    url: string,
    key: string,
    private readonly answer: (command: CommandMessage, send: (message: unknown) => void) => void,
  ) {
    this.socket = new WebSocket(`${url.replace('http', 'ws')}/courier`, { headers: { authorization: `Bearer ${key}` } })
    const { displays } = fenLantern.workstations.find((w) => w.host.name === live.workstation)!
    const { serial, panel } = displays[0]
    const hello: Hello = {
      type: 'hello',
      protocol: courierProtocol,
      host: { ...exampleHost, name: live.workstation },
      displays: [
        {
          ...exampleDisplay,
          serial,
          maker: panel.maker,
          model: panel.model,
          firmware: panel.firmware,
          slots: panel.tables.slots,
          panelKind: panel.light.source,
        },
      ],
      instruments: [{ ...exampleInstrument, serial: live.instrument }],
    }
    this.socket.on('error', () => {})
    this.closed = new Promise((resolve) => this.socket.on('close', () => resolve()))
    this.socket.on('open', () => this.socket.send(JSON.stringify(hello)))
    this.socket.on('message', (data) => {
      const command = JSON.parse(data.toString()) as CommandMessage
      this.asked.push(command)
      this.answer(command, (message) =>
        this.socket.send(typeof message === 'string' ? message : JSON.stringify(message)),
      )
    })
  }

  close() {
    this.socket.terminate()
  }
}

const controls = exampleControls
/** Right answers to what Ready asks. */
const values: Partial<Record<CommandMessage['name'], unknown>> = {
  'host.facts': exampleHost,
  'display.getControls': controls,
  'display.setControls': controls,
  'display.activateSlot': controls,
  'display.showPatch': {},
  'display.readSlot': { slot: 1, label: null, hash: null },
  'instrument.identify': { instruments: [{ ...exampleInstrument, serial: live.instrument }] },
  'instrument.zero': {},
  'instrument.read': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'display.readPatch': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'host.listInForce': { bindings: [] },
}
/** The patch shown last: black is dark, and everything else the same light, as no display has it. */
let shown: readonly number[] = [0, 0, 0]
const valueOf = ({ name, args }: CommandMessage): unknown => {
  if (name === 'display.showPatch') shown = (args as { rgb: number[] }).rgb
  const dark = name === 'instrument.read' && shown.every((v) => v === 0)
  return dark ? { xyz: [0.05, 0.05, 0.06], integrationMs: 3000, flags: [] } : values[name]
}
const good = (command: CommandMessage) => ({
  type: 'result',
  id: command.id,
  ok: true,
  tookMs: 10,
  value: valueOf(command),
})

let studio: Studio
let courier: StrangeCourier
beforeEach(async () => {
  studio = await Studio.open()
  studio.bench.stop()
  await until(async () => !(await studio.display()).live, 'the bench’s own courier is away')
})
afterEach(async () => {
  courier.close()
  await studio.close()
})

async function runWith(answer: ConstructorParameters<typeof StrangeCourier>[2]) {
  courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], answer)
  await until(async () => (await studio.display()).live, 'the strange courier is connected')
  return studio.finish(await studio.start())
}

test('answers that make no sense end the run with a sentence, and the server lives', async () => {
  const run = await runWith((command, send) =>
    send(
      command.name === 'instrument.read'
        ? { ...good(command), value: { xyz: [1, 'two', null], integrationMs: -1, flags: ['sleepy'] } }
        : good(command),
    ),
  )
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('The courier’s answer to instrument.read makes no sense'),
  })
  expect((await studio.display()).runId).toBeNull()
})

test('junk between answers, answers to nothing, and answers twice are passed over', async () => {
  const run = await runWith((command, send) => {
    send('[]')
    send('null')
    send({ type: 'result', id: 999_999, ok: true, tookMs: 1 })
    send({ type: 'progress', id: 999_999, done: 0.5 })
    send({ type: 'progress', id: command.id, done: 'half' })
    send(good(command))
    send(good(command))
  })
  // Every reading is the same grey light, so the run must find out that this is no display.
  expect(run.state).toBe('failed')
  expect(run.message).toMatch(/do not make a display|cannot mix the white/)
  expect(run.log).toHaveLength(17)
})

test.each([
  ['a time of 1e308 ms', { tookMs: 1e308 }],
  ['a light of 1e308 cd/m²', { value: { xyz: [1e308, 100, 108], integrationMs: 500, flags: [] } }],
  ['an “ok” that is a word', { ok: 'yes' }],
  ['a name that every object answers to', { value: { toString: 1 } }],
])('an answer with %s ends the run with a sentence at once', async (_, change) => {
  const run = await runWith((command, send) =>
    send(command.name === 'instrument.read' ? { ...good(command), ...change } : good(command)),
  )
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('makes no sense. Update the courier.'),
  })
})

test('a fault without a reason is a fault all the same', async () => {
  const run = await runWith((command, send) =>
    send(command.name === 'instrument.zero' ? { type: 'result', id: command.id, ok: false, tookMs: 0 } : good(command)),
  )
  expect(run).toMatchObject({ state: 'failed', message: expect.stringContaining('failed without saying why') })
})

test('hanging up in the middle of Ready is the courier being away', async () => {
  const run = await runWith((command, send) => {
    if (command.name === 'instrument.identify') courier.close()
    else send(good(command))
  })
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('Switch sedge-02 on and start its courier.'),
  })
})

test('the newest courier of a workstation is the one that counts', async () => {
  courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], () => {})
  await until(async () => (await studio.display()).live, 'the first is connected')
  const second = new StrangeCourier(studio.server.url, studio.keys[live.workstation], (command, send) =>
    send(good(command)),
  )
  await courier.closed
  const run = await studio.finish(await studio.start())
  expect(run.log).toHaveLength(17)
  expect(courier.asked).toEqual([])
  expect(second.asked.length).toBeGreaterThan(17)
  second.close()
})
