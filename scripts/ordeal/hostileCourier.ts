import { connect } from 'node:net'
import WebSocket from 'ws'
import { courierProtocol, type CommandMessage } from '@bichroma/contract'
import { exampleControls, exampleDisplay, exampleHost, exampleInstrument } from '@bichroma/contract/test'
import { mutated, nestedText, pick, strange, type Uniform } from './values'

/** What a courier answers, when it answers well. */
const answers: Readonly<Record<string, unknown>> = {
  'host.facts': exampleHost,
  'display.getControls': exampleControls,
  'display.setControls': exampleControls,
  'display.activateSlot': exampleControls,
  'display.showPatch': {},
  'display.readSlot': { slot: 1, label: null, hash: null },
  'display.writeSlot': { slot: 1, label: null, hash: null },
  'instrument.identify': { instruments: [exampleInstrument] },
  'instrument.zero': {},
  'instrument.read': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'display.readPatch': { xyz: [95, 100, 108], integrationMs: 500, flags: [] },
  'instrument.readAmbient': { illuminanceLux: 40, xyz: [38, 40, 43] },
  'host.listInForce': { bindings: [] },
}

const hello = {
  type: 'hello',
  protocol: courierProtocol,
  host: exampleHost,
  displays: [exampleDisplay],
  instruments: [exampleInstrument],
}

export interface CourierTally {
  sent: number
  connections: number
  refused: number
  /** Commands that it was sent meanwhile. */
  commands: number
}

const open = (url: string, key: string) =>
  new Promise<WebSocket | null>((resolve) => {
    const socket = new WebSocket(`${url.replace('http', 'ws')}/courier`, {
      headers: { authorization: `Bearer ${key}` },
    })
    socket.once('open', () => resolve(socket))
    socket.once('error', () => resolve(null))
  })

/** A socket that sends half a message, or nothing at all. */
function halfSocket(url: string, key: string, uniform: Uniform): void {
  const { hostname, port } = new URL(url)
  const socket = connect(Number(port), hostname)
  socket.on('error', () => {})
  socket.write(
    `GET /courier HTTP/1.1\r\nHost: x\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\nAuthorization: Bearer ${key}\r\n\r\n`,
  )
  // A frame that promises more than it brings; or a length that no frame has.
  if (uniform() < 0.7)
    socket.write(Buffer.from([0x81, 0xff, ...Array.from({ length: 8 }, () => Math.floor(uniform() * 256)), 1, 2]))
  setTimeout(() => socket.destroy(), 200).unref()
}

/** One message out of the line, after an honest hello. */
function message(uniform: Uniform, asked: readonly CommandMessage[]): string {
  const roll = uniform()
  const command = asked.length ? asked[asked.length - 1] : null
  const id = command && uniform() < 0.7 ? command.id : pick(uniform, [0, -1, 1, 7, 1e308, 2 ** 53, 999_999])
  const result = { type: 'result', id, ok: true, tookMs: 10, value: command ? answers[command.name] : {} }
  if (roll < 0.3) return JSON.stringify(result)
  if (roll < 0.6) return JSON.stringify(mutated(uniform, result))
  if (roll < 0.66) return JSON.stringify({ ...result, value: 0 }).replace('"value":0', `"value":${nestedText(14_000)}`)
  if (roll < 0.7) return JSON.stringify({ type: 'progress', id, done: pick(uniform, [0.5, -1, 1e308, 'half', null]) })
  if (roll < 0.74)
    return JSON.stringify({ ...result, ok: false, fault: mutated(uniform, { kind: 'device', sentence: 'No.' }) })
  if (roll < 0.78)
    return JSON.stringify({ ...result, value: { xyz: [1e308, -1e308, 5e-324], integrationMs: -1, flags: [] } })
  if (roll < 0.8) return '['.repeat(60_000)
  if (roll < 0.82) return `{"type":"result","id":${id},"value":"${'x'.repeat(200_000)}"}`
  if (roll < 0.84) return JSON.stringify(mutated(uniform, hello))
  return JSON.stringify(strange(uniform))
}

/** Says hostile things with an enrolment key, over many connections, one after another; gives up after so many refusals. */
export async function hostileCourier(
  url: string,
  key: string,
  count: number,
  uniform: Uniform,
  mostRefusals: number,
): Promise<CourierTally> {
  const tally: CourierTally = { sent: 0, connections: 0, refused: 0, commands: 0 }
  let shut = 0
  while (tally.sent < count && shut < mostRefusals) {
    if (uniform() < 0.05) halfSocket(url, key, uniform)
    const socket = await open(url, key)
    if (!socket) {
      tally.refused++
      shut++
      await new Promise((resolve) => setTimeout(resolve, 50))
      continue
    }
    tally.connections++
    const asked: CommandMessage[] = []
    socket.on('error', () => {})
    socket.on('message', (data) => {
      const told = JSON.parse(data.toString()) as CommandMessage
      if ((told.type as string) === 'command') {
        asked.push(told)
        tally.commands++
      } else tally.refused++
    })
    socket.send(JSON.stringify(uniform() < 0.8 ? hello : mutated(uniform, hello)))
    tally.sent++
    // Now and then it listens like an honest one, long enough to be asked for something.
    // A busy machine takes longer to ask for the first.
    if (uniform() < 0.3) await new Promise((resolve) => setTimeout(resolve, tally.commands ? 150 : 1000))
    const own = 20 + Math.floor(uniform() * 1500)
    for (let n = 0; n < own && socket.readyState === WebSocket.OPEN && tally.sent < count; n++) {
      socket.send(message(uniform, asked.splice(0)))
      tally.sent++
      // Most come in a flood; now and then the server is listened to.
      if (n % 25 === 0) await new Promise((resolve) => setImmediate(resolve))
      if (n % 200 === 0) await new Promise((resolve) => setTimeout(resolve, 5))
    }
    // Hanging up in the middle of whatever is on its way.
    socket.terminate()
  }
  return tally
}
