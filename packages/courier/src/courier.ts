import WebSocket from 'ws'
import {
  commandSchema,
  courierProtocol,
  fits,
  InvalidInput,
  refusedSchema,
  type ChangedMessage,
  type DisplaysMessage,
  type Hello,
  type HostChange,
  type ResultMessage,
} from '@bichroma/contract'
import { Contents } from './contents'
import { DeviceFault, type Devices, type PaceClock } from './devices'
import { handlersFor, runCommand } from './dispatch'

export interface CourierOptions {
  /** http://host:port of the server. */
  readonly server: string
  /** The enrolment key of this workstation. */
  readonly key: string
  readonly devices: Devices
  readonly clock: PaceClock
  /** First pause before connecting again, ms; it doubles up to thirty times this. */
  readonly retryMs?: number
  /** Told when the server refuses this courier, with its sentence. */
  readonly onRefused?: (sentence: string) => void
  /** How an answer leaves: at once and once, unless something stands on the line. */
  readonly outgoing?: (send: () => void) => void
}

/** Wall time for which changes are gathered before they are told, ms. */
const gatherMs = 100

/**
 * The program on a workstation: one outgoing WebSocket to the server, commands carried out one after another, and
 * connecting again for as long as it is wanted. A result that could not be sent is dropped: the server asks again.
 */
export class Courier {
  private socket: WebSocket | null = null
  private wanted = false
  private retry: NodeJS.Timeout | null = null
  private pauseMs: number
  private queue: Promise<void> = Promise.resolve()
  private unwatch: (() => void) | null = null
  private readonly changes = new Set<HostChange | 'displays'>()
  private telling: NodeJS.Timeout | null = null
  private readonly handlers

  constructor(private readonly options: CourierOptions) {
    this.pauseMs = this.firstPause
    this.handlers = handlersFor(options.devices, new Contents(options.server, options.key))
  }

  private get firstPause() {
    return this.options.retryMs ?? 1000
  }

  /** Connects, and keeps connecting until {@link stop}. */
  start(): void {
    this.wanted = true
    this.unwatch ??= this.options.devices.watch?.((what) => this.note(what)) ?? null
    this.connect()
  }

  /** Gathers what changed for a moment, so that an update which changes much is told of once. */
  private note(what: HostChange | 'displays') {
    this.changes.add(what)
    this.telling ??= setTimeout(() => {
      this.telling = null
      // Whoever comes anew is read back anyhow.
      if (this.socket?.readyState === WebSocket.OPEN) this.tellChanges(this.socket)
      this.changes.clear()
    }, gatherMs)
  }

  private tellChanges(socket: WebSocket) {
    if (this.changes.delete('displays'))
      socket.send(JSON.stringify({ type: 'displays', displays: this.pluggedIn() } satisfies DisplaysMessage))
    const what = [...this.changes].filter((c) => c !== 'displays')
    if (what.length) socket.send(JSON.stringify({ type: 'changed', what } satisfies ChangedMessage))
  }

  private pluggedIn = () => this.options.devices.displays.filter((d) => d.connected).map((d) => d.identity)

  /** Hangs up and stays away. */
  stop(): void {
    this.wanted = false
    this.unwatch?.()
    this.unwatch = null
    if (this.telling) clearTimeout(this.telling)
    this.telling = null
    if (this.retry) clearTimeout(this.retry)
    this.socket?.terminate()
    this.socket = null
  }

  private connect() {
    const { server, key } = this.options
    const socket = new WebSocket(`${server.replace(/^http/, 'ws')}/courier`, {
      headers: { authorization: `Bearer ${key}` },
      maxPayload: 1 << 20,
      perMessageDeflate: false,
    })
    this.socket = socket
    socket.on('open', () => void this.hello(socket))
    socket.on('message', (data) => this.receive(socket, data.toString()))
    socket.on('error', () => socket.terminate())
    socket.on('unexpected-response', (_, response) => {
      if (response.statusCode === 401)
        this.options.onRefused?.('The server does not know the enrolment key of this workstation.')
      socket.terminate()
    })
    socket.on('close', () => {
      if (!this.wanted || this.socket !== socket) return
      this.retry = setTimeout(() => this.connect(), this.pauseMs)
      this.pauseMs = Math.min(this.pauseMs * 2, this.firstPause * 30)
    })
  }

  private async hello(socket: WebSocket) {
    this.pauseMs = this.firstPause
    const { instruments, host } = this.options.devices
    const hello: Hello = {
      type: 'hello',
      protocol: courierProtocol,
      host: await host.facts(),
      displays: this.pluggedIn(),
      instruments: instruments.map((i) => i.identity),
    }
    socket.send(JSON.stringify(hello))
  }

  private receive(socket: WebSocket, text: string) {
    let message: unknown
    try {
      message = JSON.parse(text)
    } catch {
      return
    }
    // Asked first by its type: nearly every message is a command, and a schema that does not fit takes its time.
    const { type } = (message ?? {}) as { type?: unknown }
    if (type === 'refused' && fits(refusedSchema, message)) {
      this.options.onRefused?.(message.sentence)
      return
    }
    if (!fits(commandSchema, message)) return
    const { id, name, args } = message
    this.queue = this.queue.then(async () => {
      const started = this.options.clock.now()
      const answer = (rest: Partial<ResultMessage>) => {
        const tookMs = Math.max(0, this.options.clock.now() - started)
        const text = JSON.stringify({ type: 'result', id, ok: true, tookMs, ...rest })
        const send = () => {
          if (socket.readyState === WebSocket.OPEN) socket.send(text)
        }
        if (this.options.outgoing) this.options.outgoing(send)
        else send()
      }
      try {
        const onProgress = (done: number) => {
          if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ type: 'progress', id, done }))
        }
        answer({ value: (await runCommand(this.handlers, name, args, onProgress)) as object })
      } catch (error) {
        answer({ ok: false, fault: faultOf(error) })
      }
    })
  }
}

function faultOf(error: unknown): NonNullable<ResultMessage['fault']> {
  if (error instanceof DeviceFault) return { kind: error.kind, sentence: error.sentence }
  if (error instanceof InvalidInput) return { kind: 'bad-message', sentence: error.sentence }
  return {
    kind: 'device',
    sentence: 'The device answered in a way that the courier does not understand. Reconnect it.',
  }
}
