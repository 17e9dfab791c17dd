import type { InstrumentFacts } from '../aims/doubt/instrumentDoubt'
import { normalFrom, uniformFrom } from '../basics/random'
import { convertChromaticityToXyz, type XYZ } from '../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from '../color/encodings'
import { multiplyVector, type Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import { howAlike } from './differences'
import { pairDoubts, type PairMember } from './pairDoubt'
import { peerFigureOf, peerFigures, type PeerFigure } from './peerLimits'

const white = convertChromaticityToXyz(standardWhites.D65, 120)
const aim = matrixOfPrimaries(standardPrimaries.sRGB, white)
const uniform = uniformFrom(3)
const patches: Triple[] = [
  ...[0, 0.25, 0.5, 0.75, 1].map((v): Triple => [v, v, v]),
  ...([
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ] as Triple[]),
  ...Array.from({ length: 20 }, (): Triple => [uniform(), uniform(), uniform()]),
]
const shown = (by: (xyz: XYZ) => XYZ = (xyz) => xyz): PatchReading[] =>
  patches.map((rgb) => ({
    name: rgb.join(' '),
    rgb,
    xyz: by(multiplyVector(aim, rgb.map((v) => v ** 2.2) as unknown as Triple)),
  }))

const facts: InstrumentFacts = {
  kind: 'colorimeter',
  certificateAge: 0.5,
  origin: 'this display',
  made: { residual: 0.0003, age: 0.1, referenceAge: 0.3 },
  noise: { luminance: 0.001, x: 0.0008, z: 0.001 },
}
const member = (id: number, change: Partial<NonNullable<PairMember['by']>> = {}, readings = shown()): PairMember => ({
  id,
  readings,
  by: {
    ...{ facts, instrument: 'one', reference: 'standard', correction: `made ${id}`, panelKind: 'white-led' },
    ...change,
  },
})
const widthOf = (members: readonly PairMember[], figure: PeerFigure) => {
  const { low, high } = pairDoubts(members, white)[0].figures[figure]
  return high - low
}

test('what one instrument and one reference have wrong falls out of a difference; what two have does not @long', () => {
  const one = [member(1), member(2)]
  const two = [member(1), member(2, { instrument: 'two', reference: 'other standard' })]
  for (const figure of peerFigures) expect(widthOf(two, figure)).toBeGreaterThan(1.8 * widthOf(one, figure))
  // Panels of two kinds are seen differently by one reference.
  expect(widthOf([member(1), member(2, { panelKind: 'oled' })], 'white')).toBeGreaterThan(1.3 * widthOf(one, 'white'))
})

test('how far a match by eye is known is part of how far whites are, in every direction alike @long', () => {
  const apart = (x: number, z: number) => [
    member(1),
    {
      ...member(
        2,
        {},
        shown(([X, Y, Z]) => [x * X, Y, z * Z]),
      ),
      byEye: 0.002,
    },
  ]
  // Far beyond what instruments leave, so that it is the match alone that tells: ±1.96 · 0.002 along the difference.
  for (const [x, z] of [
    [1.1, 1],
    [1, 1.25],
    [1.06, 0.85],
  ]) {
    const share = widthOf(apart(x, z), 'white') / (2 * 1.96 * 0.002)
    expect(share).toBeGreaterThan(0.85)
    expect(share).toBeLessThan(1.25)
  }
  expect(widthOf(apart(1.1, 1), 'luminance')).toBeCloseTo(widthOf([member(1), member(2)], 'luminance'), 0)
})

test('an old certificate of the one reference adds nothing to the difference of two that were corrected by it', () => {
  const old = { facts: { ...facts, made: { ...facts.made!, referenceAge: 6 } } }
  const aged = widthOf([member(1, old), member(2, old)], 'luminance')
  expect(aged).toBeCloseTo(widthOf([member(1), member(2)], 'luminance'), 1)
  const apart = { instrument: 'two', reference: 'other standard' }
  expect(widthOf([member(1, old), member(2, { ...old, ...apart })], 'luminance')).toBeGreaterThan(2 * aged)
})

test('intervals lie about what was read: a member that is redder by much is told so on both sides', () => {
  const redder = member(
    2,
    {},
    shown(([x, y, z]) => [1.06 * x, y, z]),
  )
  const [{ pair, figures }] = pairDoubts([member(1), redder], white)
  const [seen] = howAlike([member(1), redder], white).pairs
  expect(pair).toEqual([1, 2])
  for (const figure of ['average', 'white'] as const) {
    expect(figures[figure].low).toBeGreaterThan(0.7 * peerFigureOf[figure](seen))
    expect(figures[figure].low).toBeLessThanOrEqual(peerFigureOf[figure](seen))
    expect(figures[figure].high).toBeGreaterThanOrEqual(peerFigureOf[figure](seen))
  }
  expect(figures.luminance.low).toBeLessThan(0.2)
})

test('noise alone is not taken for a difference: two that are the same may be none apart', () => {
  const normal = normalFrom(uniformFrom(11))
  const noisy = () =>
    shown(([x, y, z]) => {
      const all = 1 + 0.002 * normal()
      return [x * (all + 0.0016 * normal()), y * all, z * (all + 0.002 * normal())]
    })
  const noise = { luminance: 0.002, x: 0.0016, z: 0.002 }
  const by = { facts: { ...facts, noise } }
  const [{ figures }] = pairDoubts([member(1, by, noisy()), member(2, by, noisy())], white)
  const [seen] = howAlike(
    [
      { id: 1, readings: noisy() },
      { id: 2, readings: noisy() },
    ],
    white,
  ).pairs
  // What was read is mostly noise.
  expect(figures.average.low).toBeLessThan(0.6 * seen.average)
})

test('the same by the same seed; members of which too little is known are left out', () => {
  const members = [member(1), member(2), member(3)]
  expect(pairDoubts(members, white)).toEqual(pairDoubts(members, white))
  expect(pairDoubts(members, white).map((d) => d.pair)).toEqual([
    [1, 2],
    [1, 3],
    [2, 3],
  ])
  const greysOnly = shown().filter(({ rgb }) => rgb[0] === rgb[1] && rgb[1] === rgb[2])
  const blackOnly = shown(() => [0, 0, 0])
  for (const other of [{ ...member(2), by: null }, member(2, {}, greysOnly), member(2, {}, blackOnly)])
    expect(pairDoubts([member(1), other], white)).toEqual([])
  const elsewhere = shown().map((p) => ({ ...p, rgb: p.rgb.map((v) => v * 0.99) as unknown as Triple }))
  expect(pairDoubts([member(1), member(2, {}, elsewhere)], white)).toEqual([])
})
