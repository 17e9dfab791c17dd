import { fenLantern, PanelModel, settled, type PanelTraits } from '@bichroma/bench'
import {
  computeMetrics,
  judge,
  resolveAim,
  type JudgedVerdict,
  type Limits,
  type ResolvedAim,
} from '@bichroma/core/aims'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { convertXyzToChromaticity, invert, multiplyVector, type PatchReading, type Triple } from '@bichroma/core/color'
import { leavesLimits, slotDrift, trackedFigures, type Validated } from '@bichroma/core/drift'
import { checksFirst, dueOf, dueRulesOf } from '@bichroma/core/rounds'
import { checkPlans } from '@bichroma/core/runs'
import { demoLimits, demoStories } from '../demoStudio'

const day = 86_400_000
const start = Date.UTC(2025, 0, 6, 9)
/** Days that are lived through before those that count, so that every slot has a history. */
const before = 240
const counted = 365
const minutes = { check: 12, full: 45 } as const

/** The drive at which a channel gives a share of its light: its own exponent and bow undone by bisection. */
function driveFor(light: number, exponent: number, bow: number): number {
  let [low, high] = [0, 1]
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2
    if ((middle + bow * middle * (1 - middle) * (2 * middle - 1)) ** exponent < light) low = middle
    else high = middle
  }
  return high
}

/** A display of the demo as its panel truly is, which can be read, and calibrated to what it was in the beginning. */
class LivedDisplay {
  private drives: readonly Triple[] = []
  private backlight = 0
  private readonly aim: ResolvedAim
  private readonly still: PanelModel
  private readonly moody: PanelModel
  private readonly normal: () => number
  readonly aimWhite

  constructor(
    private readonly traits: PanelTraits,
    private readonly hours: number,
    private readonly hoursPerDay: number,
    seed: number,
  ) {
    const { time } = traits
    this.still = new PanelModel({ ...traits, time: { ...time, wander: { luminance: 0, blue: 0 } } }, seed)
    this.moody = new PanelModel(traits, seed)
    this.normal = normalFrom(uniformFrom(seed))
    // Aimed at less light than it can give, so that there is some left for its age.
    this.backlight = traits.control.min + 0.6 * (traits.control.max - traits.control.min)
    const at = (rgb: Triple) => this.emit(this.still, rgb, start)
    const white = at([1, 1, 1])
    this.aimWhite = convertXyzToChromaticity(white)
    this.aim = resolveAim(
      {
        white: { kind: 'panel' },
        luminance: white[1],
        toneResponse: { kind: 'power', exponent: 2.2 },
        primaries: { kind: 'panel' },
      },
      {
        white: this.aimWhite,
        primaries: {
          red: convertXyzToChromaticity(at([1, 0, 0])),
          green: convertXyzToChromaticity(at([0, 1, 0])),
          blue: convertXyzToChromaticity(at([0, 0, 1])),
        },
        black: at([0, 0, 0]),
      },
    )
    this.calibrate(start)
  }

  private hoursAt = (at: number) => this.hours + ((at - start) / day) * this.hoursPerDay

  private emit(panel: PanelModel, drive: Triple, at: number): Triple {
    return panel.emit(drive, { ...settled, backlight: this.backlight, hours: this.hoursAt(at), at })
  }

  /** What a full run makes of it: white, light and tone back where they were, but for what a run leaves over. */
  calibrate(at: number): void {
    const { exponents, bows } = this.traits.tone
    const { ageing } = this.traits.time
    const { control } = this.traits
    let gains: Triple = [1, 1, 1]
    for (let round = 0; round < 4; round++) {
      const columns = [0, 1, 2].map((c) => this.emit(this.still, [0, 1, 2].map((k) => Number(k === c)) as never, at))
      const matrix = [0, 1, 2].map((row) => columns.map((column) => column[row])) as never
      const { x, y } = this.aimWhite
      const wanted = this.aim.white[1]
      const shares = multiplyVector(invert(matrix), [(wanted * x) / y, wanted, (wanted * (1 - x - y)) / y])
      const most = Math.max(...shares)
      gains = shares.map((s) => s / most) as never
      this.backlight = Math.min(control.max, Math.max(control.min, this.backlight * most))
    }
    const off = gains.map((g) => Math.min(1, g * (1 + 0.001 * this.normal())))
    const hours = this.hoursAt(at)
    this.drives = checkPlans.few.patches.map(
      ({ rgb }) =>
        rgb.map((v, c) =>
          driveFor(off[c] * v ** 2.2, exponents[c] + (ageing.tone[c] * hours) / 1000, bows[c]),
        ) as never,
    )
  }

  private metrics(xyzOf: (drive: Triple) => Triple) {
    const read = checkPlans.few.patches.map(({ name, rgb }, n): PatchReading => ({
      name,
      rgb,
      xyz: xyzOf(this.drives[n]),
    }))
    return computeMetrics(read, this.aim, { temperatures: false })
  }

  isOutside(at: number, limits: Limits): boolean {
    return (
      judge(
        this.metrics((drive) => this.emit(this.still, drive, at)),
        limits,
      ).verdict === 'outside'
    )
  }

  /** A reading by an instrument that repeats to 0.2 % in light and 0.05 % in colour, on a panel with its moods. */
  check(at: number, limits: Limits) {
    const metrics = this.metrics((drive) => {
      const [x, y, z] = this.emit(this.moody, drive, at)
      const all = 1 + 0.002 * this.normal()
      return [x * all * (1 + 0.0005 * this.normal()), y * all, z * all * (1 + 0.0005 * this.normal())]
    })
    return { verdict: judge(metrics, limits).verdict, figures: trackedFigures(metrics, limits) }
  }
}

export interface Keeping {
  /** Days between judgements; Infinity for none by the calendar. */
  readonly everyDays: number
  /** The chance that is accepted; null for no forecast. */
  readonly accepted: number | null
}

interface LivedYear {
  /** Days on which a display was truly outside, over all displays. */
  readonly outside: number
  readonly hours: number
  readonly checks: number
  readonly calibrations: number
  /** Displays that no calibration brings within their limits, and that are left out. */
  readonly leftOut: number
}

/** The demo's fleet through a year, looked after in one way; the panels age alike in all of them. */
export function liveYear({ everyDays, accepted }: Keeping): LivedYear {
  const displays = fenLantern.workstations.flatMap((w) => w.displays)
  let [outside, checks, calibrations, leftOut] = [0, 0, 0, 0]
  for (const [n, { name, panel, hours, hoursPerDay }] of displays.entries()) {
    const display = new LivedDisplay(panel, hours, hoursPerDay, 7919 * (n + 1))
    const limits = demoLimits[demoStories[name]?.limits ?? 'Everyday']
    if (display.isOutside(start, limits)) {
      leftOut++
      continue
    }
    const rules = dueRulesOf({ studio: { everyDays: Math.min(everyDays, 3650), accepted: accepted ?? 1 } }, 'white-led')
    const history: Validated[] = []
    let segment = 1
    let last = null as { verdict: JudgedVerdict; at: number } | null
    let leavesAt: number | null = null
    let drift = null as ReturnType<typeof slotDrift> | null
    const note = (at: number) => {
      const { verdict, figures } = display.check(at, limits)
      history.push({ at, segment, instrumentId: 1, figures })
      last = { verdict, at }
      if (accepted === null) return
      drift = slotDrift(history, display.aimWhite)
      leavesAt = leavesLimits(drift, limits, { from: at, accepted })
    }
    const calibrate = (at: number, counts: boolean) => {
      display.calibrate(at)
      segment++
      note(at)
      if (counts) calibrations++
    }
    note(start)
    for (let d = 1; d <= before + counted; d++) {
      const at = start + d * day
      const counts = d > before
      // Until the year that counts all are looked after alike.
      const due = counts
        ? dueOf({ last, rules, leavesAt, days: [], now: at })
        : { at: last!.at + 30 * day, by: 'calendar' as const }
      const isOpen = d % 7 < 5
      if (isOpen && due.at !== null && due.at <= at) {
        // Due by forecast: whether it would fail soon anyway is what the forecast says.
        const soon = due.by === 'forecast'
        if (soon && !checksFirst(1, minutes.check, minutes.full)) calibrate(at, counts)
        else {
          note(at)
          if (counts) checks++
          if (last!.verdict === 'outside') calibrate(at, counts)
        }
      }
      if (counts && display.isOutside(at + day / 2, limits)) outside++
    }
  }
  return { outside, hours: (checks * minutes.check + calibrations * minutes.full) / 60, checks, calibrations, leftOut }
}
