import { uniformFrom } from '@bichroma/core/basics'
import { panelKindNames } from '@bichroma/core/register'
import { spectrumLength, wavelengthAt, xyzOfSpectrum, type Spectrum } from '../light/spectrum'
import { spectrumOfBands, typicalEmission } from '../light/bands'
import { shippedInstrument } from '../scenario/shipped'
import { responseOf, throughGrating } from './optics'

const plain = { shiftNm: 0, widthNm: 1, stray: 0 }
const total = (spectrum: Spectrum) => spectrum.reduce((a, b) => a + b, 0)
/** Mean wavelength and standard deviation of a line, nm. */
function momentsOf(spectrum: Spectrum) {
  const sum = total(spectrum)
  const mean = spectrum.reduce((s, v, i) => s + v * wavelengthAt(i), 0) / sum
  return { mean, deviation: Math.sqrt(spectrum.reduce((s, v, i) => s + v * (wavelengthAt(i) - mean) ** 2, 0) / sum) }
}
const line = spectrumOfBands([{ center: 560, width: 6, height: 1 }])

describe('a grating', () => {
  test('that is ideal changes nothing', () => {
    const seen = throughGrating(line, plain)
    line.forEach((v, i) => expect(Math.abs(seen[i] - v)).toBeLessThan(1e-12))
  })

  test.each([-0.7, 0.1, 2])('moves a line by its shift of %d nm, and loses none of it', (shiftNm) => {
    const seen = throughGrating(line, { ...plain, shiftNm })
    expect(momentsOf(seen).mean - momentsOf(line).mean).toBeCloseTo(shiftNm, 6)
    expect(total(seen) / total(line)).toBeCloseTo(1, 9)
  })

  test.each([4, 6, 10])('blurs by a triangle of %d nm: variances add (w²/6)', (widthNm) => {
    const { deviation } = momentsOf(throughGrating(line, { ...plain, widthNm }))
    const wanted = Math.sqrt(momentsOf(line).deviation ** 2 + widthNm ** 2 / 6)
    expect(Math.abs(deviation - wanted)).toBeLessThan(0.02)
  })

  test('scatters a share of all light evenly, and no more than there is', () => {
    const stray = 0.01
    const seen = throughGrating(line, { ...plain, stray })
    // Far from the line there is nothing else.
    expect(seen[0]).toBeCloseTo((stray * total(line)) / spectrumLength, 12)
    expect(total(seen) / total(line)).toBeCloseTo(1, 9)
  })

  test('sees two lights together as it sees each', () => {
    const other = spectrumOfBands(typicalEmission.oled.blue)
    const traits = { shiftNm: 0.3, widthNm: 5, stray: 2e-4 }
    const both = throughGrating(
      line.map((v, i) => v + 2 * other[i]),
      traits,
    )
    const [one, two] = [throughGrating(line, traits), throughGrating(other, traits)]
    both.forEach((v, i) => expect(v).toBeCloseTo(one[i] + 2 * two[i], 12))
  })
})

describe('instruments that ship', () => {
  const equal = new Float64Array(spectrumLength).fill(1)

  test('a colorimeter is adjusted to light of equal energy, and off by its filters on everything else', () => {
    const response = responseOf(shippedInstrument('tessel-c3'))
    response(equal).forEach((v, k) => expect(v / xyzOfSpectrum(equal)[k]).toBeCloseTo(1, 9))
    const off = panelKindNames.map((kind) => {
      const red = spectrumOfBands(typicalEmission[kind].red)
      return Math.abs(response(red)[1] / xyzOfSpectrum(red)[1] - 1)
    })
    expect(Math.max(...off)).toBeGreaterThan(0.01)
  })

  test('a spectroradiometer is nearer to the truth than a colorimeter, on every light of every kind of panel', () => {
    const [puck, spectro] = [shippedInstrument('tessel-c3'), shippedInstrument('heron-s1')].map(responseOf)
    const errorOf = (read: typeof puck, light: Spectrum) => {
      const truth = xyzOfSpectrum(light)
      const sum = truth[0] + truth[1] + truth[2]
      return Math.max(...read(light).map((v, k) => Math.abs(v - truth[k]) / sum))
    }
    for (const kind of panelKindNames)
      for (const channel of ['red', 'green', 'blue'] as const) {
        const light = spectrumOfBands(typicalEmission[kind][channel])
        expect(errorOf(spectro, light)).toBeLessThan(errorOf(puck, light))
        expect(errorOf(spectro, light)).toBeLessThan(0.005)
      }
  })

  test('each reads twice the light as twice as much', () => {
    const random = uniformFrom(4)
    const light = Float64Array.from({ length: spectrumLength }, () => random())
    for (const name of ['tessel-c3', 'heron-s1'] as const) {
      const read = responseOf(shippedInstrument(name))
      const [once, twice] = [read(light), read(light.map((v) => 2 * v))]
      twice.forEach((v, k) => expect(v / once[k]).toBeCloseTo(2, 9))
    }
  })
})
