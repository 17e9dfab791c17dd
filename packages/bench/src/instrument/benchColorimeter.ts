import type { XYZ } from '@bichroma/core'
import type { CourierInstrument, CourierReading } from '@bichroma/contract'
import { DeviceFault, type InstrumentDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import { uniformFrom } from '@bichroma/core'
import { normalFrom } from '../random'

/** Repeatability of one reading: a share of the light, shot noise that grows as light falls, and a floor in cd/m². */
const noise = { share: 0.0006, shot: 0.0022, floor: 0.0006 }
/** Durations at real pace, ms: of a bright reading, and of the longest in the dark. */
const takes = { bright: 650, darkest: 3200, zero: 2500 }

/** A simulated filter colorimeter, resting on whichever display it is told to read. */
export class BenchColorimeter implements InstrumentDevice {
  private readonly normal: () => number
  /** The diffuser or cover is over the lens. */
  covered = false
  pluggedIn = true

  constructor(
    readonly identity: CourierInstrument,
    private readonly clock: BenchClock,
    private readonly lightOf: (displaySerial: string) => XYZ,
    seed: number,
  ) {
    this.normal = normalFrom(uniformFrom(seed))
  }

  private needPlug() {
    if (!this.pluggedIn)
      throw new DeviceFault('no-instrument', 'The instrument does not answer. Plug it into the workstation again.')
  }

  async zero() {
    this.needPlug()
    await this.clock.pass(takes.zero)
  }

  async read(displaySerial: string): Promise<CourierReading> {
    this.needPlug()
    const light = this.covered ? ([0, 0, 0] as const) : this.lightOf(displaySerial)
    // It counts light until it has enough, so that the dark takes longer.
    const integrationMs = Math.min(takes.darkest, takes.bright * Math.max(1, 2 / Math.sqrt(Math.max(light[1], 0.01))))
    await this.clock.pass(integrationMs)
    this.needPlug()
    // Longer counting averages the noise by the root of the time.
    const calm = Math.sqrt(takes.bright / integrationMs)
    const common = this.normal() * noise.share * 0.7
    const xyz = light.map((v) => {
      const spread = calm * Math.hypot(noise.share * 0.7 * v, noise.shot * Math.sqrt(Math.max(v, 0)), noise.floor)
      return Math.max(0, v * (1 + common * calm) + spread * this.normal())
    }) as [number, number, number]
    return { xyz, integrationMs, flags: this.covered ? ['cover'] : [] }
  }
}
