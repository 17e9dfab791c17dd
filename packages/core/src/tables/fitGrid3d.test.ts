import { uniformFrom } from '../basics/random'
import type { Triple } from '../color/matrix3'
import { fitGrid3d, type GridFit, type GridSamples } from './fitGrid3d'
import { tetrahedral, trilinear } from './grid3d'
import { applyTetrahedral, tabulate3d } from './table3d'

/** Samples of a function at random places, each counting as much as it is told. */
function samplesOf(
  of: (rgb: Triple) => Triple,
  count: number,
  seed: number,
  weightOf: (rgb: Triple) => number = () => 1,
): GridSamples {
  const uniform = uniformFrom(seed)
  const places = Float64Array.from({ length: 3 * count }, () => uniform())
  const wanted = new Float64Array(3 * count)
  const weights = new Float64Array(3 * count)
  for (let s = 0; s < count; s++) {
    const rgb: Triple = [places[3 * s], places[3 * s + 1], places[3 * s + 2]]
    wanted.set(of(rgb), 3 * s)
    weights.fill(weightOf(rgb), 3 * s, 3 * s + 3)
  }
  return { places, wanted, weights }
}
/** What a table misses a function by at other places: on average of squares, and at worst. */
function missed(table: { size: number; values: Float64Array }, of: (rgb: Triple) => Triple) {
  const uniform = uniformFrom(99)
  let [sum, worst] = [0, 0]
  for (let i = 0; i < 4000; i++) {
    const rgb: Triple = [uniform(), uniform(), uniform()]
    const [got, to] = [applyTetrahedral(table, rgb), of(rgb)]
    for (let k = 0; k < 3; k++) {
      sum += (got[k] - to[k]) ** 2
      worst = Math.max(worst, Math.abs(got[k] - to[k]))
    }
  }
  return { rms: Math.sqrt(sum / 12_000), worst }
}

const bent = ([r, g, b]: Triple): Triple => [r ** 0.45, 0.7 * g ** 2.4 + 0.3 * r * b, Math.sin(1.4 * b) / Math.sin(1.4)]

test.each([5, 9, 17])(
  'a table of %d nodes fitted to what lies between misses a bent function by less than one that meets it at its nodes',
  (size) => {
    const met = tabulate3d(size, bent)
    const fitted = { size, values: fitGrid3d(size, met.values, samplesOf(bent, 20_000, 3)) }
    expect(missed(fitted, bent).rms).toBeLessThan(0.85 * missed(met, bent).rms)
  },
)

test('what a table can show exactly it shows, and holds on to where nothing is wanted of it @long', () => {
  const straight = ([r, g, b]: Triple): Triple => [0.2 + 0.5 * r, 0.3 * r + 0.6 * g, 0.9 - 0.4 * b + 0.1 * g]
  const met = tabulate3d(9, straight)
  const same = fitGrid3d(9, met.values, samplesOf(straight, 5000, 5))
  same.forEach((v, i) => expect(v).toBeCloseTo(met.values[i], 9))
  // Half of the cube wants something else: the other half stays, but for the nodes between.
  const other = samplesOf(bent, 5000, 6, ([r]) => (r > 0.5 ? 1 : 0))
  const fitted = fitGrid3d(9, met.values, other)
  for (let i = 0; i < 3 * 9 * 9 * 4; i++) expect(fitted[i]).toBe(met.values[i])
  expect(fitted.some((v, i) => v !== met.values[i])).toBe(true)
})

test('no weight at all changes nothing, and what is wanted counts by its weight', () => {
  const flat = new Float64Array(3 * 5 ** 3).fill(0.5)
  expect(
    fitGrid3d(
      5,
      flat,
      samplesOf(bent, 100, 1, () => 0),
    ),
  ).toEqual(flat)
  const two = (heavy: number): GridSamples => ({
    places: new Float64Array([0.5, 0.5, 0.5, 0.5, 0.5, 0.5]),
    wanted: new Float64Array([1, 1, 1, 0, 0, 0]),
    weights: new Float64Array([heavy, heavy, heavy, 1, 1, 1]),
  })
  const at = (values: Float64Array) => applyTetrahedral({ size: 5, values }, [0.5, 0.5, 0.5])[0]
  expect(at(fitGrid3d(5, flat, two(3)))).toBeGreaterThan(0.7)
  expect(at(fitGrid3d(5, flat, two(3)))).toBeLessThan(0.76)
  expect(at(fitGrid3d(5, flat, two(1)))).toBeCloseTo(0.5, 9)
})

test('read trilinear it is fitted to what that makes of the nodes', () => {
  // A product, which eight nodes show exactly between them and four do not.
  const product = ([r, g, b]: Triple): Triple => [r * g, g * b, r * g * b]
  const met = tabulate3d(3, product)
  const off = met.values.map((v, i) => v + ((i * 7919) % 11) / 50)
  const fitted = fitGrid3d(3, off, samplesOf(product, 4000, 12), { between: 'trilinear', pull: 1e-6 })
  fitted.forEach((v, i) => expect(v).toBeCloseTo(met.values[i], 3))
  const other = fitGrid3d(3, off, samplesOf(product, 4000, 12), { pull: 1e-6 })
  expect(Math.max(...other.map((v, i) => Math.abs(v - met.values[i])))).toBeGreaterThan(0.01)
})

test('nodes of which samples tell little go on straight; those that none reaches stay', () => {
  const straight = ([r, g, b]: Triple): Triple => [r, g, 0.5 * r + 0.5 * b]
  const wrong = tabulate3d(9, () => [0.3, 0.3, 0.3])
  // Samples fill the cube up to a little beyond the middle: the node at 5/8 is reached by a sliver alone.
  const samples = samplesOf(straight, 20_000, 14, ([r]) => (r < 0.505 ? 1 : 0))
  const places = samples.places.map((v, i) => (i % 3 === 0 ? 0.505 * v : v))
  const wanted = Float64Array.from(samples.wanted)
  for (let s = 0; s < places.length; s += 3) wanted.set(straight([places[s], places[s + 1], places[s + 2]]), s)
  const weights = new Float64Array(places.length).fill(1)
  const at = (values: Float64Array, r: number) => values[3 * ((r * 9 + 4) * 9 + 4)]
  const [loose, stiff] = [0, 0.01].map((share) =>
    fitGrid3d(9, wrong.values, { places, wanted, weights }, { pull: 0.001, straight: share }),
  )
  expect(Math.abs(at(stiff, 5) - 5 / 8)).toBeLessThan(0.03)
  expect(Math.abs(at(stiff, 5) - 5 / 8)).toBeLessThan(0.5 * Math.abs(at(loose, 5) - 5 / 8))
  expect(at(stiff, 7)).toBe(at(wrong.values, 7))
})

/** What the fit makes least: what samples are off by and what nodes moved by, as their weights count. */
function cost(size: number, was: Float64Array, values: Float64Array, samples: GridSamples, fit: Required<GridFit>) {
  const { places, wanted, weights } = samples
  const mean = weights.reduce((a, b) => a + b, 0) / weights.length
  const read = fit.between === 'trilinear' ? trilinear : tetrahedral
  const reached = new Set<number>()
  const along = (v: number) => [Math.floor(v * (size - 1)), Math.min(size - 1, Math.floor(v * (size - 1)) + 1)]
  let sum = 0
  for (let s = 0; s < places.length; s += 3) {
    const place: Triple = [places[s], places[s + 1], places[s + 2]]
    const got = read({ nodes: [size, size, size], values }, place)
    for (let k = 0; k < 3; k++) sum += weights[s + k] * (got[k] - wanted[s + k]) ** 2
    for (const i of along(place[0]))
      for (const j of along(place[1])) for (const k of along(place[2])) reached.add((i * size + j) * size + k)
  }
  for (let i = 0; i < values.length; i++) sum += fit.pull * mean * (values[i] - was[i]) ** 2
  if (fit.straight)
    for (const node of reached)
      for (const stride of [size * size, size, 1]) {
        const place = Math.floor(node / stride) % size
        const row = [node - stride, node, node + stride]
        if (place < 1 || place > size - 2 || !row.every((n) => reached.has(n))) continue
        for (let k = 0; k < 3; k++) {
          const [a, b, c] = row.map((n) => values[3 * n + k])
          sum += fit.straight * mean * (a - 2 * b + c) ** 2
        }
      }
  return sum
}

test.each([
  ['tetrahedral', 0],
  ['trilinear', 0],
  ['trilinear', 0.02],
] as const)(
  'read %s and held straight by %d, no node can go anywhere where less would be off @long',
  (between, straight) => {
    const size = 4
    const met = tabulate3d(size, bent)
    const samples = samplesOf(([r, g, b]) => bent([b, r, g]), 400, 21)
    const fit = { between, pull: 0.02, straight }
    const fitted = fitGrid3d(size, met.values, samples, fit)
    const least = cost(size, met.values, fitted, samples, fit)
    expect(least).toBeLessThan(0.2 * cost(size, met.values, met.values, samples, fit))
    for (let i = 0; i < fitted.length; i++)
      for (const step of [0.002, -0.002]) {
        const moved = Float64Array.from(fitted)
        moved[i] += step
        expect(cost(size, met.values, moved, samples, fit)).toBeGreaterThan(least)
      }
  },
)
