import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { resolveAim } from '../aims/aim'
import { convertXyzToChromaticity } from '../color/chromaticity'
import { foretellingError } from './modelSolver'
import { whyNoMoreRounds, type RoundSeen } from './shapeRounds'

const round = (missed: number, before: number | null, after: number | null): RoundSeen => ({
  missed,
  foretold: { before, after },
})
const room = { planned: 2, most: 4, repeatability: null }

test.each([
  ['none read yet', [], null],
  ['near, and left-out colours foretold', [round(0.1, 0.11, 0.1)], 'near enough'],
  ['near, but left-out colours are not foretold', [round(0.1, 0.4, 0.3)], null],
  ['foretold, but not near', [round(0.4, 0.1, 0.1)], null],
  ['as many as planned, and the last brought nothing', [round(0.5, 0.4, 0.4), round(0.5, 0.4, 0.39)], 'no nearer'],
  ['as many as planned, and the fit still gets nearer', [round(0.5, 0.6, 0.5), round(0.5, 0.5, 0.4)], null],
  ['as many as planned, and the rounds still miss by less', [round(0.5, 0.4, 0.4), round(0.4, 0.4, 0.4)], null],
  [
    'as many as there is room for, and still nearer',
    [round(0.8, 0.9, 0.8), round(0.7, 0.8, 0.7), round(0.6, 0.7, 0.6), round(0.5, 0.6, 0.5)],
    'still nearer',
  ],
  ['nobody can tell what is foretold: as planned, by what they missed', [round(0.1, null, null)], null],
  ['the same, after two', [round(0.1, null, null), round(0.1, null, null)], 'no nearer'],
] as const)('%s', (_, rounds, why) => {
  expect(whyNoMoreRounds(rounds, room)).toBe(why)
})

test('a refresh has its one round, and nothing tells whether more would help', () => {
  const refresh = { planned: 1, most: 1, repeatability: null }
  expect(whyNoMoreRounds([round(0.4, null, null)], refresh)).toBe('as planned')
  expect(whyNoMoreRounds([round(0.4, 0.5, 0.3)], refresh)).toBe('still nearer')
})

test('what the instrument does not repeat is not chased', () => {
  const seen = [round(0.28, 0.1, 0.1)]
  expect(whyNoMoreRounds(seen, room)).toBeNull()
  expect(whyNoMoreRounds(seen, { ...room, repeatability: 0.3 })).toBe('near enough')
})

test('it ends whatever rounds come out like, and never beyond the room that there is', () => {
  const uniform = uniformFrom(21)
  for (let i = 0; i < 300; i++) {
    const most = Math.floor(uniform() * 6)
    const limits = { planned: Math.min(most, Math.floor(uniform() * 3)), most, repeatability: uniform() }
    const seen: RoundSeen[] = []
    while (whyNoMoreRounds(seen, limits) === null) {
      expect(seen.length).toBeLessThan(most)
      seen.push(round(uniform(), uniform(), uniform()))
    }
    expect(whyNoMoreRounds(seen, limits)).not.toBeNull()
  }
})

describe('how far left-out colours are from what is foretold', () => {
  const panel = testPanel({ coupling: 0.05 })
  const corner = (xyz: ReturnType<typeof panel>) => convertXyzToChromaticity(xyz)
  const aim = resolveAim(
    {
      white: { kind: 'standard', name: 'D65' },
      luminance: 90,
      toneResponse: { kind: 'power', exponent: 2.2 },
      primaries: { kind: 'panel' },
    },
    {
      white: corner(panel([1, 1, 1])),
      black: panel([0, 0, 0]),
      primaries: { red: corner(panel([1, 0, 0])), green: corner(panel([0, 1, 0])), blue: corner(panel([0, 0, 1])) },
    },
  )
  const signal = { bits: 10, range: 'full' as const }

  test('more readings of a panel with crosstalk bring it down @long', () => {
    const [few, many] = [60, 160].map((count) => foretellingError({ aim, readings: readingsOf(panel, count), signal })!)
    expect(many).toBeLessThan(0.6 * few)
  })

  test('too few readings tell nothing, nor do those of an earlier run', () => {
    const readings = readingsOf(panel, 60)
    expect(foretellingError({ aim, readings: readings.slice(0, 30), signal })).toBeNull()
    expect(foretellingError({ aim, readings, signal, before: readings })).toBeNull()
  })
})
