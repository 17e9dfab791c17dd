import { luminanceForRoom, roomLightProblem } from './roomLight'

test('a display as bright as paper on the desk: ρE/π, and never below 80 cd/m²', () => {
  // A perfect diffuser under π lx has 1 cd/m².
  expect(luminanceForRoom(1000 * Math.PI)).toBe(850)
  expect(luminanceForRoom(500)).toBe(135)
  expect(luminanceForRoom(40)).toBe(80)
})

test('light out of its range is told with what was wanted', () => {
  const range = { lux: { from: 20, to: 60 }, kelvin: { from: 4800, to: 5300 } }
  expect(roomLightProblem({ illuminanceLux: 41, kelvin: 5021 }, range)).toBeNull()
  expect(roomLightProblem({ illuminanceLux: 312.4, kelvin: 5021 }, range)).toBe('312 lx, wanted 20 to 60 lx')
  expect(roomLightProblem({ illuminanceLux: 41, kelvin: 6512 }, range)).toBe('6510 K, wanted 4800 to 5300 K')
  expect(roomLightProblem({ illuminanceLux: 41, kelvin: null }, range)).toBeNull()
  expect(roomLightProblem({ illuminanceLux: 41, kelvin: 9000 }, { lux: range.lux })).toBeNull()
})

test('what lies on an edge is as it is wanted; just past it is told so that it is seen to be', () => {
  const range = { lux: { from: 20, to: 60 }, kelvin: { from: 4800, to: 5300 } }
  const problem = (illuminanceLux: number, kelvin: number | null = 5000) =>
    roomLightProblem({ illuminanceLux, kelvin }, range)
  expect([problem(20), problem(60), problem(40, 4800), problem(40, 5300)]).toEqual([null, null, null, null])
  expect(problem(60.3)).toBe('60.3 lx, wanted 20 to 60 lx')
  expect(problem(19.6)).toBe('19.6 lx, wanted 20 to 60 lx')
  expect(problem(60.6)).toBe('61 lx, wanted 20 to 60 lx')
  expect(problem(19.4)).toBe('19 lx, wanted 20 to 60 lx')
  expect(problem(40, 4794)).toBe('4790 K, wanted 4800 to 5300 K')
  // Light that is too bright is told of first.
  expect(problem(100, 9000)).toBe('100 lx, wanted 20 to 60 lx')
})
