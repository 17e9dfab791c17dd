import { shapeFault } from './shapeGate'

test('what misses the aim like the raw panel does, or is no number, is not to be written', () => {
  expect(shapeFault([12, 14, 9], 10)).toBe('no better')
  expect(shapeFault([0.4, NaN, 0.3], 10)).toBe('not finite')
  expect(shapeFault([0.4, Infinity], 10)).toBe('not finite')
  expect(shapeFault([5, 6, 7], null)).toBe('no better')
})

test('a round that brought the greys to the aim passes, and one that brought a panel far from it most of the way', () => {
  expect(shapeFault([0.3, 0.5, 1.2], 8)).toBeNull()
  expect(shapeFault([2.9, 3], 2)).toBeNull()
  expect(shapeFault([4, 5, 3.5], 20)).toBeNull()
  expect(shapeFault([], null)).toBeNull()
})
