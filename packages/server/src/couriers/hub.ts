import type { Server } from 'node:http'
import { WebSocketServer, type WebSocket } from 'ws'
import {
  commands,
  courierProtocol,
  fits,
  helloSchema,
  progressSchema,
  resultSchema,
  validate,
  yup,
  type CommandArgs,
  type CommandName,
  type CommandResult,
  type CourierDisplay,
  type FaultKind,
  type Hello,
  type ProgressMessage,
  type Refused,
  type ResultMessage,
} from '@bichroma/contract'

/** The courier hung up, was never there, or does not answer. */
export class CourierGone extends Error {
  constructor() {
    super('The courier is not connected.')
    this.name = 'CourierGone'
  }
}

/** A device refused, with the courier's sentence. */
export class DeviceRefusal extends Error {
  constructor(
    readonly kind: FaultKind,
    readonly sentence: string,
  ) {
    super(sentence)
    this.name = 'DeviceRefusal'
  }
}

interface Connection {
  readonly socket: WebSocket
  readonly hello: Hello
  readonly pending: Map<number, Pending>
  alive: boolean
}

interface Pending {
  readonly name: CommandName
  readonly resolve: (answer: { value: unknown; tookMs: number }) => void
  readonly reject: (error: Error) => void
  readonly timer: NodeJS.Timeout
  readonly onProgress?: (done: number) => void
}

/** What the hub tells the rest of the server. */
export interface HubListener {
  /** A courier said who it is; throws a sentence to refuse it. */
  arrived(workstationId: number, hello: Hello): Promise<void>
  left(workstationId: number): Promise<void>
}

/** Wall time after which a command counts as unanswered, ms; a write has what its display needs besides. */
const answerMs = 5 * 60_000
/** Wall time between two looks at whether a quiet courier is still there, ms. */
const heartbeatMs = 10_000

/** The server's end of all courier connections: one per workstation, commands out, results in. */
export class CourierHub {
  private readonly connections = new Map<number, Connection>()
  private readonly arrivals = new Map<number, Set<() => void>>()
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: 1 << 20, perMessageDeflate: false })
  private readonly beat = setInterval(() => this.heartbeat(), heartbeatMs).unref()
  private lastId = 0

  constructor(
    private readonly workstationOfKey: (key: string) => Promise<number | null>,
    private readonly listener: HubListener,
  ) {}

  /** Takes WebSocket upgrades on /courier. */
  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      socket.on('error', () => socket.destroy())
      const refuse = (status: string) =>
        socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`)
      if ((request.url ?? '').split('?')[0] !== '/courier') return refuse('404 Not Found')
      this.workstationOfKey(bearerOf(request.headers.authorization)).then(
        (workstationId) => {
          if (workstationId === null) return refuse('401 Unauthorized')
          this.sockets.handleUpgrade(request, socket, head, (ws) => this.greet(ws, workstationId))
        },
        () => refuse('503 Service Unavailable'),
      )
    })
  }

  private greet(socket: WebSocket, workstationId: number) {
    let connection: Connection | null = null
    socket.on('error', () => socket.terminate())
    socket.on('pong', () => connection && (connection.alive = true))
    socket.on('close', () => connection && this.drop(workstationId, connection))
    socket.on('message', (data) => {
      let message: unknown
      try {
        message = JSON.parse(data.toString())
      } catch {
        return refuse(socket, 'A message was not JSON.')
      }
      if (connection) return this.receive(connection, message)
      this.admit(socket, workstationId, message).then(
        (admitted) => {
          if (socket.readyState !== socket.OPEN) return
          connection = admitted
          this.connections.get(workstationId)?.socket.terminate()
          this.connections.set(workstationId, admitted)
          for (const wake of this.arrivals.get(workstationId) ?? []) wake()
        },
        (error: Error) => refuse(socket, error.message),
      )
    })
  }

  private async admit(socket: WebSocket, workstationId: number, message: unknown): Promise<Connection> {
    // Before its shape: what an older courier says is of another shape.
    const { protocol } = (message ?? {}) as { protocol?: unknown }
    if (typeof protocol === 'number' && protocol !== courierProtocol)
      throw new Error(
        `This courier speaks protocol ${protocol}; the server speaks ${courierProtocol}. Update the courier.`,
      )
    const hello = validate(helloSchema as yup.Schema<Hello>, message)
    await this.listener.arrived(workstationId, hello)
    return { socket, hello, pending: new Map(), alive: true }
  }

  private receive(connection: Connection, message: unknown) {
    if ((message as { type?: unknown } | null)?.type === 'progress') {
      if (fits(progressSchema as yup.Schema<ProgressMessage>, message))
        connection.pending.get(message.id)?.onProgress?.(message.done)
      return
    }
    if (!fits(resultSchema as yup.Schema<ResultMessage>, message)) return
    const pending = connection.pending.get(message.id)
    if (!pending) return
    connection.pending.delete(message.id)
    clearTimeout(pending.timer)
    if (!message.ok || message.fault) {
      const { kind, sentence } = message.fault ?? {
        kind: 'device' as const,
        sentence: 'The device failed without saying why.',
      }
      return pending.reject(new DeviceRefusal(kind, sentence))
    }
    try {
      const value = validate(commands[pending.name].result as yup.Schema, message.value ?? {})
      pending.resolve({ value, tookMs: message.tookMs })
    } catch {
      pending.reject(
        new DeviceRefusal('bad-message', `The courier’s answer to ${pending.name} makes no sense. Update the courier.`),
      )
    }
  }

  private drop(workstationId: number, connection: Connection) {
    for (const pending of connection.pending.values()) {
      clearTimeout(pending.timer)
      pending.reject(new CourierGone())
    }
    connection.pending.clear()
    if (this.connections.get(workstationId) !== connection) return
    this.connections.delete(workstationId)
    void this.listener.left(workstationId)
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

  /** Resolves when the workstation's courier is connected, at once if it is. */
  async arrival(workstationId: number, signal: AbortSignal): Promise<void> {
    if (this.connections.has(workstationId) || signal.aborted) return
    const waiting = this.arrivals.get(workstationId) ?? new Set()
    this.arrivals.set(workstationId, waiting)
    await new Promise<void>((resolve) => {
      const wake = () => {
        waiting.delete(wake)
        resolve()
      }
      waiting.add(wake)
      signal.addEventListener('abort', wake, { once: true })
    })
  }

  /** Sends a command and waits for its result; `tookMs` is at real pace. Throws {@link CourierGone} or {@link DeviceRefusal}. */
  send<N extends CommandName>(
    workstationId: number,
    name: N,
    args: CommandArgs<N>,
    onProgress?: (done: number) => void,
  ): Promise<{ value: CommandResult<N>; tookMs: number }> {
    const connection = this.connections.get(workstationId)
    if (!connection) return Promise.reject(new CourierGone())
    const id = ++this.lastId
    return new Promise((resolve, reject) => {
      const timer = setTimeout(
        () => {
          connection.pending.delete(id)
          connection.socket.terminate()
          reject(new CourierGone())
        },
        this.patience(connection, name, args),
      ).unref()
      connection.pending.set(id, { name, resolve: resolve as Pending['resolve'], reject, timer, onProgress })
      connection.socket.send(JSON.stringify({ type: 'command', id, name, args }))
    })
  }

  /** How long an answer may take, ms of wall time: a write as long as its display says, and half as much again. */
  private patience({ hello }: Connection, name: CommandName, args: object): number {
    if (name !== 'display.writeSlot' && name !== 'display.readSlot') return answerMs
    const display = hello.displays.find((d) => 'serial' in args && d.serial === args.serial)
    return answerMs + 1500 * ((display?.resetSeconds ?? 0) + 1.5 * (display?.writeSeconds ?? 0))
  }

  close(): void {
    clearInterval(this.beat)
    for (const { socket } of this.connections.values()) socket.terminate()
    this.sockets.close()
  }
}

function refuse(socket: WebSocket, sentence: string) {
  if (socket.readyState !== socket.OPEN) return
  const message: Refused = { type: 'refused', sentence }
  socket.send(JSON.stringify(message))
  socket.close()
}

/** The key of an `Authorization: Bearer …` header, or the empty text. */
export const bearerOf = (header: string | undefined): string =>
  /^Bearer ([A-Za-z0-9_-]{20,200})$/.exec(header ?? '')?.[1] ?? ''
