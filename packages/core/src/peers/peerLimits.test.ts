import type { PairDifference } from './differences'
import { judgeSet, usualPeerLimits, type PairDoubt } from './peerLimits'

const pair = (a: number, b: number, average: number, deltaUv = 0, luminance = 0): PairDifference => ({
  pair: [a, b],
  average,
  worst: { deltaE: average, patch: 'White' },
  white: { luminance, u: deltaUv, v: 0, deltaUv },
  greys: [],
})
const judge = (pairs: readonly PairDifference[], doubts: readonly PairDoubt[] = []) =>
  judgeSet({ pairs, odd: null }, usualPeerLimits, doubts)!
const doubtOf = (of: readonly [number, number], low: number, high: number): PairDoubt => ({
  pair: of,
  figures: { average: { low, high }, white: { low: 0, high: 0.0001 }, luminance: { low: 0, high: 0.1 } },
})

test('a set stands as its worst pair does, and a pair as its worst figure', () => {
  const { verdict, worst, pairs } = judge([pair(1, 2, 0.3), pair(1, 3, 0.9), pair(2, 3, 0.2, 0.0021)])
  expect(verdict).toBe('outside')
  expect(worst).toEqual({ pair: [2, 3], verdict: 'outside', by: 'white' })
  expect(pairs.map((p) => p.verdict)).toEqual(['within', 'near', 'outside'])
  expect(judge([pair(1, 2, 0.1, 0, -0.035)])).toMatchObject({ verdict: 'outside', worst: { by: 'luminance' } })
  expect(judgeSet({ pairs: [], odd: null }, usualPeerLimits)).toBeNull()
})

test('a figure may lie at its near edge and at its hard edge', () => {
  expect(judge([pair(1, 2, 0.8)]).verdict).toBe('within')
  expect(judge([pair(1, 2, 0.8000001)]).verdict).toBe('near')
  expect(judge([pair(1, 2, 1)]).verdict).toBe('near')
  expect(judge([pair(1, 2, 1.0000001)]).verdict).toBe('outside')
})

test('doubt that holds the hard edge leaves it open, from either side; doubt on one side does not', () => {
  expect(judge([pair(1, 2, 0.9)], [doubtOf([1, 2], 0.7, 1.2)]).verdict).toBe('untold')
  expect(judge([pair(1, 2, 1.1)], [doubtOf([1, 2], 0.9, 1.4)]).verdict).toBe('untold')
  expect(judge([pair(1, 2, 1.5)], [doubtOf([1, 2], 1.2, 1.9)]).verdict).toBe('outside')
  expect(judge([pair(1, 2, 0.5)], [doubtOf([1, 2], 0.3, 0.7)]).verdict).toBe('within')
  // The doubt of another pair is that one's.
  expect(judge([pair(1, 2, 0.9)], [doubtOf([1, 3], 0.7, 1.2)]).verdict).toBe('near')
  // One that is surely outside outweighs one that cannot be told.
  const both = judge([pair(1, 2, 0.9), pair(1, 3, 2)], [doubtOf([1, 2], 0.7, 1.2), doubtOf([1, 3], 1.6, 2.4)])
  expect(both).toMatchObject({ verdict: 'outside', worst: { pair: [1, 3] } })
})

test('where there is a reference, only what lies beside it decides', () => {
  const pairs = [pair(1, 2, 0.3), pair(1, 3, 0.9), pair(2, 3, 1.4)]
  const held = (reference: number | null) => judgeSet({ pairs, odd: null }, usualPeerLimits, [], reference)
  expect(held(null)).toMatchObject({ verdict: 'outside', worst: { pair: [2, 3] } })
  expect(held(1)).toMatchObject({ verdict: 'near', worst: { pair: [1, 3] } })
  expect(held(1)!.pairs).toHaveLength(3)
  // One that is not among those that were read has nobody beside it.
  expect(held(9)).toBeNull()
})
