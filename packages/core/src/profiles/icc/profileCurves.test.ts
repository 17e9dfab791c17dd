import { characterize } from '../../characterization/characterize'
import { fitMatrixModel } from '../../characterization/matrixModel'
import { readingsOf, testPanel } from '../../test/panel'
import { describeTag, whiteOfProfile } from './describeTag'
import { writeMatrixProfile } from './matrixProfile'
import { profileCurves } from './profileCurves'
import { readIccProfile } from './readIcc'
import { writeTableProfile } from './tableProfile'

const panel = testPanel()
const readings = readingsOf(panel, 90)
const model = fitMatrixModel(readings)
const facts = { description: 'Test', copyright: 'None', createdAt: Date.UTC(2026, 0, 1), version: 4 as const }
const matrix = readIccProfile(writeMatrixProfile(model, facts))
const video = Float64Array.from({ length: 256 }, (_, i) => (i / 255) ** 0.9)

test('the curves of a matrix profile are those that it was made with', () => {
  const [tones, ...rest] = profileCurves(matrix)
  expect(rest).toEqual([])
  tones.levels.forEach((level, i) => {
    for (const c of [0, 1, 2] as const) expect(tones.channels[c][i]).toBeCloseTo(model.curves[c](level), 3)
  })
  expect(tones.says).toMatch(/^the three channels (run together|lie up to \d+\.\d % apart, at signal \d+ %)$/)
})

test('a profile of tables tells nearly the same through its tables @long', () => {
  const [tones] = profileCurves(readIccProfile(writeTableProfile(characterize(readings), model, facts)))
  expect(Math.abs(tones.channels[1][0])).toBeLessThan(0.002)
  expect(tones.channels[1][64]).toBeCloseTo(1, 2)
  tones.levels.forEach((level, i) => expect(Math.abs(tones.channels[1][i] - model.curves[1](level))).toBeLessThan(0.03))
})

test('curves of the video card are shown as a set of their own', () => {
  const carried = readIccProfile(writeMatrixProfile(model, { ...facts, videoCurves: [video, video, video] }))
  const sets = profileCurves(carried)
  expect(sets.map((s) => s.name)).toEqual(['Tones', 'Video card'])
  expect(sets[1].channels[0][32]).toBeCloseTo(0.5 ** 0.9, 2)
  expect(sets[1].says).toBe('the three channels run together')
})

test('every tag is told in words, and the display’s own white where the profile tells it', () => {
  for (const { signature } of matrix.tags) expect(describeTag(matrix.read(signature)).length).toBeGreaterThan(1)
  expect(describeTag(null)).toBe('not read')
  const white = whiteOfProfile(matrix)!
  const sum = model.white[0] + model.white[1] + model.white[2]
  expect(white.x).toBeCloseTo(model.white[0] / sum, 3)
})
