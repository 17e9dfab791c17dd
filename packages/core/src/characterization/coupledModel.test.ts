import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { add, multiplyVector, scale, type Matrix3, type Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import type { XYZ } from '../color/chromaticity'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { fitAdditiveModel, greyLevelsOf } from './additiveModel'
import { predictLab } from './characterization'
import { characterize, foretell, withoutResidual } from './characterize'
import { fitCoupledModel, type LightModel } from './coupledModel'
import { coupleInto, couplingParts, noCoupling, supplyOf } from './coupling'

const matrix: Matrix3 = [
  [62, 31, 27],
  [32, 96, 12],
  [3, 14, 141],
]
const dark: XYZ = [0.11, 0.12, 0.15]
const exponents: Triple = [2.3, 2.1, 2.45]
const pulls = Float64Array.of(0.01, 0.02, 0.004, 0.015, 0.006, 0.01, 0.012, 0.008, 0.002, 0.02, 0.01, 0.012)

/** A panel whose drives couple and whose supply sags, as this model says, with curves of its own. */
function coupledPanel(coupling: Float64Array, sag: Triple) {
  return (drive: Triple): XYZ => {
    const out = new Float64Array(3)
    coupleInto(coupling, ...drive, out)
    const light: Triple = [out[0] ** exponents[0], out[1] ** exponents[1], out[2] ** exponents[2]]
    return add(dark, scale(multiplyVector(matrix, light), supplyOf(sag, ...light)))
  }
}

/** A supply that gives way like a square root, and light that leaks from neighbour to neighbour. */
const otherwise = (drive: Triple): XYZ => {
  const light = drive.map((d, c) => d ** exponents[c]) as unknown as Triple
  const mean = (light[0] + light[1] + light[2]) / 3
  const leaked = light.map((l) => l + 0.02 * (mean - l)) as unknown as Triple
  return add(dark, scale(multiplyVector(matrix, leaked), 1 - 0.2 * (Math.sqrt(mean) - 1)))
}

const uniform = uniformFrom(77)
const colors = Array.from({ length: 300 }, (): Triple => [uniform(), uniform(), uniform()])
const average = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length

const fitTo = (readings: readonly PatchReading[]) =>
  fitCoupledModel({ start: fitAdditiveModel(readings), readings, levels: greyLevelsOf(readings) })

function missedBy(model: LightModel, panel: (d: Triple) => XYZ, of: readonly Triple[]): number {
  const c = { ...withoutResidual(model), residual: new Float64Array(3 * 33 ** 3), kernel: '', readings: 0 }
  return average(of.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), model.white), predictLab(c, rgb))))
}

describe('drives that couple', () => {
  test('leave equal drives as they are, and white’s supply', () => {
    const out = new Float64Array(3)
    for (const v of [0, 0.3, 0.77, 1]) {
      coupleInto(pulls, v, v, v, out)
      out.forEach((o) => expect(o).toBeCloseTo(v, 15))
    }
    expect(supplyOf([0.1, 0.2, 0.3], 1, 1, 1)).toBe(1)
    expect(supplyOf([0.1, 0.2, 0.3], 0, 0, 0)).toBeCloseTo(1.6)
  })

  test('pull each by its own share: only the numbers of a channel move it, towards its neighbours', () => {
    for (let k = 0; k < couplingParts; k++) {
      const one = Float64Array.from(noCoupling, (_, i) => (i === k ? 0.1 : 0))
      const out = new Float64Array(3)
      coupleInto(one, 0.2, 0.5, 0.9, out)
      const moved = [0.2, 0.5, 0.9].map((v, i) => out[i] - v)
      expect(moved.filter((v) => Math.abs(v) > 1e-12)).toHaveLength(1)
      expect(Math.abs(moved[Math.floor(k / 4)])).toBeGreaterThan(1e-3)
    }
  })
})

describe('a panel whose drives couple and whose supply sags', () => {
  const panel = coupledPanel(pulls, [0.09, 0.06, 0.11])
  const readings = readingsOf(panel, 90)

  test('is found as it is, from noise-free readings: coupling within 0.004 of a drive, supply within 0.01', () => {
    const model = fitTo(readings)
    const [found, made] = [new Float64Array(3), new Float64Array(3)]
    for (const [r, g, b] of colors) {
      coupleInto(model.coupling!, r, g, b, found)
      coupleInto(pulls, r, g, b, made)
      found.forEach((v, k) => expect(Math.abs(v - made[k])).toBeLessThan(0.004))
    }
    model.sag!.forEach((v, k) => expect(Math.abs(v - [0.09, 0.06, 0.11][k])).toBeLessThan(0.01))
    const missed = missedBy(model, panel, colors)
    told('drives that couple and a supply that sags, 90 readings, 300 colours, average ΔE2000', missed)
    expect(missed).toBeLessThan(0.05)
    expect(missed).toBeLessThan(0.05 * missedBy(fitAdditiveModel(readings), panel, colors))
  })

  test('is found under noise of 0.1 % as well as the noise lets it', () => {
    const noisy = readings.map((p) => ({
      ...p,
      xyz: p.xyz.map((v) => v * (1 + 0.002 * (uniform() + uniform() - 1))) as unknown as XYZ,
    }))
    expect(missedBy(fitTo(noisy), panel, colors)).toBeLessThan(0.1)
  })
})

test('on its readings it is never worse than what it starts from', () => {
  for (const panel of [otherwise, testPanel(), testPanel({ coupling: 0.06 }), coupledPanel(pulls, [0, 0, 0])]) {
    const readings = readingsOf(panel, 70)
    const of = readings.map((p) => p.rgb)
    expect(missedBy(fitTo(readings), panel, of)).toBeLessThan(missedBy(fitAdditiveModel(readings), panel, of) + 0.02)
  }
})

test.each([
  ['a supply that gives way otherwise', otherwise],
  ['neighbours that pull by their squares', testPanel({ coupling: 0.05 })],
])('%s: it only comes near, and the residual takes the rest', (_, panel) => {
  const readings = readingsOf(panel, 130)
  const c = characterize(readings)
  const errors = colors.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), c.white), predictLab(c, rgb)))
  expect(average(errors)).toBeLessThan(0.06)
  expect(Math.max(...errors)).toBeLessThan(0.6)
})

test('of thousands of greys the curves are bent at some: it ends, and is as near @long', () => {
  const panel = testPanel({ coupling: 0.04 })
  const greys = Array.from({ length: 1500 }, (_, i): Triple => [(i + 1) / 1502, (i + 1) / 1502, (i + 1) / 1502])
  const many = [...readingsOf(panel, 90), ...greys.map((rgb) => ({ name: '', rgb, xyz: panel(rgb) }))]
  expect(greyLevelsOf(many).length).toBeGreaterThan(1500)
  const start = fitAdditiveModel(many)
  const model = fitCoupledModel({ start, readings: many, levels: greyLevelsOf(many) })
  expect(missedBy(model, panel, colors)).toBeLessThan(missedBy(start, panel, colors))
})

test('what colours are foretold to be, without the residual’s grid, is what the characterization says', () => {
  const readings = readingsOf(testPanel({ coupling: 0.05 }), 90)
  const c = characterize(readings)
  foretell(readings, colors).forEach((lab, i) => expect(deltaE2000(lab, predictLab(c, colors[i]))).toBeLessThan(0.05))
})
