import type { Ask } from '@bichroma/core/runs'
import type { CourierDisplay } from '@bichroma/contract'
import { CourierGone, DeviceRefusal, type CourierHub } from '../../couriers/hub'
import { CoverClosed } from './lookAtPatch'
import { RunFailed } from './runErrors'
import type { Send } from './send'
import type { Waits } from './waits'

/** What the run wants of the display, so that it can be put there again after a break. */
export interface Wanted {
  slot?: number
  pipeline?: 'slot' | 'bypass'
  backlight?: number
}

/** Faults that a pair of hands can mend, so that the run waits instead of failing, and what is asked of them. */
const mendable = new Map<string, Ask>([
  ['data-link', 'cable'],
  ['no-instrument', 'instrument'],
  ['no-display', 'display'],
  ['content', 'device'],
  ['device', 'device'],
])

/** A run's way to its display and instrument: patient, and after a break the display is where the run wants it. */
export class DisplayLink {
  readonly wanted: Wanted = {}
  private reassert = false
  private took = 0
  private answered = 0

  constructor(
    private readonly hub: CourierHub,
    private readonly workstation: { readonly id: number; readonly name: string },
    private readonly serial: string,
    private readonly waits: Waits,
  ) {}

  /** What the courier tells of the display. Throws CourierGone. */
  get facts(): CourierDisplay {
    const found = this.hub.displayOf(this.workstation.id, this.serial)
    if (!found) throw new CourierGone()
    return found
  }

  /** What commands have taken since it was last asked to count anew, ms at real pace. */
  get tookMs(): number {
    return this.took
  }
  /** When the newest answer came, by `performance.now()`. */
  get answeredAt(): number {
    return this.answered
  }
  countAnew(): void {
    this.took = 0
  }

  readonly send: Send = async (name, args, onProgress) => {
    const full = { serial: this.serial, ...args } as never
    const { value, tookMs } = await this.hub.send(this.workstation.id, name, full, onProgress)
    this.took += tookMs
    this.answered = performance.now()
    return value as never
  }

  /** Something else was shown meanwhile: the display is put to what the run wants before it is spoken to again. */
  putBackFirst(): void {
    this.reassert = true
  }

  async apply({ slot, pipeline, backlight }: Wanted): Promise<void> {
    if (slot !== undefined) await this.send('display.activateSlot', { slot })
    if (pipeline !== undefined || backlight !== undefined)
      await this.send('display.setControls', { pipeline, backlight })
  }

  /** A courier that has just gone is given a moment (ms) to come back, before the run judges without it. */
  async courierSoon(graceMs: number): Promise<void> {
    if (this.hub.expected(this.workstation.id))
      await this.waits.briefly((signal) => this.hub.arrival(this.workstation.id, signal), graceMs)
  }

  /** Does something with the devices; when it fails for want of a courier or of hands, waits and does it again. */
  async attempt<T>(act: (send: Send) => Promise<T>): Promise<T> {
    for (;;) {
      this.waits.checkStop()
      try {
        if (this.reassert) {
          await this.apply(this.wanted)
          this.reassert = false
        }
        return await act(this.send)
      } catch (error) {
        // Whoever asked the run to stop, or the server to close, does not want it to wait for anybody.
        this.waits.checkStop()
        await this.waitForMending(error)
        this.reassert = true
      }
    }
  }

  private async waitForMending(error: unknown): Promise<void> {
    if (error instanceof CourierGone)
      return this.waits.until(
        'courier',
        `The courier on ${this.workstation.name} is away. Start it again; the run goes on by itself.`,
        (signal) => this.hub.arrival(this.workstation.id, signal),
      )
    if (error instanceof CoverClosed)
      return this.waits.until(
        'cover',
        'The instrument’s cover is closed. Open it, hang it flat on the centre, and press “Go on”.',
      )
    if (!(error instanceof DeviceRefusal)) throw error
    const asks = mendable.get(error.kind)
    if (!asks) throw new RunFailed(error.sentence)
    return this.waits.until(asks, `${error.sentence} Then press “Go on”.`)
  }
}
