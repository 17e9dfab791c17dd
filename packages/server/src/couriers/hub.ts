import type { Server } from 'node:http'
import { WebSocketServer, type WebSocket } from 'ws'
import {
  changedSchema,
  courierProtocol,
  displaysSchema,
  fits,
  helloSchema,
  InvalidInput,
  validate,
  type CommandArgs,
  type CommandName,
  type CommandResult,
  type CourierDisplay,
  type Hello,
  type HostChange,
  type Refused,
} from '@bichroma/contract'
import { Allowance } from '../http/allowance'
import { logFault } from '../data/log'
import { Connection } from './connection'
import { CourierGone, CourierRefused } from './courierErrors'

export { CourierGone, DeviceRefusal } from './courierErrors'

/** What the hub tells the rest of the server. */
export interface HubListener {
  /** A courier said who it is; throws CourierRefused with a sentence to refuse it. */
  arrived(workstationId: number, hello: Hello): Promise<void>
  left(workstationId: number): Promise<void>
  /** Something changed on the workstation that nobody asked about. */
  changed(workstationId: number, what: readonly HostChange[]): void
  /** Another display is plugged in there, or one was pulled. */
  displays(workstationId: number, hello: Hello): Promise<void>
}

/** Wall time between two looks at whether a quiet courier is still there, ms. */
const heartbeatMs = 10_000
/** Sockets of one workstation that may be about to say it. */
const mostUnsaid = 4
/** Hellos of one workstation in a minute: a courier that starts anew says one. */
const hellos = { most: 60, perMs: 60_000 }
/** Messages of one courier that answer nothing, and characters of all of its messages, in ten seconds. */
const unasked = { most: 1000, perMs: 10_000 }
const characters = { most: 32 * 2 ** 20, perMs: 10_000 }
/** Largest message, bytes: a hello of sixteen displays is a quarter of it. */
const largestMessage = 256 * 1024
/** Wall time in which a courier that is told to go has to hang up by itself, ms. */
const goodbyeMs = 500
/** Wall time in which a courier that has just gone, or has not come since the server started, is likely to come back, ms. */
const soonMs = 60_000

/** The server's end of all courier connections: one per workstation, commands out, results in. */
export class CourierHub {
  private readonly connections = new Map<number, Connection>()
  /** Sockets by workstation, those that have not said who they are included. */
  private readonly open = new Map<number, Set<WebSocket>>()
  private readonly arrivals = new Map<number, Set<() => void>>()
  private readonly leftAt = new Map<number, number>()
  private readonly startedAt = performance.now()
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: largestMessage,
    perMessageDeflate: false,
  })
  private readonly beat = setInterval(() => this.heartbeat(), heartbeatMs).unref()
  private readonly hellos = new Allowance<number>(hellos.most, hellos.perMs)
  private readonly unasked = new Allowance<number>(unasked.most, unasked.perMs)
  private readonly characters = new Allowance<number>(characters.most, characters.perMs)

  constructor(
    private readonly workstationOfKey: (key: string) => Promise<number | null>,
    private readonly listener: HubListener,
    /** Wall time that a socket has to say who it is, ms. */
    private readonly helloMs = 10_000,
  ) {}

  /** Takes WebSocket upgrades on /courier. */
  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      socket.on('error', () => socket.destroy())
      const refuse = (status: string) =>
        socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`, () => socket.destroy())
      if ((request.url ?? '').split('?')[0] !== '/courier') return refuse('404 Not Found')
      const key = bearerOf(request.headers.authorization)
      this.workstationOfKey(key)
        .then((workstationId) => {
          if (workstationId === null) return refuse('401 Unauthorized')
          const unsaid = (this.open.get(workstationId)?.size ?? 0) - (this.connections.has(workstationId) ? 1 : 0)
          if (unsaid >= mostUnsaid) return refuse('429 Too Many Requests')
          this.sockets.handleUpgrade(request, socket, head, (ws) => this.greet(ws, workstationId, key))
        })
        .catch((error: unknown) => {
          logFault('A courier knocked', error)
          refuse('503 Service Unavailable')
        })
    })
  }

  private greet(socket: WebSocket, workstationId: number, key: string) {
    let connection: Connection | null = null
    let said = false
    const late = setTimeout(() => refuse(socket, 'The courier did not say who it is.'), this.helloMs).unref()
    const all = this.open.get(workstationId) ?? new Set()
    this.open.set(workstationId, all.add(socket))
    socket.on('error', () => socket.terminate())
    socket.on('pong', () => connection && (connection.alive = true))
    socket.on('close', () => {
      clearTimeout(late)
      all.delete(socket)
      if (connection) this.drop(workstationId, connection)
    })
    socket.on('message', (data) => {
      if (socket.readyState !== socket.OPEN) return
      const text = data.toString()
      if (!this.characters.take(workstationId, text.length))
        return refuse(socket, 'The courier says more than anybody can follow. Look after it, and start it again.')
      let message: unknown
      try {
        message = JSON.parse(text)
      } catch {
        return refuse(socket, 'A message was not JSON.')
      }
      if (connection) {
        if (connection.receive(message)) return
        if (!this.unasked.take(workstationId))
          return refuse(socket, 'The courier says much that nobody asked. Look after it, and start it again.')
        this.hear(workstationId, connection, message)
        return
      }
      if (said) return refuse(socket, 'The courier went on before it was taken in.')
      said = true
      this.admit(socket, workstationId, key, message).then(
        (admitted) => {
          clearTimeout(late)
          if (socket.readyState !== socket.OPEN) return
          connection = admitted
          this.connections.get(workstationId)?.socket.terminate()
          this.connections.set(workstationId, admitted)
          for (const wake of this.arrivals.get(workstationId) ?? []) wake()
        },
        (error: unknown) => {
          if (error instanceof CourierRefused) return refuse(socket, error.message)
          if (error instanceof InvalidInput) return refuse(socket, error.sentence)
          logFault(`The courier of workstation ${workstationId} said hello`, error)
          refuse(socket, 'The server cannot take the courier in now. It tries again by itself.')
        },
      )
    })
  }

  /** What a courier tells by itself; what is of no known shape is passed over. */
  private hear(workstationId: number, connection: Connection, message: unknown) {
    const { type } = (message ?? {}) as { type?: unknown }
    if (type === 'changed' && fits(changedSchema, message)) this.listener.changed(workstationId, message.what)
    if (type !== 'displays' || !fits(displaysSchema, message)) return
    connection.hello = { ...connection.hello, displays: message.displays }
    this.listener
      .displays(workstationId, connection.hello)
      .catch((error: unknown) => logFault(`The courier of workstation ${workstationId} told of displays`, error))
  }

  private async admit(socket: WebSocket, workstationId: number, key: string, message: unknown): Promise<Connection> {
    if (!this.hellos.take(workstationId))
      throw new CourierRefused('The courier starts again and again. Look after it; it is taken in again in a minute.')
    // Before its shape: what an older courier says is of another shape.
    const { protocol } = (message ?? {}) as { protocol?: unknown }
    if (typeof protocol === 'number' && protocol !== courierProtocol)
      throw new CourierRefused(
        `This courier speaks protocol ${protocol}; the server speaks ${courierProtocol}. Update the courier.`,
      )
    const hello = validate(helloSchema, message)
    await this.listener.arrived(workstationId, hello)
    // It may have been replaced since the socket was opened.
    if ((await this.workstationOfKey(key)) !== workstationId) throw new CourierRefused(replaced)
    return new Connection(socket, hello)
  }

  private drop(workstationId: number, connection: Connection) {
    connection.end()
    if (this.connections.get(workstationId) !== connection) return
    this.connections.delete(workstationId)
    this.leftAt.set(workstationId, performance.now())
    this.listener
      .left(workstationId)
      .catch((error: unknown) => logFault(`The courier of workstation ${workstationId} left`, error))
  }

  private heartbeat() {
    for (const connection of this.connections.values()) {
      if (!connection.alive) connection.socket.terminate()
      else {
        connection.alive = false
        connection.socket.ping()
      }
    }
  }

  /** Hangs up on every socket of a workstation: its key was replaced. */
  dismiss(workstationId: number): void {
    for (const socket of this.open.get(workstationId) ?? []) refuse(socket, replaced)
  }

  /** What a connected courier said of itself, or null. */
  helloOf(workstationId: number): Hello | null {
    return this.connections.get(workstationId)?.hello ?? null
  }

  /** What a connected courier says of one of its displays, or null. */
  displayOf(workstationId: number, serial: string): CourierDisplay | null {
    return this.helloOf(workstationId)?.displays.find((d) => d.serial === serial) ?? null
  }

  online(): number[] {
    return [...this.connections.keys()]
  }

  /** The workstation whose courier has an instrument plugged in, or null. */
  workstationOfInstrument(serial: string): number | null {
    for (const [id, { hello }] of this.connections) if (hello.instruments.some((i) => i.serial === serial)) return id
    return null
  }

  /** Where instruments are plugged in: workstations by serial number. */
  placesOfInstruments(): Map<string, number> {
    const places = new Map<string, number>()
    for (const [id, { hello }] of this.connections)
      for (const { serial } of hello.instruments) if (!places.has(serial)) places.set(serial, id)
    return places
  }

  /** Displays as couriers that are connected report them. */
  reportedDisplays(): { workstationId: number; display: CourierDisplay }[] {
    return [...this.connections].flatMap(([workstationId, { hello }]) =>
      hello.displays.map((display) => ({ workstationId, display })),
    )
  }

  /** Whether a workstation's courier may fetch contents: a command that it carries out names them. */
  mayFetch(workstationId: number, hash: string): boolean {
    return this.connections.get(workstationId)?.mayFetch(hash) ?? false
  }

  /** Whether a workstation's courier may leave contents: it is reading a slot back. */
  mayLeave(workstationId: number): boolean {
    return this.connections.get(workstationId)?.mayLeave() ?? false
  }

  /** Whether a courier that is away is likely to be back at once: it has just gone, or the server has just started. */
  expected(workstationId: number): boolean {
    const since = this.leftAt.get(workstationId) ?? this.startedAt
    return !this.connections.has(workstationId) && performance.now() - since < soonMs
  }

  /** Resolves when the workstation's courier is connected, at once if it is. */
  async arrival(workstationId: number, signal: AbortSignal): Promise<void> {
    if (this.connections.has(workstationId) || signal.aborted) return
    const waiting = this.arrivals.get(workstationId) ?? new Set()
    this.arrivals.set(workstationId, waiting)
    await new Promise<void>((resolve) => {
      const wake = () => {
        waiting.delete(wake)
        signal.removeEventListener('abort', wake)
        resolve()
      }
      waiting.add(wake)
      signal.addEventListener('abort', wake, { once: true })
    })
  }

  /** Sends a command and waits for its result; `tookMs` is at real pace. Throws {@link CourierGone} or DeviceRefusal. */
  send<N extends CommandName>(
    workstationId: number,
    name: N,
    args: CommandArgs<N>,
    onProgress?: (done: number) => void,
  ): Promise<{ value: CommandResult<N>; tookMs: number }> {
    const connection = this.connections.get(workstationId)
    return connection ? connection.send(name, args, onProgress) : Promise.reject(new CourierGone())
  }

  close(): void {
    clearInterval(this.beat)
    for (const sockets of this.open.values()) for (const socket of sockets) socket.terminate()
    this.sockets.close()
  }
}

const replaced = 'The enrolment key of this workstation was replaced. Give the courier its new one.'

function refuse(socket: WebSocket, sentence: string) {
  if (socket.readyState !== socket.OPEN) return
  const message: Refused = { type: 'refused', sentence }
  socket.send(JSON.stringify(message))
  socket.close()
  setTimeout(() => socket.terminate(), goodbyeMs).unref()
}

/** The key of an `Authorization: Bearer …` header, or the empty text. */
export const bearerOf = (header: string | undefined): string =>
  /^Bearer ([A-Za-z0-9_-]{20,200})$/.exec(header ?? '')?.[1] ?? ''
