import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { once } from 'node:events'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import WebSocket from 'ws'
import { courierProtocol, type FleetNews, type Hello, type Pulse, type ServerEvent } from '@bichroma/contract'
import { exampleDisplay, exampleHost, exampleInstrument } from '@bichroma/contract/test'
import type { ApiClient } from '../apiClient'
import { report } from './measure'

const [couriers, browsers] = [300, 100]
const keyOf = (workstation: number) => `key-of-${workstation}-`.padEnd(43, 'x')

/** Enrols the couriers of the first workstations of a folder that no server is on. */
export function enrolCouriers(folder: string): void {
  const store = new Database(join(folder, 'bichroma.sqlite'))
  const enrol = store.prepare('UPDATE workstation SET courier_key_hash = ? WHERE id = ?')
  store.transaction(() => {
    for (let w = 1; w <= couriers; w++) enrol.run(createHash('sha256').update(keyOf(w)).digest('hex'), w)
  })()
  store.close()
}

/** A courier that says hello and nothing more. */
function courier(url: string, workstation: number): WebSocket {
  const socket = new WebSocket(`${url.replace('http', 'ws')}/courier`, {
    headers: { authorization: `Bearer ${keyOf(workstation)}` },
  })
  const hello: Hello = {
    type: 'hello',
    protocol: courierProtocol,
    host: { ...exampleHost, name: `desk-${workstation}` },
    displays: [{ ...exampleDisplay, serial: `S-${workstation}` }],
    instruments: workstation % 50 ? [] : [{ ...exampleInstrument, serial: `P-${workstation}` }],
  }
  socket.on('error', () => {})
  socket.on('open', () => socket.send(JSON.stringify(hello)))
  return socket
}

/** A browser that listens. */
class Browser {
  readonly events: { event: ServerEvent; at: number; bytes: number }[] = []
  private readonly stop = new AbortController()

  static async open(url: string, cookie: string): Promise<Browser> {
    const browser = new Browser()
    const response = await fetch(`${url}/api/events`, { headers: { cookie }, signal: browser.stop.signal })
    void browser.read(response).catch(() => {})
    return browser
  }

  private async read(response: Response) {
    let text = ''
    const decoder = new TextDecoder()
    for await (const chunk of response.body! as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true })
      const parts = text.split('\n\n')
      text = parts.pop()!
      for (const part of parts)
        if (part.startsWith('data: '))
          this.events.push({ event: JSON.parse(part.slice(6)), at: performance.now(), bytes: part.length })
    }
  }

  close = () => this.stop.abort()
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
const percentile = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))]

/** 300 couriers in one second, and one change seen by 100 browsers. `sessions`: signed-in clients, for twelve browsers each. */
export async function benchNews(client: ApiClient, sessions: readonly ApiClient[]): Promise<void> {
  const { url } = client
  const listening = await Promise.all(
    Array.from({ length: browsers }, (_, i) => Browser.open(url, sessions[i % sessions.length].cookie)),
  )
  const watch = spawn(
    process.execPath,
    [
      '--import',
      'tsx',
      'scripts/bench/watchReads.ts',
      url,
      client.cookie,
      '/displays',
      '/pulse',
      '/displays/50',
      '/runs',
    ],
    { stdio: ['pipe', 'pipe', 'inherit'] },
  )
  let said = ''
  watch.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()))
  // It has begun before the couriers come.
  await pause(2500)
  const began = performance.now()
  const sockets: WebSocket[] = []
  for (let w = 1; w <= couriers; w++) {
    sockets.push(courier(url, w))
    if (w % 30 === 0) await pause(Math.max(0, began + (w / couriers) * 1000 - performance.now()))
  }
  while ((await client.get<Pulse>('/pulse')).couriersOnline < couriers) await pause(20)
  const took = performance.now() - began
  const ended = once(watch, 'close')
  watch.stdin.end()
  await ended
  const reads = (JSON.parse(said) as number[]).slice(4)
  report(`${couriers} couriers in one second are registered`, `${(took / 1000).toFixed(1)} s`, '≤ 10 s', took <= 10_000)
  report(
    'reads meanwhile',
    `p95 ${percentile(reads, 0.95).toFixed(0)} ms of ${reads.length}`,
    'p95 ≤ 200 ms',
    percentile(reads, 0.95) <= 200,
  )
  // What they brought is told; then one of them goes.
  await pause(2000)
  const before = listening.map((b) => b.events.length)
  const gone = performance.now()
  sockets[76].close()
  const tellsOf77 = ({ event }: { event: ServerEvent }) =>
    event.type === 'news' && (event as FleetNews).displays.some((d) => d.id === 77)
  while (!listening.every((b, i) => b.events.slice(before[i]).some(tellsOf77))) await pause(5)
  const heard = listening.map((b, i) => b.events.slice(before[i]))
  const last = Math.max(...heard.map((events) => events.find(tellsOf77)!.at)) - gone
  const asks = heard.flat().filter(({ event }) => event.type === 'changed').length
  const bytes = Math.max(...heard.map((events) => events.reduce((sum, e) => sum + e.bytes, 0)))
  report(
    `a change to one display, seen by ${browsers} browsers`,
    `${last.toFixed(0)} ms, ${(bytes / 1000).toFixed(1)} kB each, ${asks} ask for more`,
    'as a message about that display',
    asks === 0,
  )
  for (const socket of sockets) socket.terminate()
  for (const browser of listening) browser.close()
}
