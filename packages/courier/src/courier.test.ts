import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { WebSocketServer, type WebSocket } from 'ws'
import { contentHash } from '@bichroma/core/profiles'
import type { Hello, ResultMessage } from '@bichroma/contract'
import { Contents } from './contents'
import { Courier } from './courier'
import { DeviceFault, type Devices } from './devices'
import { courierProtocol } from '@bichroma/contract'
import { exampleControls, exampleDisplay, exampleHost } from '@bichroma/contract/test'

/** Devices that do nothing but what a test tells them. */
function plainDevices(): Devices & { showPatch: jest.Mock; getControls: jest.Mock } {
  const showPatch = jest.fn(async () => {})
  const getControls = jest.fn(async () => ({ ...exampleControls, backlight: 1 }))
  const identity = { ...exampleDisplay, slots: 1, presets: [null] }
  return {
    showPatch,
    getControls,
    displays: [
      {
        identity,
        showPatch,
        wake: async () => {},
        showName: async () => {},
        getControls,
        setControls: getControls,
        activateSlot: getControls,
        shownSlot: async () => 1,
        curves: async () => null,
        loadCurves: async () => {},
        connected: true,
        readSlot: async () => ({ label: null, bytes: null }),
        writeSlot: async () => {},
      },
    ],
    instruments: [],
    host: {
      facts: async () => exampleHost,
      placeProfile: async () => ({ path: '' }),
      listInForce: async () => [],
      bind: async () => {},
      removeProfile: async () => false,
      programs: async () => [],
      setProgram: async () => {},
      leaveNote: async () => {},
      tellDesk: async () => {},
    },
  }
}

/** A server's end: takes couriers in and keeps what they say. */
class FarEnd {
  readonly hellos: Hello[] = []
  readonly results: ResultMessage[] = []
  socket: WebSocket | null = null
  private waiting: (() => void)[] = []

  private constructor(
    readonly server: Server,
    sockets: WebSocketServer,
  ) {
    sockets.on('connection', (socket) => {
      this.socket = socket
      socket.on('message', (data) => {
        const message = JSON.parse(data.toString()) as { type: string }
        if (message.type === 'hello') this.hellos.push(message as Hello)
        else this.results.push(message as ResultMessage)
        this.waiting.splice(0).forEach((wake) => wake())
      })
    })
  }

  static async open(
    handle?: (url: string, method: string, key: string | undefined) => [number, Uint8Array | string],
  ): Promise<FarEnd> {
    const server = createServer((request, response) => {
      const [status, body] = handle?.(request.url!, request.method!, request.headers.authorization) ?? [404, '']
      response.writeHead(status).end(body)
    })
    const end = new FarEnd(server, new WebSocketServer({ server, path: '/courier' }))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()))
    return end
  }

  get url() {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  async until(condition: () => boolean) {
    while (!condition()) await new Promise<void>((resolve) => this.waiting.push(resolve))
  }

  say(message: unknown) {
    this.socket!.send(typeof message === 'string' ? message : JSON.stringify(message))
  }

  close() {
    this.socket?.terminate()
    this.server.close()
    this.server.closeAllConnections()
  }
}

let end: FarEnd
let courier: Courier | null = null
let time = 0
const devices = plainDevices()
const refused: string[] = []

beforeEach(async () => {
  jest.clearAllMocks()
  end = await FarEnd.open()
  courier = new Courier({
    server: end.url,
    key: 'k'.repeat(40),
    devices,
    clock: { now: () => time },
    retryMs: 1,
    onRefused: (s) => refused.push(s),
  })
  courier.start()
  await end.until(() => end.hellos.length === 1)
})
afterEach(() => {
  courier?.stop()
  end.close()
})

test('says who it is when it connects, and again after the line broke', async () => {
  expect(end.hellos[0]).toMatchObject({ type: 'hello', protocol: courierProtocol, displays: [{ serial: 'S1' }] })
  end.socket!.terminate()
  await end.until(() => end.hellos.length === 2)
})

test('stays away once it was stopped', async () => {
  courier!.stop()
  await new Promise((resolve) => end.socket!.once('close', resolve))
  for (let i = 0; i < 20; i++) await new Promise((resolve) => setImmediate(resolve))
  expect(end.hellos).toHaveLength(1)
})

test('carries commands out one after another and tells how long each took', async () => {
  const order: string[] = []
  devices.showPatch.mockImplementation(async () => {
    order.push('begins')
    await new Promise((resolve) => setImmediate(resolve))
    time += 70
    order.push('ends')
  })
  for (const id of [1, 2])
    end.say({ type: 'command', id, name: 'display.showPatch', args: { serial: 'S1', rgb: [0, 0, 0] } })
  await end.until(() => end.results.length === 2)
  expect(order).toEqual(['begins', 'ends', 'begins', 'ends'])
  expect(end.results.map((r) => [r.id, r.ok, r.tookMs])).toEqual([
    [1, true, 70],
    [2, true, 70],
  ])
})

test.each([
  [
    'a fault with its kind and sentence',
    new DeviceFault('data-link', 'Plug it in.'),
    { kind: 'data-link', sentence: 'Plug it in.' },
  ],
  [
    'anything else as a device that is not understood',
    new TypeError('x is undefined'),
    { kind: 'device', sentence: expect.stringContaining('Reconnect it') },
  ],
])('answers with %s', async (_, error, fault) => {
  devices.getControls.mockRejectedValueOnce(error)
  end.say({ type: 'command', id: 5, name: 'display.getControls', args: { serial: 'S1' } })
  await end.until(() => end.results.length === 1)
  expect(end.results[0]).toMatchObject({ id: 5, ok: false, fault })
})

test('arguments of the wrong shape are answered, and reach no device', async () => {
  end.say({ type: 'command', id: 6, name: 'display.showPatch', args: { serial: 'S1', rgb: [3, 0, 0] } })
  end.say({ type: 'command', id: 7, name: 'display.showPatch', args: { serial: 'S1', rgb: [0, 0] } })
  await end.until(() => end.results.length === 2)
  expect(end.results.map((r) => r.fault?.kind)).toEqual(['bad-message', 'bad-message'])
  expect(devices.showPatch).not.toHaveBeenCalled()
})

test('what is no command is passed over, and the next one is carried out', async () => {
  for (const junk of [
    '{',
    'null',
    '[]',
    '{"type":"command"}',
    '{"type":"command","id":1,"name":"format.disk","args":{}}',
    '{"__proto__":{"type":"refused"}}',
    '{"type":"command","id":1,"name":"host.facts","args":{"toString":1}}',
  ])
    end.say(junk)
  end.say({ type: 'command', id: 9, name: 'host.facts', args: {} })
  await end.until(() => end.results.length === 1)
  expect(end.results[0]).toMatchObject({ id: 9, ok: true })
})

test('a refusal is told', async () => {
  end.say({ type: 'refused', sentence: 'Update the courier.' })
  end.say({ type: 'command', id: 10, name: 'host.facts', args: {} })
  await end.until(() => end.results.length === 1)
  expect(refused).toContain('Update the courier.')
})

describe('contents', () => {
  const bytes = new TextEncoder().encode('tables')
  const hash = contentHash(bytes)
  let store: FarEnd
  const kept = new Map<string, string>()
  beforeAll(async () => {
    store = await FarEnd.open((url, method, key) => {
      if (key !== 'Bearer good') return [401, '']
      if (method === 'PUT') return [kept.set(url, 'there') && 204, '']
      return url.endsWith(hash) ? [200, bytes] : url.endsWith('d'.repeat(64)) ? [200, 'damaged on the way'] : [404, '']
    })
  })
  afterAll(() => store.close())

  test('are fetched and left by hash', async () => {
    expect(await new Contents(store.url, 'good').get(hash)).toEqual(bytes)
    expect(await new Contents(store.url, 'good').put(bytes)).toBe(hash)
    expect([...kept.keys()]).toEqual([`/courier/contents/${hash}`])
  })

  test.each([
    ['damaged on the way', 'good', 'd'.repeat(64), 'arrived damaged'],
    ['that are not there', 'good', 'e'.repeat(64), 'answered 404'],
    ['with a wrong key', 'bad', hash, 'answered 401'],
  ])('%s are a fault', async (_, key, asked, words) => {
    await expect(new Contents(store.url, key).get(asked)).rejects.toThrow(words)
  })

  test('from a server that is away are a fault', async () => {
    await expect(new Contents('http://127.0.0.1:9', 'good').get(hash)).rejects.toMatchObject({ kind: 'content' })
  })
})
