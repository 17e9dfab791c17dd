import { convertXyzToUv, deltaUv, type Triple, type XYZ } from '@bichroma/core/color'
import { panelKindNames, type PanelKind } from '@bichroma/core/register'
import { BenchClock } from '../benchClock'
import { BenchDisplay, type Surroundings } from '../display/benchDisplay'
import { typicalEmission, spectrumOfBands } from '../light/bands'
import { xyzOfLight } from '../light/light'
import { xyzOfSpectrum } from '../light/spectrum'
import { shippedInstrument, shippedPanel, shippedPanels } from '../scenario/shipped'
import { BenchInstrument } from './benchInstrument'
import { readInstrument, type InstrumentModel } from './instrumentSchema'
import { filterCurves, throughGrating } from './optics'

const puck = shippedInstrument('tessel-c3')
const spectro = shippedInstrument('heron-s1')

/** An instrument on a display, both in a clock that does not wait. */
function onDisplay(
  model: InstrumentModel,
  panelName = 'quillon-q27',
  room = { illuminanceLux: 0, kelvin: 5000 },
  seed = 1,
) {
  const clock = new BenchClock(Infinity, 1e12)
  const surroundings: Surroundings = {
    signalRange: shippedPanel(panelName).signal.range,
    signal: (rgb) => rgb,
    lightFactors: () => [1, 1, 1],
    room: () => room,
  }
  const traits = { serial: 'D', panel: shippedPanel(panelName), hours: 100, hoursPerDay: 8, warmMinutes: 200 }
  const display = new BenchDisplay(traits, clock, undefined, surroundings)
  const instrument = new BenchInstrument(
    { serial: 'T', model, certifiedAt: clock.now() },
    clock,
    () => display,
    () => room,
    seed,
  )
  return { clock, display, instrument }
}

/** Without noise, dark signal and wear: its optics alone. */
const calm = (model: InstrumentModel): InstrumentModel => ({
  ...model,
  noise: { share: 0, shot: 0, floor: 0 },
  zero: { ...model.zero, offset: 0, perDegree: 0 },
})

async function spread(model: InstrumentModel, level: number, count = 300) {
  const { display, instrument } = onDisplay(model)
  await instrument.zero()
  await display.showPatch([level, level, level], undefined, 2000)
  const values: number[] = []
  let integrationMs = 0
  for (let i = 0; i < count; i++) {
    const reading = await instrument.read('D')
    values.push(reading.xyz[1])
    integrationMs = reading.integrationMs
  }
  const mean = values.reduce((a, b) => a + b, 0) / count
  const sigma = Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / count)
  return { mean, sigma, relative: sigma / mean, integrationMs }
}

describe('noise and time', () => {
  test('noise falls with the root of integration time', async () => {
    const timed = (ms: number) => ({ ...puck, timing: { fastestMs: ms, slowestMs: ms, slowBelow: 1 } })
    const [short, long] = [await spread(timed(250), 0.6, 600), await spread(timed(4000), 0.6, 600)]
    expect(short.sigma / long.sigma).toBeGreaterThan(4 * 0.85)
    expect(short.sigma / long.sigma).toBeLessThan(4 * 1.15)
  })

  test.each([puck, spectro])(
    '$model: the darker, the longer it counts and the larger its noise is to the light',
    async (model) => {
      const [bright, dim, dark] = [await spread(model, 1), await spread(model, 0.2), await spread(model, 0.06)]
      expect(bright.relative).toBeLessThan(0.002)
      expect(dim.relative).toBeGreaterThan(bright.relative)
      expect(dark.relative).toBeGreaterThan(dim.relative)
      expect(dark.integrationMs).toBeGreaterThan(dim.integrationMs)
      expect(dark.integrationMs).toBeLessThanOrEqual(model.timing.slowestMs)
    },
  )

  test('a spectroradiometer is slower, and noisier in the dark', async () => {
    const [a, b] = [await spread(puck, 0.06), await spread(spectro, 0.06)]
    expect(b.integrationMs).toBeGreaterThan(a.integrationMs)
    expect(b.sigma).toBeGreaterThan(a.sigma)
  })

  test('the same seed gives the same readings, another seed others', async () => {
    const first = async (seed: number) => {
      const { instrument } = onDisplay(puck, 'quillon-q27', undefined, seed)
      return (await instrument.read('D')).xyz
    }
    expect(await first(1)).toEqual(await first(1))
    expect(await first(1)).not.toEqual(await first(2))
  })
})

describe('optics', () => {
  const whiteOf = (name: string) => {
    const { display, instrument } = onDisplay(calm(puck), name)
    return { display, instrument }
  }
  const off = async (name: string, correction: PanelKind | undefined, rgb: Triple = [1, 1, 1]) => {
    const { display, instrument } = whiteOf(name)
    await display.setControls({ pipeline: 'bypass' })
    await display.showPatch(rgb, undefined, 3000)
    const { xyz } = await instrument.read('D', correction)
    return deltaUv(convertXyzToUv(xyz), convertXyzToUv(display.truth(rgb)))
  }

  test.each(Object.keys(shippedPanels))('%s: the right correction leaves white within 0.0015 Δu′v′', async (name) => {
    expect(await off(name, shippedPanel(name).light.source)).toBeLessThan(0.0015)
  })

  test('a wrong correction, or none, leaves white beyond 0.003 Δu′v′', async () => {
    for (const [name, wrong] of [
      ['quillon-q27', 'white-led'],
      ['quillon-q27', 'cold-cathode'],
      ['tarn-pen-22', 'rgb-led'],
      ['marram-m32', 'white-led'],
      ['quillon-q24', 'wide-gamut-led'],
      ['vesper-o25', 'projector-lamp'],
      ['halden-p4', 'oled'],
      ['quillon-q24', undefined],
      ['marram-m32', undefined],
    ] as const)
      expect([name, wrong, (await off(name, wrong)) > 0.003]).toEqual([name, wrong, true])
  })

  test('filters are the observer’s functions where nothing is wrong with them', () => {
    const none = filterCurves({ shiftNm: [0, 0, 0], slope: [0, 0, 0], leak: [0, 0, 0] })
    const spectrum = spectrumOfBands(typicalEmission['white-led'].green)
    const right = xyzOfSpectrum(spectrum)
    none.forEach((curve, k) => {
      const sum = spectrum.reduce((total, v, i) => total + v * curve[i], 0) * 683.002
      expect(sum).toBeCloseTo(right[k], 9)
    })
  })

  test.each(panelKindNames)('a grating’s own errors stay small on %s, and none at all where it has none', (kind) => {
    const spectrum = spectrumOfBands(typicalEmission[kind].green)
    const seen = (grating: { shiftNm: number; widthNm: number; stray: number }) =>
      deltaUv(convertXyzToUv(xyzOfSpectrum(throughGrating(spectrum, grating))), convertXyzToUv(xyzOfSpectrum(spectrum)))
    expect(seen({ shiftNm: 0, widthNm: 1, stray: 0 })).toBeLessThan(1e-4)
    expect(seen(spectro.grating!)).toBeLessThan(0.003)
    expect(seen({ shiftNm: 2, widthNm: 1, stray: 0 })).toBeGreaterThan(seen({ shiftNm: 0.5, widthNm: 1, stray: 0 }))
    expect(seen({ shiftNm: 0, widthNm: 1, stray: 0.01 })).toBeGreaterThan(0.0005)
  })

  test('a correction that it does not hold is refused', async () => {
    const { instrument } = onDisplay(spectro)
    await expect(instrument.read('D', 'oled')).rejects.toThrow('holds no correction')
    expect(instrument.identity.corrections).toEqual([])
  })
})

describe('what wears off', () => {
  test('zeroing takes the dark signal away; hours and degrees bring it back', async () => {
    const model = { ...puck, noise: { share: 0, shot: 0, floor: 0 } }
    const { clock, display, instrument } = onDisplay(model, 'vesper-o25')
    await display.showPatch([0, 0, 0], undefined, 3000)
    const dark = async () => (await instrument.read('D')).xyz[1]
    const never = await dark()
    await instrument.zero()
    const fresh = await dark()
    await clock.pass(20 * 60_000)
    const soon = await dark()
    await clock.pass(10 * 3_600_000)
    const late = await dark()
    expect(never).toBeGreaterThan(0.002)
    expect(fresh).toBeLessThan(1e-4)
    expect(soon).toBeGreaterThan(fresh)
    expect(late).toBeGreaterThan(soon)
  })

  test('years since the certificate move what it reads, as its model drifts', async () => {
    const { clock, display, instrument } = onDisplay(calm(puck))
    await display.showPatch([1, 1, 1], undefined, 3000)
    const { xyz: certified } = await instrument.read('D')
    // The panel ages as well: what counts is the reading against the light there is.
    const ratio = (xyz: readonly number[], of: XYZ) => xyz[2] / xyz[1] / (of[2] / of[1])
    const before = ratio(certified, display.truth([1, 1, 1]))
    clock.jumpTo(clock.now() + 4 * 365.25 * 86_400_000)
    await display.showPatch([1, 1, 1], undefined, 3000)
    const after = ratio((await instrument.read('D')).xyz, display.truth([1, 1, 1]))
    expect(after / before).toBeCloseTo((1 - 4 * 0.009) / (1 - 4 * 0.003), 2)
  })
})

describe('how it sits', () => {
  const seen = async (change: Partial<BenchInstrument['seat']>, lux = 300, panelName = 'quillon-q27') => {
    const { display, instrument } = onDisplay(calm(puck), panelName, { illuminanceLux: lux, kelvin: 4000 })
    instrument.seat = { ...instrument.seat, ...change }
    await display.showPatch([0.5, 0.5, 0.5], undefined, 3000)
    return instrument.read('D')
  }

  test('tilted, it loses light of the display and lets in the room’s; flat, the room does not matter', async () => {
    const flat = (await seen({})).xyz
    expect((await seen({}, 0)).xyz).toEqual(flat)
    expect((await seen({ tilt: 0.3 }, 0)).xyz[1]).toBeLessThan(flat[1])
    const leaking = (await seen({ tilt: 0.3 })).xyz
    expect(leaking[1]).toBeGreaterThan((await seen({ tilt: 0.3 }, 0)).xyz[1])
    expect(leaking[0] / leaking[2]).toBeGreaterThan(flat[0] / flat[2])
  })

  test('off-centre it reads that place; a knock moves it after so many readings, and it cannot tell', async () => {
    expect((await seen({ place: { x: 0.9, y: 0.9 } }, 0)).xyz[1]).toBeLessThan((await seen({}, 0)).xyz[1])
    const { display, instrument } = onDisplay(calm(puck))
    await display.showPatch([1, 1, 1], undefined, 3000)
    instrument.knock(3)
    const readings = []
    for (let i = 0; i < 5; i++) readings.push(await instrument.read('D'))
    const y = readings.map((r) => r.xyz[1])
    expect(Math.abs(y[2] / y[0] - 1)).toBeLessThan(1e-4)
    expect(y[3] / y[2]).toBeLessThan(0.985)
    expect(readings.flatMap((r) => r.flags)).toEqual([])
  })

  test('a projector is read from a stand: the room’s light is in every reading, and in its truth', async () => {
    const [dark, lit] = [await seen({}, 0, 'halden-p4'), await seen({}, 50, 'halden-p4')]
    expect(lit.xyz[1] - dark.xyz[1]).toBeCloseTo((0.9 * 50) / Math.PI, 0)
  })

  test('a closed cover, a diffuser and too much light are told', async () => {
    const covered = await seen({ optics: 'cover' })
    expect(covered.flags).toContain('cover')
    expect(covered.xyz[1]).toBeLessThan(0.01)
    expect((await seen({ optics: 'diffuser' })).flags).toContain('cover')
    const { display, instrument } = onDisplay({ ...calm(puck), ceiling: 50 })
    await display.showPatch([1, 1, 1], undefined, 3000)
    expect((await instrument.read('D')).flags).toEqual(['saturated'])
  })

  test('light that changes while it counts is told as unstable', async () => {
    const { display, instrument } = onDisplay(calm(puck))
    await display.showPatch([0, 0, 0], undefined, 3000)
    await display.showPatch([1, 1, 1])
    expect((await instrument.read('D')).flags).toEqual(['unstable'])
    expect((await instrument.read('D')).flags).toEqual([])
  })

  test('the room is read through the diffuser only: illuminance and colour temperature', async () => {
    const { instrument } = onDisplay(calm(spectro), 'quillon-q27', { illuminanceLux: 240, kelvin: 5600 })
    await expect(instrument.readAmbient()).rejects.toThrow('Turn the diffuser in front')
    instrument.seat = { ...instrument.seat, optics: 'diffuser' }
    const { illuminanceLux, xyz } = await instrument.readAmbient()
    expect(illuminanceLux / 240).toBeCloseTo(1, 1)
    expect(xyz[0] / (xyz[0] + xyz[1] + xyz[2])).toBeCloseTo(0.33, 2)
  })

  test('pulled out, it does not answer', async () => {
    const { instrument } = onDisplay(puck)
    instrument.pluggedIn = false
    await expect(instrument.read('D')).rejects.toThrow('Plug it into the workstation again')
    await expect(instrument.zero()).rejects.toThrow('does not answer')
  })
})

test('an instrument file says what is missing', () => {
  const { filters: _filters, ...rest } = puck
  expect(() => readInstrument(rest)).toThrow('“filters” is missing')
  expect(() => readInstrument({ ...spectro, grating: null })).toThrow('“grating” is missing')
  expect(() => readInstrument({ ...puck, ceiling: -1 })).toThrow('“ceiling” must be 10 or more')
})

test('what it sees of light is linear in it', () => {
  const { display, instrument } = onDisplay(puck)
  const light = display.lightBetween(0, 0)
  const double = { ...light, weights: Array.from(light.weights, (w) => 2 * w) }
  instrument.sees(light).forEach((v, k) => expect(instrument.sees(double)[k]).toBeCloseTo(2 * v, 9))
  expect(xyzOfLight(double)[1]).toBeCloseTo(2 * xyzOfLight(light)[1], 9)
})
