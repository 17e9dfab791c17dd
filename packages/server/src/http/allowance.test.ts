import { Allowance } from './allowance'

let now = 0
const allowance = () => new Allowance<string>(3, 1000, () => now)
beforeEach(() => {
  now = 0
})

test('so much in a window, for each on its own; then a new one begins', () => {
  const a = allowance()
  expect([1, 2, 3, 4].map(() => a.take('one'))).toEqual([true, true, true, false])
  expect(a.take('two')).toBe(true)
  now = 999
  expect(a.take('one')).toBe(false)
  now = 1000
  expect(a.take('one')).toBe(true)
})

test('what does not fit is not taken', () => {
  const a = allowance()
  expect(a.take('one', 2)).toBe(true)
  expect(a.take('one', 2)).toBe(false)
  expect(a.take('one', 1)).toBe(true)
  expect(a.take('one', 4)).toBe(false)
})

test('whoever was there long ago is forgotten', () => {
  const a = allowance()
  for (let n = 0; n < 1000; n++) a.take(`many ${n}`)
  now = 5000
  a.take('one')
  expect((a as unknown as { used: Map<string, unknown> }).used.size).toBe(1)
})
