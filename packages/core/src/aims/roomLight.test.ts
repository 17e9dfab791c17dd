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
