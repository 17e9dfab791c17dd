/** White of one slot as it was read between two calibrations: its light can only go its own slow way. */
export interface LightSeries {
  readonly points: readonly LightPoint[]
}

export interface LightPoint {
  /** ms since 1970. */
  readonly at: number
  readonly instrumentId: number
  /** cd/m² */
  readonly luminance: number
}

/** An instrument that reads otherwise than it did, beside all others. */
export interface InstrumentChange {
  readonly instrumentId: number
  /** About when it began, ms since 1970. */
  readonly since: number
  /** All at once, or more and more until now. */
  readonly kind: 'step' | 'ramp'
  /** How much more light it reads now than before, as a share, and half of the interval that holds it 95 times of 100. */
  readonly luminance: number
  readonly within: number
  /** Times its own standard deviation: how sure it is. */
  readonly score: number
  /** It is more than chance would make of a fleet once in twenty years of weekly looks. */
  readonly alarm: boolean
  /** Readings since then on which it rests. */
  readonly readings: number
}

const day = 86_400_000
/** How far back is looked. */
const windowDays = 300
/** Days between moments at which something may have begun, and the least before now and after the beginning. */
const every = 10
const margin = 20
/** How much displays differ in what they lose of their light a day, as shares. */
const slopeSpread = 0.06 / 365
/** What a reading scatters by before it is known: the day's mood of a display, an instrument's noise, its place. */
const usualScatter = 0.003
/** Scatter below which nobody believes it. */
const leastScatter = 0.0008
/** Score from which it is told: see scripts/trial/alarmTrials.ts for what chance makes. */
const alarmScore = 4.6
/** Readings that are looked through, about. */
const mostReadings = 4000
/** Readings of an instrument on either side of a beginning below which nothing is said. */
const fewestReadings = 4

interface Prepared {
  readonly y: Float64Array
  readonly t: Float64Array
  readonly instrument: Int32Array
  /** First and last index + 1 of each series. */
  readonly spans: readonly (readonly [number, number])[]
  /** What each reading counts: less where its series scatters more. */
  readonly weights: Float64Array
}

function prepare(series: readonly LightSeries[], now: number): Prepared {
  const from = now - windowDays * day
  const kept = series
    .map((s) => s.points.filter((p) => p.at >= from && p.at <= now && p.luminance > 0))
    // One reading alone says nothing of change, nor do readings on a single day.
    .filter((points) => points.length > 1)
  // Of a fleet of thousands every so many of its slots are enough.
  const countOf = (all: readonly (readonly LightPoint[])[]) => all.reduce((sum, s) => sum + s.length, 0)
  const stride = Math.max(1, Math.ceil(countOf(kept) / mostReadings))
  const some = kept.filter((_, i) => i % stride === 0)
  const count = countOf(some)
  const y = new Float64Array(count)
  const t = new Float64Array(count)
  const instrument = new Int32Array(count)
  const spans: [number, number][] = []
  let n = 0
  for (const points of some) {
    const start = n
    for (const p of points) {
      y[n] = Math.log(p.luminance)
      t[n] = (p.at - now) / day
      instrument[n] = p.instrumentId
      n++
    }
    spans.push([start, n])
  }
  return { y, t, instrument, spans, weights: new Float64Array(count).fill(1) }
}

/** Takes out of a column what each series has of its own: a level, and a slope that is likely to be small. */
function withoutSeries({ t, spans, weights }: Prepared, column: Float64Array, scatter: number): Float64Array {
  const out = new Float64Array(column.length)
  for (const [from, to] of spans) {
    const n = to - from
    const ridge = (scatter / slopeSpread) ** 2 / weights[from]
    let [meanT, meanC] = [0, 0]
    for (let i = from; i < to; i++) {
      meanT += t[i]
      meanC += column[i]
    }
    meanT /= n
    meanC /= n
    let [tt, tc] = [ridge, 0]
    for (let i = from; i < to; i++) {
      tt += (t[i] - meanT) ** 2
      tc += (t[i] - meanT) * (column[i] - meanC)
    }
    const slope = tc / tt
    for (let i = from; i < to; i++) out[i] = column[i] - meanC - slope * (t[i] - meanT)
  }
  return out
}

const dot = (a: Float64Array, b: Float64Array, { weights }: Prepared) => {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += weights[i] * a[i] * b[i]
  return sum
}

/** Columns that stand at right angles to each other, each with what its own direction weighs; those of no weight left out. */
interface Basis {
  /** As they came, and with what series have taken out. */
  readonly raw: Float64Array[]
  readonly rest: Float64Array[]
  readonly weight: number[]
}

/** Takes the basis out of a column. Modified Gram–Schmidt: the inner product is that of a column with what its rest is. */
function reduce(
  data: Prepared,
  basis: Basis,
  raw: Float64Array,
  rest: Float64Array,
): { raw: Float64Array; rest: Float64Array; weight: number } {
  const [r, s] = [raw.slice(), rest.slice()]
  basis.raw.forEach((b, k) => {
    const by = dot(b, s, data) / basis.weight[k]
    for (let i = 0; i < r.length; i++) {
      r[i] -= by * b[i]
      s[i] -= by * basis.rest[k][i]
    }
  })
  return { raw: r, rest: s, weight: dot(r, s, data) }
}

/**
 * Which instruments have begun to read otherwise, told from ordinary work alone: checks of many slots, each read by one
 * instrument or another. Every slot has a level and a slow slope of its own between calibrations, every instrument a constant
 * offset; what is left is searched for a step or a ramp of one instrument, beginning on any day of the last ten months
 * (generalized likelihood ratio). Instruments that read the same slots are needed: where each reads its own, a change of one
 * cannot be told from that of its displays, and nothing is said. Each instrument's likeliest change, the surest first.
 */
export function instrumentChanges(series: readonly LightSeries[], now: number): InstrumentChange[] {
  const data = prepare(series, now)
  const instruments = [...new Set(data.instrument)].sort((a, b) => a - b)
  if (instruments.length < 2) return []
  const first = search(data, instruments, usualScatter, now)
  if (!first) return []
  // Once more, with the scatter that these readings have, each series by its own.
  const weighed = { ...data, weights: weightsOf(data, first.rest, first.scatter) }
  return (search(weighed, instruments, first.scatter, now) ?? first).found
}

/** Readings of a series as unlike as usual that its own scatter is taken to be known by already. */
const knownBy = 5

function weightsOf({ spans }: Prepared, rest: Float64Array, scatter: number): Float64Array {
  const weights = new Float64Array(rest.length)
  for (const [from, to] of spans) {
    let squares = knownBy * scatter ** 2
    for (let i = from; i < to; i++) squares += rest[i] ** 2
    // A level and a slope were taken out of it.
    weights.fill(Math.min(1, (scatter ** 2 * (knownBy + Math.max(0, to - from - 2))) / squares), from, to)
  }
  return weights
}

function search(data: Prepared, instruments: readonly number[], assumed: number, now: number) {
  const { y, t, instrument } = data
  const basis: Basis = { raw: [], rest: [], weight: [] }
  const add = (column: Float64Array) => {
    const reduced = reduce(data, basis, column, withoutSeries(data, column, assumed))
    if (reduced.weight < 1e-6) return
    basis.raw.push(reduced.raw)
    basis.rest.push(reduced.rest)
    basis.weight.push(reduced.weight)
  }
  // What displays lose on average, and what each instrument reads more than the first.
  add(t.map((v) => v / 365))
  for (const id of instruments.slice(1)) add(Float64Array.from(instrument, (v) => Number(v === id)))
  const left = reduce(data, basis, y, withoutSeries(data, y, assumed))
  const freedom = y.length - basis.raw.length - data.spans.length
  if (freedom < 8) return null
  const scatter = Math.max(leastScatter, scatterOf(left.rest, data.weights, y.length / freedom))
  const found = instruments
    .flatMap((id) => likeliest(data, basis, left.rest, { id, scatter, assumed, now }) ?? [])
    .sort((a, b) => b.score - a.score)
  return { scatter, found, rest: left.rest }
}

/** The standard deviation of what is left, by its median, so that a change of one does not count. */
function scatterOf(rest: Float64Array, weights: Float64Array, inflate: number): number {
  const sorted = Array.from(rest, (v, i) => Math.abs(v) * Math.sqrt(weights[i])).sort((a, b) => a - b)
  return (sorted[sorted.length >> 1] / 0.67449) * Math.sqrt(inflate)
}

function likeliest(
  data: Prepared,
  basis: Basis,
  rest: Float64Array,
  { id, scatter, assumed, now }: { id: number; scatter: number; assumed: number; now: number },
): InstrumentChange | null {
  const { t, instrument } = data
  let best: InstrumentChange | null = null
  for (let begun = -margin; begun >= margin - windowDays; begun -= every) {
    const [before, since] = [0, 0].map((_, side) =>
      t.reduce((n, v, i) => n + Number(instrument[i] === id && v >= begun === Boolean(side)), 0),
    )
    if (before < fewestReadings || since < fewestReadings) continue
    for (const kind of ['step', 'ramp'] as const) {
      const column = Float64Array.from(t, (v, i) =>
        instrument[i] === id && v >= begun ? (kind === 'step' ? 1 : (v - begun) / -begun) : 0,
      )
      const { raw, weight } = reduce(data, basis, column, withoutSeries(data, column, assumed))
      if (weight < 0.5) continue
      const size = dot(raw, rest, data) / weight
      const deviation = scatter / Math.sqrt(weight)
      const score = Math.abs(size) / deviation
      if (best && score <= best.score) continue
      best = {
        instrumentId: id,
        since: now + begun * day,
        kind,
        luminance: Math.expm1(size),
        within: 1.96 * deviation,
        score,
        alarm: score >= alarmScore,
        readings: since,
      }
    }
  }
  return best
}
