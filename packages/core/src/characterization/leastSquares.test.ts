import { leastSquares } from './leastSquares'

/** Parts that are held to nothing. */
const free = (n: number) => new Float64Array(n).fill(1e6)
const search = { probe: 1e-7, mostSteps: 200 }

/** Problems with known ends. J. J. Moré, B. S. Garbow, K. E. Hillstrom, ACM Trans. Math. Softw. 7 (1), 1981. */
const kowalik = {
  y: [0.1957, 0.1947, 0.1735, 0.16, 0.0844, 0.0627, 0.0456, 0.0342, 0.0323, 0.0235, 0.0246],
  u: [4, 2, 1, 0.5, 0.25, 0.167, 0.125, 0.1, 0.0833, 0.0714, 0.0625],
}

test('the curved valley of Rosenbrock is walked to its end', () => {
  const { parts, after } = leastSquares({
    residuals: ([x, y]) => Float64Array.of(10 * (y - x * x), 1 - x),
    ...{ start: Float64Array.of(-1.2, 1), expected: free(2), ...search },
  })
  expect(after).toBeLessThan(1e-9)
  parts.forEach((v) => expect(v).toBeCloseTo(1, 4))
})

test('the helical valley of Fletcher and Powell as well', () => {
  const { parts } = leastSquares({
    residuals: ([x, y, z]) => {
      const turn = Math.atan2(y, x) / (2 * Math.PI)
      return Float64Array.of(10 * (z - 10 * turn), 10 * (Math.hypot(x, y) - 1), z)
    },
    ...{ start: Float64Array.of(-1, 0, 0), expected: free(3), ...search },
  })
  ;[1, 0, 0].forEach((v, i) => expect(parts[i]).toBeCloseTo(v, 3))
})

test('Kowalik and Osborne’s sum of squares comes to the published 3.07505e-4', () => {
  const { after } = leastSquares({
    residuals: ([a, b, c, d]) =>
      Float64Array.from(kowalik.y, (y, i) => {
        const u = kowalik.u[i]
        return y - (a * (u * u + u * b)) / (u * u + u * c + d)
      }),
    ...{ start: Float64Array.of(0.25, 0.39, 0.415, 0.39), expected: free(4), ...search },
  })
  expect(after).toBeLessThan(3.0751e-4 * 1.01)
  expect(after).toBeGreaterThan(3.075e-4)
})

test('a part is held to its start by what it is expected to go: as the closed form has it', () => {
  // (x − 3)² ÷ 0.5² + (x − 1)² ÷ 2²
  const { parts } = leastSquares({
    residuals: ([x]) => Float64Array.of((x - 3) / 0.5),
    ...{ start: Float64Array.of(1), expected: Float64Array.of(2), ...search },
  })
  expect(parts[0]).toBeCloseTo((3 / 0.25 + 1 / 4) / (1 / 0.25 + 1 / 4), 6)
})

test('parts stay where they can be', () => {
  const { parts } = leastSquares({
    residuals: ([x, y]) => Float64Array.of(x - 5, y + 2),
    within: (p) => p.forEach((v, i) => (p[i] = Math.min(1, Math.max(0, v)))),
    ...{ start: Float64Array.of(0.5, 0.5), expected: free(2), ...search },
  })
  expect([...parts]).toEqual([1, 0])
})

test.each([
  ['not a number', () => NaN],
  ['without end', (x: number) => 1 / (x - 1)],
  ['noise', (x: number) => Math.sin(1e9 * x)],
])('what is %s never ends worse than it began, and ends', (_, of) => {
  const start = Float64Array.of(1 + 1e-9, 2)
  const residuals = (p: Float64Array) => Float64Array.from(p, of)
  const { parts, before, after } = leastSquares({ residuals, start, expected: free(2), ...search })
  expect(after > before).toBe(false)
  if (!(after < before)) expect([...parts]).toEqual([...start])
})
