import { uniformFrom } from '@bichroma/core/basics'
import { multiplyVector, scale, type Matrix3, type XYZ } from '@bichroma/core/color'
import type { PanelKind } from '@bichroma/core/register'
import type { CourierInstrument, CourierReading } from '@bichroma/contract'
import { DeviceFault, type InstrumentDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import type { BenchDisplay } from '../display/benchDisplay'
import { addLight, makeDetector, scaleLight, type Light } from '../light/light'
import { lightOfRoom, reflectedLight, type RoomLight } from '../light/roomLight'
import { normalFrom } from '@bichroma/core/basics'
import type { InstrumentModel } from './instrumentSchema'
import { factoryCorrections, responseOf, uncorrected } from './optics'
import { flat, knocked, seatLosses, type Seat } from './seat'

/** One instrument of a scenario: which model and which piece of it. */
export interface InstrumentTraits {
  readonly serial: string
  readonly model: InstrumentModel
  /** When it was last certified, ms since 1970; null when it does not tell. */
  readonly certifiedAt: number | null
  /** Its wear as multiples of the model's drift; a piece that ages as its model does has 1. */
  readonly wear?: number
}

/** Durations at real pace, ms. */
const takes = { zero: 2500, ambient: 1200 }
const year = 365.25 * 86_400_000
/** The body warms up on the display's glass: degrees in the end, and minutes to two thirds of them. */
const warming = { degrees: 9, minutes: 25 }
/** Shares of X, Y and Z in the dark signal. */
const darkTint: XYZ = [0.8, 0.75, 1.1]
/** What is left of the light in a misread. */
const misreadShare = 0.6
/** Two halves of one reading that differ by more than this share of it are told as unstable. */
const unstableShare = 0.03

/** A simulated colorimeter or spectroradiometer, resting on whichever display it is told to read. */
export class BenchInstrument implements InstrumentDevice {
  readonly identity: CourierInstrument
  private readonly normal: () => number
  private readonly detect: (light: Light) => XYZ
  private readonly corrections: Partial<Record<PanelKind, Matrix3>>
  private readonly startedAt: number
  private zeroedAt: number | null = null
  private knockAfter: number | null = null
  private misreadAfter: number | null = null
  seat: Seat = flat
  pluggedIn = true

  constructor(
    readonly traits: InstrumentTraits,
    /** Time of the workstation that it is plugged into. */
    public clock: BenchClock,
    private readonly displayOf: (serial: string) => BenchDisplay,
    /** The light where it lies, when it reads the room. */
    private readonly roomHere: () => RoomLight,
    seed: number,
  ) {
    const { model } = traits
    this.normal = normalFrom(uniformFrom(seed))
    this.detect = makeDetector(responseOf(model))
    this.corrections = factoryCorrections(model)
    this.startedAt = clock.now()
    this.identity = {
      serial: traits.serial,
      maker: model.maker,
      model: model.model,
      kind: model.kind,
      certifiedAt: traits.certifiedAt,
      corrections: Object.keys(this.corrections) as PanelKind[],
    }
  }

  /** The diffuser or cover is over the lens. */
  get covered(): boolean {
    return this.seat.optics !== 'open'
  }
  set covered(on: boolean) {
    this.seat = { ...this.seat, optics: on ? 'cover' : 'open' }
  }

  /** It will be knocked aside once it has taken so many more readings; 0 is now. */
  knock(afterReadings = 0): void {
    if (afterReadings > 0) this.knockAfter = afterReadings
    else {
      this.knockAfter = null
      this.seat = { ...knocked, optics: this.seat.optics }
    }
  }

  /** It will misread once, after so many more readings: a spark on its cable, or a hand before the lens. */
  misread(afterReadings = 0): void {
    this.misreadAfter = afterReadings
  }

  private needPlug() {
    if (!this.pluggedIn)
      throw new DeviceFault('no-instrument', 'The instrument does not answer. Plug it into the workstation again.')
  }

  /** Degrees that the body is above the room's temperature. */
  private degrees(at: number) {
    return warming.degrees * (1 - Math.exp(-(at - this.startedAt) / 60_000 / warming.minutes))
  }

  /** What its dark signal adds, X Y Z in cd/m². */
  private dark(): XYZ {
    const { offset, minutes, perDegree } = this.traits.model.zero
    const now = this.clock.now()
    const never = this.zeroedAt === null
    const since = never ? Infinity : (now - this.zeroedAt!) / 60_000
    const degrees = this.degrees(now) - (never ? 0 : this.degrees(this.zeroedAt!))
    const amount = offset * (1 - Math.exp(-since / minutes)) + perDegree * Math.abs(degrees)
    return [darkTint[0] * amount, darkTint[1] * amount, darkTint[2] * amount]
  }

  /** What its cells are off by: as its certificate left them, and by age since. */
  private aged(): XYZ {
    const years = this.traits.certifiedAt === null ? 0 : (this.clock.now() - this.traits.certifiedAt) / year
    const { driftPerYear, adjusted } = this.traits.model
    const aged = driftPerYear.map((d) => 1 + d * Math.max(0, years) * (this.traits.wear ?? 1))
    return aged.map((a, k) => a * (1 + adjusted[k]!)) as never
  }

  async zero() {
    this.needPlug()
    await this.clock.pass(takes.zero)
    this.zeroedAt = this.clock.now()
  }

  /** The light at its lens between two instants (ms). */
  private lightAtLens(display: BenchDisplay, from: number, to: number): Light {
    if (this.seat.optics === 'cover') return { spectra: [], weights: [] }
    const { lost, roomShare } = seatLosses(this.seat)
    const room = display.room()
    const own = scaleLight(display.lightBetween(from, to, this.seat.place), 1 - lost)
    const seen = display.readFromStand ? addLight(own, display.reflection()) : own
    const leaked = roomShare > 0 ? addLight(seen, reflectedLight(room, roomShare)) : seen
    // A diffuser takes most of the light, and mixes in the room's.
    return this.seat.optics === 'diffuser' ? addLight(scaleLight(leaked, 0.08), reflectedLight(room, 0.08)) : leaked
  }

  async read(displaySerial: string, correction?: PanelKind): Promise<CourierReading> {
    this.needPlug()
    const { model } = this.traits
    const matrix = correction === undefined ? uncorrected : this.corrections[correction]
    if (!matrix)
      throw new DeviceFault('bad-message', `${model.model} holds no correction for this kind of panel. Choose another.`)
    const display = this.displayOf(displaySerial)
    if (this.knockAfter !== null && --this.knockAfter < 0) this.knock()
    const start = this.clock.now()
    const { fastestMs, slowestMs, slowBelow } = model.timing
    // A flash of a look sets how long it counts.
    const flash = this.detect(this.lightAtLens(display, start, start))[1]
    const integrationMs = Math.min(slowestMs, Math.max(fastestMs, (fastestMs * slowBelow) / Math.max(flash, 1e-6)))
    const middle = start + integrationMs / 2
    const end = start + integrationMs
    const halves = [
      this.detect(this.lightAtLens(display, start, middle)),
      this.detect(this.lightAtLens(display, middle, end)),
    ]
    await this.clock.pass(integrationMs)
    this.needPlug()
    const [dark, aged] = [this.dark(), this.aged()]
    const seconds = integrationMs / 1000
    const calm = 1 / Math.sqrt(seconds)
    const { share, shot, floor } = model.noise
    // Part of the noise is common to the three cells (the display's own flicker), part each cell's own.
    const common = this.normal() * share * 0.7 * calm
    const raw = [0, 1, 2].map((k) => {
      const light = ((halves[0][k] + halves[1][k]) / 2) * aged[k]
      const spread = calm * Math.hypot(share * 0.7 * light, shot * Math.sqrt(Math.max(light, 0)), floor)
      return light * (1 + common) + dark[k] + spread * this.normal()
    }) as unknown as XYZ
    const saturated = raw[1] > model.ceiling
    const read = saturated ? (raw.map((v) => Math.min(v, model.ceiling)) as unknown as XYZ) : raw
    const spoiled = this.spoils() ? scale(read, misreadShare) : read
    const xyz = multiplyVector(matrix, spoiled).map((v) => Math.max(0, v)) as [number, number, number]
    const difference = Math.abs(halves[0][1] - halves[1][1])
    const unstable = difference > (unstableShare / 2) * (halves[0][1] + halves[1][1]) && difference > 0.05
    return {
      xyz,
      integrationMs,
      flags: [
        ...(this.covered ? (['cover'] as const) : []),
        ...(saturated ? (['saturated'] as const) : []),
        ...(unstable ? (['unstable'] as const) : []),
      ],
    }
  }

  /** Whether this is the reading that is spoiled. */
  private spoils(): boolean {
    if (this.misreadAfter === null) return false
    const now = this.misreadAfter-- <= 0
    if (now) this.misreadAfter = null
    return now
  }

  async readAmbient() {
    this.needPlug()
    if (this.seat.optics !== 'diffuser')
      throw new DeviceFault(
        'device',
        'The instrument reads the room only through its diffuser. Turn the diffuser in front.',
      )
    await this.clock.pass(takes.ambient)
    const room = this.roomHere()
    const aged = this.aged()
    const xyz = this.detect(lightOfRoom(room, room.illuminanceLux)).map(
      (v, k) => v * aged[k] * (1 + 0.004 * this.normal()),
    ) as [number, number, number]
    return { illuminanceLux: Math.max(0, xyz[1]), xyz }
  }

  /** What it would read of a display's light without noise, dark signal or wear, uncorrected: for tests. */
  sees(light: Light, correction?: PanelKind): XYZ {
    return multiplyVector(correction === undefined ? uncorrected : this.corrections[correction]!, this.detect(light))
  }
}
