import type { WhiteMove } from '@bichroma/core/aims'
import { convertXyzToUv, deltaUv, type Triple, type XYZ } from '@bichroma/core/color'
import { readingsBetweenLooks, repeatabilityOf, withoutDrift } from '@bichroma/core/runs'
import type { ReadingRole } from '@bichroma/contract'
import { giveWay } from './giveWay'
import type { RunContext } from './context/runContext'
import { RunFailed } from './context/runErrors'

/** One patch to read. */
export interface Wish {
  readonly name: string
  /** Signal or drive, 0–1. */
  readonly rgb: Triple
  readonly deltaEOf?: (xyz: XYZ) => number
  /** What it is; the full signal is white unless told otherwise. */
  readonly role?: ReadingRole
}

export interface Got {
  readonly name: string
  readonly rgb: Triple
  readonly xyz: XYZ
}

/** How far white may move between two looks: luminance as a share, and Δu′v′. A knock moves it by more. */
const step = { luminance: 0.012, uv: 0.0015 }
/** How far white may move in all before the run's readings no longer belong together. */
const whole = { luminance: 0.03, uv: 0.003 }
/** ΔE2000 to the aim from which a reading is taken again, and by which two must differ for the first to be a misread. */
const odd = { off: 4, apart: 1 }
/** Times that hands are asked before the run gives up. */
const mostAsks = 3

export const moveOf = (from: XYZ, to: XYZ): WhiteMove => ({
  luminance: to[1] / from[1] - 1,
  uv: deltaUv(convertXyzToUv(from), convertXyzToUv(to)),
})

const roleOf = (rgb: Triple): ReadingRole => (rgb.every((v) => v === 1) ? 'white' : 'patch')

const within = (move: WhiteMove, bounds: WhiteMove) =>
  Math.abs(move.luminance) <= bounds.luminance && move.uv <= bounds.uv

/** White as a stage finds it, by which all that follows is judged: read again unless it is about what it should be. */
async function firstWhite(context: RunContext, { name, rgb, deltaEOf }: Wish) {
  const once = await context.readings.read(name, rgb, { deltaEOf, role: 'white' })
  if (deltaEOf && deltaEOf(once.xyz) < odd.off) return once
  const again = await context.readings.read(name, rgb, { deltaEOf, role: 'white' })
  if (within(moveOf(once.xyz, again.xyz), step)) return again
  context.readings.repeated++
  return context.readings.read(name, rgb, { deltaEOf, role: 'white' })
}

/** What readings of white in between are called. */
export const watchedWhite = 'White, watched'

/**
 * Watches white while a run reads: what an instrument cannot tell, a knock or room light under a lifted edge, shows as a
 * step in white. A block of readings counts only when white is the same after it as before.
 */
export class WhiteWatch {
  private last: XYZ
  /** White from which it may move no further than the whole; where it came to rest, once it had. */
  private anchor: XYZ
  private asked = 0
  private looked = 0
  private readonly looks: XYZ[] = []

  /** `first`: white as the stage found it, shown by `rgb`. */
  private constructor(
    private readonly context: RunContext,
    private readonly first: XYZ,
    private readonly rgb: Triple,
  ) {
    this.last = first
    this.anchor = first
  }

  /** Reads white, and makes sure that the display was then as the run wants it. */
  static async start(context: RunContext, wish: Wish): Promise<{ watch: WhiteWatch; white: Got }> {
    for (let tries = 1; tries <= mostAsks; tries++) {
      const white = { name: wish.name, ...(await firstWhite(context, wish)) }
      const watch = new WhiteWatch(context, white.xyz, wish.rgb)
      if (!(await watch.pressed())) return { watch, white }
    }
    throw new RunFailed(
      `${context.display.name} does not stay as the run sets it. See that nobody presses its buttons, and start again.`,
    )
  }

  /**
   * Reads patches in blocks; a block that a step in white spoiled is read again once hands have seen to it. What white has
   * drifted since the beginning is taken out of the readings.
   */
  async read(wishes: readonly Wish[], onReading?: (got: Got, index: number) => void): Promise<Got[]> {
    const all: Got[] = []
    const size = Math.ceil(wishes.length / Math.ceil(wishes.length / readingsBetweenLooks))
    for (let start = 0; start < wishes.length; start += size) {
      const block = wishes.slice(start, start + size)
      await giveWay(this.context)
      for (;;) {
        const got: Got[] = []
        for (const [i, wish] of block.entries()) {
          got.push(await this.readTwiceIfOdd(wish))
          onReading?.(got[i], start + i)
        }
        const before = this.last
        if (await this.holds()) {
          all.push(...withoutDrift(got, { first: this.first, before, after: this.last }))
          break
        }
      }
    }
    return all
  }

  /** Reads a patch; one that is far from what was solved for it is read again, and the second reading counts. */
  private async readTwiceIfOdd({ name, rgb, deltaEOf, role = roleOf(rgb) }: Wish): Promise<Got> {
    const first = await this.context.readings.read(name, rgb, { deltaEOf, role })
    if (!deltaEOf || deltaEOf(first.xyz) < odd.off) return { name, ...first }
    const second = await this.context.readings.read(name, rgb, { deltaEOf, role })
    if (Math.abs(deltaEOf(second.xyz) - deltaEOf(first.xyz)) > odd.apart) this.context.readings.repeated++
    return { name, ...second }
  }

  /** Whether somebody pressed the display's buttons; puts it back to what the run wants, and says so. */
  private async pressed(): Promise<boolean> {
    const {
      display,
      link: { wanted },
    } = this.context
    const found = await this.context.steps.take(`buttons ${++this.looked}`, (send) => send('display.getControls', {}))
    const elsewhere = wanted.slot !== undefined && found.activeSlot !== wanted.slot
    const changes = [
      ...(elsewhere ? [`switched to slot ${found.activeSlot}`] : []),
      // Each slot has a brightness of its own.
      ...(!elsewhere && wanted.backlight !== undefined && found.backlight !== wanted.backlight
        ? [`turned to brightness ${found.backlight}`]
        : []),
      ...(wanted.pipeline !== undefined && found.pipeline !== wanted.pipeline ? ['restarted'] : []),
    ]
    if (!changes.length) return false
    await this.context.want(`put back ${this.looked}`, { ...wanted })
    await this.context.sheet.remark(
      `${display.name} was ${changes.join(' and ')} in the middle; it was put back, and what that spoiled was read again.`,
    )
    return true
  }

  /** Makes sure, in between, that the instrument still sees white as it did; waits for hands where it does not. */
  async stillThere(): Promise<void> {
    await this.holds()
  }

  private async look(): Promise<XYZ> {
    const { xyz } = await this.context.readings.read(watchedWhite, this.rgb)
    this.looks.push(xyz)
    return xyz
  }

  /** What white has done since the first look. */
  get moved(): WhiteMove {
    return moveOf(this.first, this.last)
  }

  /** How far two readings of white are apart by noise alone, ΔE2000; null from too few looks. */
  get repeatability(): number | null {
    return repeatabilityOf(this.looks)
  }

  /** White has come too far from where it began, step by step: the run waits until somebody says that it holds still. */
  private async waitForRest(seen: XYZ): Promise<void> {
    const { luminance, uv } = moveOf(this.anchor, seen)
    const moved = `White has drifted by ${luminance > 0 ? '+' : '−'}${Math.abs(luminance * 100).toFixed(1)} % and ${uv.toFixed(4)} Δu′v′ since this stage began`
    if (++this.asked > mostAsks)
      throw new RunFailed(`${moved}, and goes on. See that nothing dims the display, let it warm up, and start again.`)
    await this.context.askHands(
      `rest ${this.asked}`,
      'rest',
      `${moved}: more than can be taken out of the readings. Let ${this.context.display.name} come to rest, then press “Go on”.`,
    )
    this.last = await this.look()
    this.anchor = this.last
  }

  /** Whether white is where it was. If not, waits for hands until it is again, and says that the block does not count. */
  private async holds(): Promise<boolean> {
    const steady = (seen: XYZ) => within(moveOf(this.last, seen), step) && within(moveOf(this.anchor, seen), whole)
    let seen = await this.look()
    // One odd reading is a misread; two that agree are not.
    if (!steady(seen)) seen = await this.look()
    if (steady(seen)) {
      this.last = seen
      return true
    }
    if (await this.pressed()) {
      seen = await this.look()
      if (steady(seen)) return false
    }
    while (!steady(seen)) {
      const { luminance, uv } = moveOf(this.last, seen)
      const drifted = within(moveOf(this.last, seen), step)
      if (drifted) {
        await this.waitForRest(seen)
        return false
      }
      const moved = `White moved by ${luminance > 0 ? '+' : '−'}${Math.abs(luminance * 100).toFixed(1)} % and ${uv.toFixed(4)} Δu′v′ within a few readings`
      if (++this.asked > mostAsks)
        throw new RunFailed(
          `${moved}, and stays there. The display itself changed: see that nobody pressed its buttons and nothing dims it, and start again.`,
        )
      await this.context.askHands(
        `seat ${this.asked}`,
        'seat',
        `${moved}: the instrument was knocked, or room light gets under it. Seat it flat on the centre of ${this.context.display.name}, then press “Go on”; what it spoiled is read again.`,
      )
      seen = await this.look()
    }
    this.last = seen
    return false
  }
}
