import type { WebSocket } from 'ws'
import {
  commands,
  fits,
  InvalidInput,
  progressSchema,
  resultSchema,
  validate,
  type CommandArgs,
  type CommandName,
  type CommandResult,
  type Hello,
} from '@bichroma/contract'
import { CourierGone, DeviceRefusal } from './courierErrors'

interface Pending {
  readonly name: CommandName
  /** SHA-256 of the contents that the command names, which the courier may fetch while it is under way. */
  readonly hash: string | null
  readonly resolve: (answer: { value: unknown; tookMs: number }) => void
  readonly reject: (error: Error) => void
  readonly timer: NodeJS.Timeout
  readonly onProgress?: (done: number) => void
}

/** Wall time after which a command counts as unanswered, ms; a write has what its display needs besides. */
const answerMs = 5 * 60_000

/** Commands whose courier leaves what it read from a slot among the contents. */
const leaving: readonly CommandName[] = ['display.readSlot', 'display.writeSlot']

const nonsense = (name: CommandName) =>
  new DeviceRefusal('bad-message', `The courier’s answer to ${name} makes no sense. Update the courier.`)

let lastId = 0

/** One courier that was taken in: commands out, results in. */
export class Connection {
  private readonly pending = new Map<number, Pending>()
  alive = true

  constructor(
    readonly socket: WebSocket,
    public hello: Hello,
  ) {}

  /** Sends a command and waits for its result; `tookMs` is at real pace. Throws {@link CourierGone} or {@link DeviceRefusal}. */
  send<N extends CommandName>(
    name: N,
    args: CommandArgs<N>,
    onProgress?: (done: number) => void,
  ): Promise<{ value: CommandResult<N>; tookMs: number }> {
    const id = ++lastId
    return new Promise((resolve, reject) => {
      const timer = setTimeout(
        () => {
          this.pending.delete(id)
          this.socket.terminate()
          reject(new CourierGone())
        },
        this.patience(name, args),
      ).unref()
      const { hash = null } = args as { hash?: string | null }
      this.pending.set(id, { name, hash, resolve: resolve as Pending['resolve'], reject, timer, onProgress })
      this.socket.send(JSON.stringify({ type: 'command', id, name, args }))
    })
  }

  /** Takes a message in; false for one that answers nothing: nobody asked for it, or it only tells how far a command is. */
  receive(message: unknown): boolean {
    const { type, id } = (message ?? {}) as { type?: unknown; id?: unknown }
    const pending = typeof id === 'number' ? this.pending.get(id) : undefined
    if (!pending) return false
    if (type === 'progress') {
      if (fits(progressSchema, message)) pending.onProgress?.(message.done)
      return false
    }
    if (type !== 'result') return false
    this.pending.delete(id as number)
    clearTimeout(pending.timer)
    this.settle(pending, message)
    return true
  }

  private settle({ name, resolve, reject }: Pending, message: unknown) {
    if (!fits(resultSchema, message)) return reject(nonsense(name))
    if (!message.ok || message.fault) {
      const { kind, sentence } = message.fault ?? {
        kind: 'device' as const,
        sentence: 'The device failed without saying why.',
      }
      return reject(new DeviceRefusal(kind, sentence))
    }
    try {
      const value = validate(commands[name].result, message.value ?? {})
      resolve({ value, tookMs: message.tookMs })
    } catch (error) {
      if (!(error instanceof InvalidInput)) throw error
      reject(nonsense(name))
    }
  }

  /** Whether a command that is under way names these contents. */
  mayFetch(hash: string): boolean {
    return [...this.pending.values()].some((p) => p.hash === hash)
  }

  /** Whether a command is under way whose courier leaves contents. */
  mayLeave(): boolean {
    return [...this.pending.values()].some((p) => leaving.includes(p.name))
  }

  /** Whatever was asked of it is not answered any more. */
  end(): void {
    for (const { timer, reject } of this.pending.values()) {
      clearTimeout(timer)
      reject(new CourierGone())
    }
    this.pending.clear()
  }

  /** How long an answer may take, ms of wall time: a write as long as its display says, and half as much again. */
  private patience(name: CommandName, args: object): number {
    if (!leaving.includes(name)) return answerMs
    const display = this.hello.displays.find((d) => 'serial' in args && d.serial === args.serial)
    return answerMs + 1500 * ((display?.resetSeconds ?? 0) + 1.5 * (display?.writeSeconds ?? 0))
  }
}
