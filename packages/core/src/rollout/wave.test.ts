import { uniformFrom } from '../basics/random'
import { nextMove, noItems, waveGates, waveTimeLeft, type WaveItemState } from './wave'

const rules = { gate: 'read-back' as const, stopShare: 0.2, word: false, excused: 0 }
const some = (counts: Partial<Record<WaveItemState, number>>) => ({ ...noItems(), ...counts })
const standing = (
  first: Partial<Record<WaveItemState, number>>,
  rest: Partial<Record<WaveItemState, number>>,
  unchecked = 0,
) => ({ first: some(first), rest: some(rest), unchecked })

test('the rest waits for the first few, then goes', () => {
  expect(nextMove(rules, standing({ 'under way': 2, there: 1 }, { 'held back': 9 }))).toEqual({
    do: 'wait',
    for: 'first',
  })
  expect(nextMove(rules, standing({ there: 3 }, { 'held back': 9 }))).toEqual({ do: 'let out the rest' })
  expect(nextMove(rules, standing({ there: 3 }, { 'under way': 9 }))).toEqual({ do: 'wait', for: 'rest' })
  expect(nextMove(rules, standing({ there: 3 }, { there: 8, 'left out': 1 }))).toEqual({ do: 'end' })
})

test('a word or a check run of each of the first few, if wished', () => {
  const few = standing({ there: 3 }, { 'held back': 9 }, 2)
  expect(nextMove({ ...rules, gate: 'word' }, few)).toEqual({ do: 'wait', for: 'word' })
  expect(nextMove({ ...rules, gate: 'check' }, few)).toEqual({ do: 'wait', for: 'check' })
  expect(nextMove({ ...rules, gate: 'check' }, { ...few, unchecked: 0 })).toEqual({ do: 'let out the rest' })
  for (const gate of waveGates)
    expect(nextMove({ ...rules, gate, word: true }, few)).toEqual({ do: 'let out the rest' })
})

test('a share of failures stops it, in whichever step; those that somebody let pass count no more', () => {
  const failing = standing({ there: 2, failed: 1 }, { 'held back': 9 })
  expect(nextMove(rules, failing)).toEqual({ do: 'stop', failed: 1, of: 3 })
  expect(nextMove({ ...rules, stopShare: 0.5 }, failing)).toEqual({ do: 'wait', for: 'first' })
  expect(nextMove({ ...rules, excused: 1 }, failing)).toEqual({ do: 'wait', for: 'first' })
  expect(nextMove({ ...rules, excused: 1, word: true }, failing)).toEqual({ do: 'let out the rest' })
  expect(nextMove({ ...rules, word: true }, failing)).toEqual({ do: 'stop', failed: 1, of: 3 })
})

test('exactly the share that is let pass stops nothing; an early word lets even a first one out that is held back', () => {
  expect(nextMove(rules, standing({ there: 4, failed: 1 }, { 'held back': 9 }))).toEqual({ do: 'wait', for: 'first' })
  expect(nextMove(rules, standing({ 'held back': 1, 'under way': 2 }, { 'held back': 9 }))).toEqual({
    do: 'let out the rest',
  })
})

test('time left: at the pace of what is there, counted from its start; none where nothing is left', () => {
  expect(waveTimeLeft(1_000_000, 1_060_000, 3, 6)).toBe(120_000)
  expect(waveTimeLeft(1_000_000, 1_060_000, 0, 6)).toBeNull()
  expect(waveTimeLeft(1_000_000, 1_060_000, 0, 0)).toBe(0)
})

test('whatever happens, in ten thousand standings: the rest never goes before its gate, and nothing ends that is open @long @long', () => {
  const uniform = uniformFrom(5)
  const any = (most: number) => Math.floor(uniform() * (most + 1))
  const counts = () =>
    some({
      'held back': any(2),
      'under way': any(2),
      there: any(3),
      failed: any(1),
      'left out': any(2),
      undone: any(1),
    })
  for (let n = 0; n < 10_000; n++) {
    const [first, rest] = [{ ...counts(), 'held back': 0 }, counts()]
    const unchecked = any(first.there)
    const gate = waveGates[n % 3]
    const word = uniform() < 0.3
    const stopShare = uniform()
    const move = nextMove({ gate, word, stopShare, excused: 0 }, { first, rest, unchecked })
    const failed = first.failed + rest.failed
    if (move.do === 'let out the rest') {
      expect(rest['held back']).toBeGreaterThan(0)
      if (!word) {
        expect(first['under way'] + first.failed).toBe(0)
        expect(gate).not.toBe('word')
        if (gate === 'check') expect(unchecked).toBe(0)
      }
    }
    if (move.do === 'end') expect(rest['held back'] + first['under way'] + rest['under way'] + failed).toBe(0)
    if (move.do === 'stop') expect(move.failed / move.of).toBeGreaterThan(stopShare)
    if (failed > 0 && move.do === 'let out the rest')
      expect(
        failed /
          (first.there + rest.there + first['under way'] + rest['under way'] + failed + first.undone + rest.undone),
      ).toBeLessThanOrEqual(stopShare)
  }
})

test('time left is what is left at the pace of what is there', () => {
  expect(waveTimeLeft(0, 60_000, 30, 60)).toBe(120_000)
  expect(waveTimeLeft(0, 60_000, 0, 60)).toBeNull()
  expect(waveTimeLeft(0, 60_000, 12, 0)).toBe(0)
})
