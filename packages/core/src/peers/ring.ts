import { choleskyInPlace, solveCholesky } from '../characterization/cholesky'
import { convertXyzToUv, type XYZ } from '../color/chromaticity'

/** One reading of a ring: white of a display by one of the instruments. */
export interface RingReading {
  readonly display: number
  readonly instrument: number
  /** ms since any moment, the same for all. */
  readonly at: number
  /** cd/m² */
  readonly xyz: XYZ
}

/** One instrument laid on one display for so many readings in a row. */
export interface RingStep {
  readonly display: number
  readonly instrument: number
  readonly readings: number
}

/** What a ring is planned for. */
export interface RingAsked {
  readonly instruments: readonly number[]
  readonly displays: readonly number[]
  /** Standard deviation of one reading of white: luminance as a share. */
  readonly repeatability: number
  /** Standard deviation of laying an instrument on anew, as a share: the place is never quite the same. */
  readonly placing: number
  /** What the offset between any two instruments may be uncertain by: a standard uncertainty, as a share. */
  readonly wanted: number
}

export interface RingPlan {
  readonly steps: readonly RingStep[]
  /** Standard uncertainty of the offset between two instruments, as a share. */
  readonly uncertainty: number
  /** Whether that is what was asked for. */
  readonly enough: boolean
}

/** Readings each time that an instrument lies on a display, and times that each is laid there, at most. */
const [mostReadings, mostTimes] = [5, 8]

/**
 * In which order instruments lie on displays, so that their differences are as certain as asked in as few changes as can be.
 * On each display they come in one order and then backwards, which takes a steady drift of its light out; on the next display
 * the order begins with another, so that nobody is always first. First more readings are taken where they help as much as
 * laying on anew, then instruments are laid on more often. Needs two instruments and a display (RangeError).
 */
export function planRing({ instruments, displays, repeatability, placing, wanted }: RingAsked): RingPlan {
  if (instruments.length < 2 || !displays.length) throw new RangeError('A ring needs two instruments and a display.')
  // More readings in a row make up for noise, and not for the place.
  const inARow = Math.max(1, Math.min(mostReadings, Math.ceil((repeatability / Math.max(placing, 1e-9)) ** 2)))
  const of = (times: number) => {
    const steps = stepsOf(instruments, displays, times, inARow)
    const once = placing ** 2 + repeatability ** 2 / inARow
    return { steps, uncertainty: Math.sqrt((2 * once) / (2 * times * displays.length)) }
  }
  for (let times = 1; ; times++) {
    const plan = of(times)
    const enough = plan.uncertainty <= wanted
    if (enough || times === mostTimes) return { ...plan, enough }
  }
}

/** Scatter of laying an instrument on anew, as a share, and of one reading of white by an instrument that nobody knows better. */
const usualPlacing = 0.0015
export const usualNoise = 0.002

/** A ring of spot runs, which read white once each: `noise` is what one such reading scatters by, as a share. */
export const planSpotRing = (
  asked: Pick<RingAsked, 'instruments' | 'displays' | 'wanted'>,
  noise: number = usualNoise,
): RingPlan => planRing({ ...asked, repeatability: 0, placing: Math.hypot(usualPlacing, noise) })

/** There and back over the instruments, so many times on each display. */
function stepsOf(
  instruments: readonly number[],
  displays: readonly number[],
  times: number,
  readings: number,
): RingStep[] {
  return displays.flatMap((display, d) => {
    const order = instruments.map((_, i) => instruments[(i + d) % instruments.length])
    const there = [...order, ...[...order].reverse()]
    return Array.from({ length: times }, () => there)
      .flat()
      .map((instrument) => ({ display, instrument, readings }))
  })
}

/** What one instrument reads more than another, or than all on average, and by how much that is uncertain. */
export interface Offset {
  readonly value: number
  /** Half of the interval that holds it 95 times of 100. */
  readonly within: number
}

export interface InstrumentOffset {
  readonly instrument: number
  /** As a share. */
  readonly luminance: Offset
  readonly u: Offset
  readonly v: Offset
}

/** The 97.5 % point of Student's t for so many degrees of freedom, 1 or more. M. Abramowitz, I. Stegun, 1964, §26.7.5. */
export function studentT975(degrees: number): number {
  const few = [12.706, 4.303, 3.182, 2.776]
  if (degrees <= few.length) return few[Math.max(0, Math.round(degrees) - 1)]
  const z = 1.959964
  return (
    z +
    (z ** 3 + z) / (4 * degrees) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * degrees ** 2) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * degrees ** 3)
  )
}

/** The mean of readings in a row, which lie on one place and are one look. */
interface Look {
  readonly display: number
  readonly instrument: number
  readonly at: number
  /** ln of luminance, u′, v′. */
  readonly values: readonly [number, number, number]
}

function looksOf(readings: readonly RingReading[]): Look[] {
  const rows: RingReading[][] = []
  for (const reading of [...readings].sort((a, b) => a.at - b.at)) {
    const last = rows[rows.length - 1]
    const same = last && last[0].display === reading.display && last[0].instrument === reading.instrument
    if (same) last.push(reading)
    else rows.push([reading])
  }
  return rows.map((row) => {
    const mean = (of: (r: RingReading) => number) => row.reduce((sum, r) => sum + of(r), 0) / row.length
    return {
      display: row[0].display,
      instrument: row[0].instrument,
      at: mean((r) => r.at),
      values: [
        mean((r) => Math.log(r.xyz[1])),
        mean((r) => convertXyzToUv(r.xyz).u),
        mean((r) => convertXyzToUv(r.xyz).v),
      ],
    }
  })
}

/** What was reckoned in logarithms, as a share. */
const asShare = ({ value, within }: Offset): Offset => ({
  value: Math.expm1(value),
  within: Math.exp(value) * within,
})

/**
 * How instruments that read the same displays agree: what each reads more than `reference`, or than all on average where there
 * is none, by least squares with a level and a steady drift of every display; readings in a row count as one look. The
 * uncertainty is what looks scatter by. Null where looks are too few to tell it. Throws RangeError for a light that is none.
 */
export function instrumentOffsets(
  readings: readonly RingReading[],
  reference: number | null = null,
): InstrumentOffset[] | null {
  if (readings.some((r) => !(r.xyz[1] > 0))) throw new RangeError('A ring reads white: a light of none tells nothing.')
  const looks = looksOf(readings)
  const instruments = [...new Set(looks.map((l) => l.instrument))].sort((a, b) => a - b)
  const displays = [...new Set(looks.map((l) => l.display))]
  const parts = instruments.length - 1 + 2 * displays.length
  const degrees = looks.length - parts
  if (instruments.length < 2 || degrees < 1) return null

  // Columns: instruments but the first, then level and drift of each display.
  const middle = new Map(
    displays.map((d) => {
      const own = looks.filter((l) => l.display === d).map((l) => l.at)
      const [least, most] = [Math.min(...own), Math.max(...own)]
      return [d, { at: (least + most) / 2, half: Math.max(1, (most - least) / 2) }] as const
    }),
  )
  const rows = looks.map((look) => {
    const row = new Float64Array(parts)
    const i = instruments.indexOf(look.instrument)
    if (i > 0) row[i - 1] = 1
    const d = instruments.length - 1 + 2 * displays.indexOf(look.display)
    const { at, half } = middle.get(look.display)!
    row[d] = 1
    row[d + 1] = (look.at - at) / half
    return row
  })
  const normal = new Float64Array(parts * parts)
  for (const row of rows)
    for (let i = 0; i < parts; i++) for (let j = 0; j <= i; j++) normal[i * parts + j] += row[i] * row[j]
  let factor: Float64Array
  try {
    factor = choleskyInPlace(normal, parts)
  } catch {
    // Instruments that never lay on one display, or a display that was read once.
    return null
  }

  /** What each instrument's offset is of the parts: less the reference's, or less the mean. */
  const contrasts = instruments.map((_, i) => {
    const contrast = new Float64Array(parts)
    if (i > 0) contrast[i - 1] += 1
    const from = reference === null ? -1 : instruments.indexOf(reference)
    if (from > 0) contrast[from - 1] -= 1
    if (from < 0) for (let k = 1; k < instruments.length; k++) contrast[k - 1] -= 1 / instruments.length
    return contrast
  })
  const dot = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(a).reduce((sum, v, k) => sum + v * b[k], 0)
  const of = ([0, 1, 2] as const).map((q) => {
    const right = new Float64Array(parts)
    looks.forEach((look, n) => rows[n].forEach((v, k) => (right[k] += v * look.values[q])))
    const fitted = solveCholesky(factor, parts, right)
    const squares = looks.reduce((sum, look, n) => sum + (look.values[q] - dot(rows[n], fitted)) ** 2, 0)
    const scatter = squares / degrees
    return contrasts.map((contrast): Offset => {
      const spread = solveCholesky(factor, parts, Float64Array.from(contrast))
      const variance = scatter * Math.max(0, dot(contrast, spread))
      return { value: dot(contrast, fitted), within: studentT975(degrees) * Math.sqrt(variance) }
    })
  })
  return instruments.map((instrument, i) => ({ instrument, luminance: asShare(of[0][i]), u: of[1][i], v: of[2][i] }))
}
