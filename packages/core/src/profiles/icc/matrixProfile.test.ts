import { createHash } from 'node:crypto'
import { bradfordMatrix } from '../../color/adaptation'
import { deltaE2000 } from '../../color/deltaE2000'
import { pcsWhite } from '../../color/encodings'
import { convertXyzToLab } from '../../color/lab'
import { multiplyVector, scale, type Triple } from '../../color/matrix3'
import type { XYZ } from '../../color/chromaticity'
import { provePatches } from '../../runs/patches'
import { throughLittleCms } from '../../test/throughLittleCms'
import { testPanel } from '../../test/panel'
import { uniformFrom } from '../../basics/random'
import { writeMatrixProfile } from './matrixProfile'
import { fitMatrixModel } from '../../characterization/matrixModel'
import { profileDescription, profileFileName, profileNameProblem } from '../profileName'

const emit = testPanel({ exponents: [2.2, 2.18, 2.24], coupling: 0.012 })
const readings = provePatches.map(({ name, rgb }) => ({ name, rgb, xyz: emit(rgb) }))
const model = fitMatrixModel(readings)
const facts = {
  description: 'Sedge 2, slot 1, Atlas web, 120 cd',
  copyright: 'None.',
  createdAt: Date.UTC(2026, 10, 24, 9, 30, 5),
}
const bytes = writeMatrixProfile(model, facts)
const view = new DataView(bytes.buffer)
const ascii = (at: number, length: number) => String.fromCharCode(...bytes.slice(at, at + length))

describe('the file', () => {
  test('has the header of an ICC.1 version 4 display profile', () => {
    expect(view.getUint32(0)).toBe(bytes.length)
    expect(view.getUint32(8)).toBe(0x04400000)
    expect([ascii(12, 4), ascii(16, 4), ascii(20, 4), ascii(36, 4)]).toEqual(['mntr', 'RGB ', 'XYZ ', 'acsp'])
    expect([24, 26, 28, 30, 32, 34].map((at) => view.getUint16(at))).toEqual([2026, 11, 24, 9, 30, 5])
    expect([68, 72, 76].map((at) => view.getInt32(at) / 65536)).toEqual(
      [0.9642, 1, 0.8249].map((v) => Math.round(v * 65536) / 65536),
    )
  })

  test('has every tag that a version 4 matrix display profile needs, each inside the file, on four bytes', () => {
    const tags = Array.from({ length: view.getUint32(128) }, (_, i) => 132 + i * 12)
    expect(tags.map((at) => ascii(at, 4)).sort()).toEqual([
      'bTRC',
      'bXYZ',
      'chad',
      'cprt',
      'desc',
      'gTRC',
      'gXYZ',
      'lumi',
      'rTRC',
      'rXYZ',
      'wtpt',
    ])
    let end = 132 + tags.length * 12
    for (const at of tags) {
      expect(view.getUint32(at + 4)).toBe(end)
      end += Math.ceil(view.getUint32(at + 8) / 4) * 4
    }
    expect(end).toBe(bytes.length)
  })

  test('carries the MD5 of itself with flags, intent and ID at zero', () => {
    const blank = Uint8Array.from(bytes)
    blank.fill(0, 44, 48).fill(0, 64, 68).fill(0, 84, 100)
    expect(Buffer.from(bytes.slice(84, 100)).toString('hex')).toBe(createHash('md5').update(blank).digest('hex'))
  })

  test('is the same bytes for the same facts', () => {
    expect(writeMatrixProfile(model, facts)).toEqual(bytes)
  })
})

test('Little CMS reads it and predicts the panel that was measured: 50 colours, average below ΔE2000 0.3', () => {
  const uniform = uniformFrom(31)
  const device = Array.from({ length: 50 }, (): Triple => [uniform(), uniform(), uniform()])
  const predicted = throughLittleCms(bytes, { rgb: device }).xyz
  const white = model.white
  const adapt = bradfordMatrix(scale(white, 1 / white[1]) as XYZ, pcsWhite)
  const labOf = (xyz: Triple) => convertXyzToLab(multiplyVector(adapt, scale(xyz, 1 / white[1])), pcsWhite)
  const errors = device.map((rgb, i) => deltaE2000(labOf(emit(rgb)), convertXyzToLab(predicted[i], pcsWhite)))
  const ours = device.map((rgb) =>
    multiplyVector(model.matrix, rgb.map((v, c) => model.curves[c](v)) as unknown as Triple),
  )
  const fromModel = Math.max(...ours.map((xyz, i) => deltaE2000(labOf(xyz), convertXyzToLab(predicted[i], pcsWhite))))
  const average = errors.reduce((a, b) => a + b, 0) / errors.length
  process.stdout.write(
    `profile by Little CMS against the panel: average ${average.toFixed(3)}, worst ${Math.max(...errors).toFixed(2)}; against our model: worst ${fromModel.toFixed(3)} ΔE2000\n`,
  )
  expect(average).toBeLessThan(0.3)
  expect(fromModel).toBeLessThan(0.05)
})

test('a panel that is a matrix is found to be one, black included', () => {
  const plain = testPanel()
  const fitted = fitMatrixModel(provePatches.map(({ name, rgb }) => ({ name, rgb, xyz: plain(rgb) })))
  for (const rgb of [
    [1, 0.2, 0.6],
    [0.4, 0.9, 0.1],
    [0, 0, 0],
  ] as Triple[]) {
    const predicted = multiplyVector(fitted.matrix, rgb.map((v, c) => fitted.curves[c](v)) as unknown as Triple)
    expect(
      deltaE2000(convertXyzToLab(predicted, fitted.white), convertXyzToLab(plain(rgb), fitted.white)),
    ).toBeLessThan(0.15)
  }
})

test('says what is missing', () => {
  expect(() => fitMatrixModel(readings.filter((r) => r.name !== 'Blue'))).toThrow('blue')
  expect(() => fitMatrixModel(readings.filter((r) => !r.name.startsWith('Grey')))).toThrow('two greys')
})

test('names carry display, slot, aim, luminance and date, and file names only what every system takes', () => {
  const subject = { display: 'Sedge 2 / Ø', slot: 1, aim: 'Atlas “web”', luminance: 120, at: Date.UTC(2026, 10, 24) }
  const template = '{display}, slot {slot}, {aim}, {luminance} cd, {date}'
  expect(profileNameProblem(template)).toBeNull()
  expect(profileDescription(template, subject)).toBe('Sedge 2 / Ø, slot 1, Atlas “web”, 120 cd, 2026-11-24')
  expect(profileFileName(template, subject)).toMatch(/^[A-Za-z0-9][A-Za-z0-9.-]*\.icc$/)
  expect(profileFileName(template, subject, true)).not.toContain('2026')
  expect(profileFileName('{display}', { ...subject, display: '/// …' })).toMatch(/^[A-Za-z0-9][A-Za-z0-9.-]*\.icc$/)
  expect(profileFileName(template, { ...subject, display: '../../etc' })).not.toContain('..')
})

test.each([
  ['{display} {when}', 'holds {when}, which stands for nothing'],
  ['{display} {slot', 'has a brace without its partner'],
  ['slot {slot}', 'must hold {display}'],
  ['', 'must hold {display}'],
  ['{display} {toString}', 'holds {toString}'],
])('a template of names that cannot be used says why: %s', (template, sentence) => {
  expect(profileNameProblem(template)).toContain(sentence)
})
