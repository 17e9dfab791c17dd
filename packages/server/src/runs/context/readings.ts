import type { Triple, XYZ } from '@bichroma/core/color'
import { quantizeSignal } from '@bichroma/core/tables'
import type { ReadingRole, RunReading } from '@bichroma/contract'
import type { InstrumentRow } from '../../register/entities'
import type { RunRow } from '../entities'
import type { DisplayLink } from './displayLink'
import { lookAtPatch } from './lookAtPatch'
import type { ShownRun } from './shownRun'
import type { Steps } from './steps'

/** How a patch is read. */
interface ReadOptions {
  /** How far a reading is from the aim, where that has a meaning. */
  readonly deltaEOf?: (xyz: XYZ) => number
  /** Share of the screen that the patch fills, 0–1; the courier's own unless given. */
  readonly area?: number
  /** What the reading is of; any patch unless given. */
  readonly role?: ReadingRole
  /** A wait of its own before the reading, ms, in place of the display's delay. */
  readonly waitMs?: number
}

/** The readings of one run. */
export class Readings {
  private count = 0
  private readonly tookAll: number[] = []
  /** Readings that were taken again: the light did not hold still, or what was read could not be. */
  repeated = 0
  /** How long the display's light takes to follow a patch, ms; Ready measures it. */
  delayMs = 0
  /** Share of the screen that patches fill; the courier's own unless Ready found that light depends on it. */
  area: number | undefined = undefined

  constructor(
    private readonly run: RunRow,
    private readonly instrument: InstrumentRow,
    private readonly now: () => number,
    private readonly link: DisplayLink,
    private readonly steps: Steps,
    private readonly shown: ShownRun,
  ) {}

  /** Durations of the readings so far, at real pace, ms. */
  get durations(): readonly number[] {
    return this.tookAll
  }

  /**
   * Shows a patch (0–1, rounded to the display's signal) and reads it: XYZ in cd/m², and how long it took at real pace.
   * The reading is in the store before anybody hears of it.
   */
  async read(
    name: string,
    rgb: Triple,
    { deltaEOf, area = this.area, role = 'patch', waitMs = this.delayMs }: ReadOptions = {},
  ): Promise<{ rgb: Triple; xyz: XYZ; tookMs: number }> {
    const { steps, link, shown, instrument } = this
    const seq = this.count++
    const { stage, correction, readsMore } = this.run
    const { replaying } = steps
    let latest: RunReading | null = null
    const step = await steps.take(`read ${name}`, async (send) => {
      const rounded = quantizeSignal(rgb, link.facts.signalBits)
      const before = link.tookMs
      shown.patch = { name, rgb: rounded }
      shown.publish()
      const { xyz, looks } = await lookAtPatch(send, rounded, { instrument, correction, readsMore, waitMs, area })
      const tookMs = link.tookMs - before
      const deltaE = deltaEOf ? deltaEOf(xyz) : null
      latest = { seq, stage, name, role, rgb: rounded, xyz, tookMs, at: this.now(), deltaE }
      steps.keep(latest)
      return { value: xyz, tookMs, shown: rounded, looks }
    })
    // What is waited for on purpose says nothing of the pace of readings.
    shown.tookOne(this.pace(step.tookMs, waitMs))
    // Steps of an older version do not tell.
    this.repeated += (step.looks ?? 1) - 1
    if (!replaying) shown.publish(latest)
    return { rgb: step.shown, xyz: step.value, tookMs: step.tookMs }
  }

  private pace(tookMs: number, waitMs: number): number {
    const own = Math.max(0, tookMs - Math.max(0, waitMs - this.delayMs))
    this.tookAll.push(own)
    return own
  }
}
