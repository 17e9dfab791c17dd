import { uniformFrom } from '../basics/random'
import { convertChromaticityToXyz, convertXyzToChromaticity } from '../color/chromaticity'
import { matrixOfPrimaries } from '../color/encodings'
import { invert, multiplyVector, scale, transpose, type Triple } from '../color/matrix3'
import { additivityOf, goesNoFurther, headroomFor, nextLevelStep, turnOf, type LevelTry } from './level'

const range = { min: 0, max: 100 }

/** Plays the search against a backlight until it ends. */
function search(lightOf: (control: number) => number, goal: number, start: number) {
  const tries: LevelTry[] = [{ control: start, luminance: lightOf(start) }]
  for (;;) {
    const step = nextLevelStep(tries, goal, range)
    if (step.kind !== 'try') return { step, tries }
    expect(Number.isInteger(step.control)).toBe(true)
    expect(tries.some((t) => t.control === step.control)).toBe(false)
    tries.push({ control: step.control, luminance: lightOf(step.control) })
  }
}

test('ends at the lowest setting that is not below the goal, or within 0.8 % above it, in few readings', () => {
  const uniform = uniformFrom(21)
  let most = 0
  for (let i = 0; i < 300; i++) {
    const peak = 150 + uniform() * 400
    const exponent = 0.7 + uniform() * 1.4
    const lowest = 0.02 + uniform() * 0.1
    const lightOf = (c: number) => peak * (lowest + (1 - lowest) * (c / 100) ** exponent)
    const goal = peak * (lowest + 0.05 + uniform() * 0.9 * (1 - lowest - 0.05))
    const { step, tries } = search(lightOf, goal, Math.floor(uniform() * 101))
    expect(step.kind).toBe('settled')
    if (step.kind !== 'settled') continue
    expect(step.at.luminance).toBeGreaterThanOrEqual(goal)
    const lower = lightOf(step.at.control - 1)
    expect(lower < goal || step.at.luminance <= goal * 1.008).toBe(true)
    most = Math.max(most, tries.length)
  }
  expect(most).toBeLessThanOrEqual(10)
})

test('says how much there is when the goal cannot be reached', () => {
  const { step } = search((c) => 2 * c, 400, 50)
  expect(step).toEqual({ kind: 'unreachable', most: { control: 100, luminance: 200 } })
})

test('rests at the lowest setting when even that is too bright', () => {
  const { step } = search((c) => 90 + c, 50, 80)
  expect(step).toMatchObject({ kind: 'settled', at: { control: 0 }, asLow: true })
})

describe('headroom', () => {
  const corners = { black: [0.1, 0.1, 0.1], red: [42, 21.1, 2], green: [36, 72.1, 12], blue: [18, 7.3, 96] } as const
  const primaries = {
    red: convertXyzToChromaticity(corners.red),
    green: convertXyzToChromaticity(corners.green),
    blue: convertXyzToChromaticity(corners.blue),
  }
  const together = [0, 1, 2].map((k) => corners.red[k] + corners.green[k] + corners.blue[k] - 0.2) as unknown as Triple

  test('a display whose primaries make its white needs none for its own white', () => {
    const own = convertXyzToChromaticity(together)
    expect(additivityOf({ ...corners, white: together })).toBeCloseTo(1, 3)
    expect(headroomFor({ ...corners, white: together }, own, primaries).factor).toBeCloseTo(1, 2)
  })

  test('one with a white subpixel must be as much brighter as its colours lack', () => {
    const white = scale(together, 1 / 0.6)
    const own = convertXyzToChromaticity(white)
    expect(additivityOf({ ...corners, white })).toBeCloseTo(0.6, 2)
    expect(headroomFor({ ...corners, white }, own, primaries).factor).toBeCloseTo(1 / 0.6, 2)
  })

  test('and not a channel more or less than its colours need, whatever light the subpixel has, over 300 random displays @long', () => {
    const uniform = uniformFrom(5)
    const black = [0, 0, 0] as const
    for (let n = 0; n < 300; n++) {
      const share = 0.2 + 0.6 * uniform()
      const tint = [0.85 + 0.3 * uniform(), 1, 0.85 + 0.3 * uniform()]
      const shared = together.map((v, k) => (v * tint[k] * share) / (1 - share)) as unknown as Triple
      const raw = { ...corners, black, white: together.map((v, k) => v + shared[k]) as unknown as Triple }
      // Its own triangle a little drawn in, and another white.
      const inner = Object.fromEntries(
        Object.entries(primaries).map(([name, { x, y }]) => [name, { x: 0.95 * x + 0.016, y: 0.95 * y + 0.016 }]),
      ) as unknown as typeof primaries
      const aimWhite = { x: 0.3127, y: 0.329 }
      const { factor } = headroomFor(raw, aimWhite, inner)
      /** The largest drive that a colour of the aim wants, at so much raw white for an aim of 1 cd/m². */
      const largest = (rawWhite: number) => {
        const scaled = (xyz: readonly number[]) => xyz.map((v) => (v * rawWhite) / raw.white[1]) as unknown as Triple
        const matrix = transpose([scaled(corners.red), scaled(corners.green), scaled(corners.blue)])
        const aim = matrixOfPrimaries(inner, convertChromaticityToXyz(aimWhite))
        return Math.max(
          ...[1, 2, 3, 4, 5, 6, 7].map((bits) => {
            const light = multiplyVector(aim, [bits & 1, (bits >> 1) & 1, (bits >> 2) & 1])
            // By bisection on how much the subpixel shines, and not by the formula.
            let [low, high] = [0, 50]
            for (let i = 0; i < 60; i++) {
              const m = (low + high) / 2
              const v = multiplyVector(
                invert(matrix),
                light.map((x, k) => x - scaled(shared)[k] * m) as unknown as Triple,
              )
              if (Math.min(...v) > m) low = m
              else high = m
            }
            return Math.max(
              ...multiplyVector(invert(matrix), light.map((x, k) => x - scaled(shared)[k] * low) as unknown as Triple),
            )
          }),
        )
      }
      expect(largest(factor)).toBeLessThan(1.0001)
      expect(largest(0.99 * factor)).toBeGreaterThan(1)
    }
  })
})

describe('what hands should turn', () => {
  const band = { from: 100, to: 102.5, steady: 3 }
  test.each<[string, number[], string]>([
    ['too dark', [80], 'up'],
    ['too bright', [140], 'down'],
    ['inside for the first time', [140, 101], 'hold'],
    ['inside, but still moving', [100.1, 101, 102.4], 'hold'],
    ['inside and at rest', [140, 101, 101.1, 101], 'done'],
    ['at rest just below the aim', [99.8, 99.8, 99.8], 'up'],
    ['steps that leap over the band: still above', [110, 104], 'down'],
    ['steps that leap over the band: below', [104, 104.1, 99], 'up'],
    ['steps that leap over the band: back at the lowest above', [104, 104.1, 99, 104.1], 'hold'],
    ['steps that leap over the band: at rest there', [104, 99, 104.1, 104, 104.1], 'done'],
    ['a higher setting than that', [104, 99, 110], 'down'],
  ])('%s', (_, luminances, turn) => {
    expect(turnOf(luminances, band)).toBe(turn)
  })

  test.each([1, 3, 7])(
    'a person who follows it comes to rest at the lowest setting that is enough (steps of %d %%)',
    (percent) => {
      const uniform = uniformFrom(percent)
      const light = (setting: number) => 60 * (1 + percent / 100) ** setting
      let setting = 20
      const seen: number[] = []
      for (let n = 0; n < 200; n++) {
        seen.push(light(setting) * (1 + 0.001 * (uniform() - 0.5)))
        const turn = turnOf(seen, band)
        if (turn === 'done') break
        setting += turn === 'up' ? 1 : turn === 'down' ? -1 : 0
      }
      expect(turnOf(seen, band)).toBe('done')
      expect(light(setting)).toBeGreaterThanOrEqual(99.9)
      expect(light(setting) <= 102.6 || light(setting - 1) < 100.1).toBe(true)
    },
  )
})

describe('the end of the brightness', () => {
  const steady = 3
  const resting = [180, 200.1, 199.7, 199.6]

  test.each([
    ['said when it was asked for', 'up', 'up', false, resting, true],
    ['pressed while it was to be left as it is', 'up', 'hold', false, resting, false],
    ['pressed while it was to go the other way', 'up', 'down', false, resting, false],
    ['not said, and the display does not tell', 'down', null, false, resting, false],
    ['told by the display', 'down', null, true, resting, true],
    ['told, but the light still moves: it was turned since it was read', 'up', null, true, [120, 160, 199], false],
    ['said after a step as small as a button makes', 'up', 'up', false, [198, 198.8, 199.7], false],
    ['said, and too few were read', 'up', 'up', false, [199.7, 199.6], false],
    ['said and told, but it is where it should be', 'hold', 'hold', true, resting, false],
  ] as const)('%s', (_, turn, said, atEnd, luminances, is) => {
    expect(goesNoFurther(luminances, turn, { said, atEnd, steady })).toBe(is)
  })
})
