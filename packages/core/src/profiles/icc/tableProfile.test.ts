import { signalThatArrives, type SignalCodes } from '../../tables/signalCodes'
import { quantizeSignal } from '../../tables/slotTables'
import { deltaE2000 } from '../../color/deltaE2000'
import { deltaE76 } from '../../color/differences'
import type { Lab } from '../../color/lab'
import type { Triple } from '../../color/matrix3'
import { characterize } from '../../characterization/characterize'
import { adaptLab } from '../../gamut/gamutOf'
import { uniformFrom } from '../../basics/random'
import { throughLittleCms } from '../../test/throughLittleCms'
import { readingsOf, testPanel } from '../../test/panel'
import { fitMatrixModel } from '../../characterization/matrixModel'
import { profileTransforms, type ProfileTransforms } from './evaluateIcc'
import { writeMatrixProfile } from './matrixProfile'
import { readIccProfile, textOf } from './readIcc'
import { writeTableProfile } from './tableProfile'

const panel = testPanel({ coupling: 0.04 })
const readings = readingsOf(panel, 200)
const characterization = characterize(readings)
const model = fitMatrixModel(readings)
const ramp = Float64Array.from({ length: 256 }, (_, i) => (i / 255) ** 1.02)
const facts = (version: 2 | 4) => ({
  description: 'Lantern 1, “Dome” loop',
  copyright: 'Fen & Lantern',
  createdAt: Date.UTC(2026, 10, 24, 9, 30, 5),
  version,
  videoCurves: [ramp, ramp, ramp] as const,
  meta: [
    ['display', 'Lantern 1'],
    ['slot', '2'],
  ] as const,
})
/** The display's table profile, made once for the same facts: it takes a second or two. */
const made = new Map<string, Uint8Array>()
function written(of: ReturnType<typeof facts> & { sent?: SignalCodes }): Uint8Array {
  const key = JSON.stringify([of.version, of.sent])
  const bytes = made.get(key) ?? writeTableProfile(characterization, model, of)
  made.set(key, bytes)
  return bytes
}
const uniform = uniformFrom(77)
const colors = Array.from({ length: 500 }, (): Triple => [uniform(), uniform(), uniform()])
const toPcs = adaptLab(characterization.white)
const truth = colors.map((rgb) => toPcs(panel(rgb)))
const worst = (values: readonly number[]) => Math.max(...values)
const clamp = (v: number) => Math.min(1, Math.max(0, v))
const average = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
const told = (name: string, ...figures: [string, number][]) =>
  process.stdout.write(`${name}: ${figures.map(([what, v]) => `${what} ${v.toFixed(4)}`).join(', ')} ΔE2000\n`)

/** What lies outside comes to the edge with its hue: each channel within 0–1, and no far colour nearer to grey. */
function expectHueKept(own: ProfileTransforms): void {
  for (const [lab, least] of [
    [[50, 120, 0], 60],
    [[60, -127, 60], 60],
    [[30, 60, -127], 70],
    [[97, 0, 120], 60],
  ] as const) {
    const signal = own.toSignal!([...lab])
    signal.forEach((s) => expect(s === clamp(s)).toBe(true))
    const [, a, b] = own.toLab(signal)
    expect(Math.hypot(a, b)).toBeGreaterThan(least)
    const turned = Math.atan2(b, a) - Math.atan2(lab[2], lab[1])
    expect(Math.abs(Math.atan2(Math.sin(turned), Math.cos(turned)))).toBeLessThan(0.2)
  }
}

describe.each([2, 4] as const)('of a display whose blue lies beyond CIELAB’s codes, version %s @long', (version) => {
  const deep = testPanel({
    coupling: 0.04,
    primaries: { red: { x: 0.673, y: 0.326 }, green: { x: 0.224, y: 0.716 }, blue: { x: 0.1545, y: 0.028 } },
  })
  let table: Uint8Array
  let profile: ReturnType<typeof readIccProfile>
  let own: ProfileTransforms
  let pcs: ReturnType<typeof adaptLab>
  let seen: { rgb: Triple; lab: Lab }[]
  beforeAll(() => {
    const deepReadings = readingsOf(deep, 200)
    const c = characterize(deepReadings)
    table = writeTableProfile(c, fitMatrixModel(deepReadings), facts(version))
    profile = readIccProfile(table)
    own = profileTransforms(profile)
    pcs = adaptLab(c.white)
    seen = [...colors, [0, 0, 1] as Triple].map((rgb) => ({ rgb, lab: pcs(deep(rgb)) }))
  })

  test('the table connects through XYZ and predicts every colour, that blue among them', () => {
    const errors = seen.map(({ rgb, lab }) => deltaE2000(lab, own.toLab(rgb)))
    told(`table profile of a deep blue, version ${version}`, ['average', average(errors)], ['worst', worst(errors)])
    expect(profile.connectionSpace).toBe('XYZ')
    expect(seen[seen.length - 1].lab[2]).toBeLessThan(-128)
    expect(average(errors)).toBeLessThan(0.25)
    expect(worst(errors)).toBeLessThan(1)
  })

  test('what lies outside comes to the edge with its hue', () => expectHueKept(own))

  test('and back, as Little CMS evaluates it: within 0.2 @long', () => {
    // Little CMS takes CIELAB only within its codes.
    const inside = seen.filter(({ lab }) => lab[2] > -127)
    const reference = throughLittleCms(table, { rgb: inside.map((s) => s.rgb), lab: inside.map((s) => s.lab) })
    const forward = inside.map(({ rgb }, i) => deltaE2000(reference.lab[i], own.toLab(rgb)))
    const inverse = inside.map(({ lab }, i) =>
      deltaE2000(own.toLab(own.toSignal!(lab)), own.toLab(reference.signal[i])),
    )
    told(`Little CMS, deep blue, version ${version}`, ['forward', worst(forward)], ['inverse', worst(inverse)])
    expect(worst(forward)).toBeLessThan(0.2)
    expect(worst(inverse)).toBeLessThan(0.2)
    const back = inside.map(({ lab }) => deltaE2000(lab, pcs(deep(own.toSignal!(lab)))))
    told(
      `deep blue, version ${version}, and back, against the panel`,
      ['average', average(back)],
      ['worst', worst(back)],
    )
    expect(average(back)).toBeLessThan(0.1)
    expect(worst(back)).toBeLessThan(0.5)
  })
})

describe.each([2, 4] as const)('version %s', (version) => {
  let table: Uint8Array
  let own: ProfileTransforms
  let reference: ReturnType<typeof throughLittleCms>
  beforeAll(() => {
    table = written(facts(version))
    own = profileTransforms(readIccProfile(table))
    reference = throughLittleCms(table, { rgb: colors, lab: truth })
  })

  test('the table predicts 500 colours that were not read: average within 0.25, worst within 1', () => {
    const errors = colors.map((rgb, i) => deltaE2000(truth[i], own.toLab(rgb)))
    told(`table profile, version ${version}, against the panel`, ['average', average(errors)], ['worst', worst(errors)])
    expect(own.kind).toBe('table')
    expect(average(errors)).toBeLessThan(0.25)
    expect(worst(errors)).toBeLessThan(1)
  })

  test('Little CMS evaluates the table as we do, both ways: within 0.2', () => {
    const forward = colors.map((rgb, i) => deltaE2000(reference.lab[i], own.toLab(rgb)))
    // Signals are compared by the colours they show.
    const inverse = truth.map((lab, i) => deltaE2000(own.toLab(own.toSignal!(lab)), own.toLab(reference.signal[i])))
    told(`Little CMS, table, version ${version}`, ['forward', worst(forward)], ['inverse', worst(inverse)])
    expect(worst(forward)).toBeLessThan(0.2)
    expect(worst(inverse)).toBeLessThan(0.2)
  })

  test('the way back leads to the signal that shows the colour', () => {
    const back = truth.map((lab) => deltaE2000(lab, toPcs(panel(own.toSignal!(lab)))))
    told(
      `table profile, version ${version}, and back, against the panel`,
      ['average', average(back)],
      ['worst', worst(back)],
    )
    expect(average(back)).toBeLessThan(0.1)
    expect(worst(back)).toBeLessThan(0.5)
  })

  test('there and back, as Little CMS goes: within 0.1 on average and 0.5 at worst; black, greys and white stay @long', () => {
    const there = reference.lab
    const signals = throughLittleCms(table, { lab: there }).signal
    const again = throughLittleCms(table, { rgb: signals.map((s) => s.map((v) => clamp(v)) as unknown as Triple) }).lab
    const apart = there.map((lab, i) => deltaE2000(lab, again[i]))
    told(`there and back by Little CMS, version ${version}`, ['average', average(apart)], ['worst', worst(apart)])
    expect(average(apart)).toBeLessThan(0.1)
    expect(worst(apart)).toBeLessThan(0.5)
    for (const v of [0, 0.02, 0.25, 0.5, 0.9, 1]) {
      const signal = own.toSignal!(own.toLab([v, v, v]))
      // In the dark a step of the signal changes hardly anything.
      signal.forEach((s) => expect(Math.abs(s - v)).toBeLessThan({ 0: 0.0015, 0.02: 0.006, 1: 1e-4 }[v] ?? 0.002))
      expect(deltaE2000(own.toLab(signal), own.toLab([v, v, v]))).toBeLessThan(0.1)
    }
  })

  test('what lies outside comes to the edge with its hue', () => expectHueKept(own))

  test('Little CMS evaluates matrix and curves as we do, both ways: within 0.05 @long', () => {
    const matrix = writeMatrixProfile(model, facts(version))
    const ours = profileTransforms(readIccProfile(matrix))
    const inGamut = colors.map(ours.toLab)
    const theirs = throughLittleCms(matrix, { rgb: colors, lab: inGamut })
    const forward = colors.map((rgb, i) => deltaE2000(theirs.lab[i], ours.toLab(rgb)))
    const inverse = inGamut.map((lab, i) => deltaE2000(ours.toLab(ours.toSignal!(lab)), ours.toLab(theirs.signal[i])))
    told(`Little CMS, matrix, version ${version}`, ['forward', worst(forward)], ['inverse', worst(inverse)])
    expect(ours.kind).toBe('matrix')
    expect(worst(forward)).toBeLessThan(0.05)
    expect(worst(inverse)).toBeLessThan(0.05)
  })

  test('what it says of itself comes back', () => {
    const profile = readIccProfile(table)
    expect(profile).toMatchObject({
      version: version === 4 ? '4.4' : '2.4',
      connectionSpace: 'Lab',
      createdAt: facts(4).createdAt,
    })
    expect(textOf(profile, 'desc')).toBe(version === 4 ? facts(4).description : 'Lantern 1, ?Dome? loop')
    expect(textOf(profile, 'cprt')).toBe('Fen & Lantern')
    expect(profile.read('meta')).toEqual({ kind: 'pairs', pairs: facts(4).meta })
    const luminance = profile.read('lumi')
    expect(luminance?.kind === 'xyz' && luminance.values[0][1]).toBeCloseTo(characterization.white[1], 3)
    const video = profile.read('vcgt')
    expect(video?.kind === 'video' && video.channels[2].every((v, i) => Math.abs(v - ramp[i]) < 1 / 65535)).toBe(true)
    expect(profile.id).toMatch(version === 4 ? /^[0-9a-f]{32}$/ : /^$/)
    expect(profile.read('none')).toBeNull()
  })
})

describe('of a display that is sent 220 of 256 codes', () => {
  const sent = { bits: 8, range: 'limited' } as const
  const codes = Array.from({ length: 600 }, (): Triple => quantizeSignal([uniform(), uniform(), uniform()], 8))
  /** What the display shows of what a program draws. */
  const shown = codes.map((rgb) => toPcs(panel(signalThatArrives(rgb, sent))) as Lab)

  test.each([2, 4] as const)('version %s foretells what arrives, as Little CMS evaluates it too @long', (version) => {
    const of = (bytes: Uint8Array) => throughLittleCms(bytes, { rgb: codes }).lab
    const off = (labs: readonly Lab[]) => average(labs.map((lab, i) => deltaE2000(lab, shown[i])))
    const told = { ...facts(version), sent }
    const [without, withIt] = [facts(version), told].map((f) => off(of(written(f))))
    expect(withIt).toBeLessThan(0.6 * without)
  })

  test('the way back is what it is without, and so is a full range @long', () => {
    const lab: Lab[] = [[50, 20, -10] as const, [12, 3, 4] as const, [90, -5, 30] as const].map((v) => [...v])
    const back = (f: Parameters<typeof written>[0]) => lab.map(profileTransforms(readIccProfile(written(f))).toSignal!)
    expect(back({ ...facts(4), sent })).toEqual(back(facts(4)))
    const bytes = (range: 'full' | 'limited', bits: number) =>
      Buffer.from(written({ ...facts(4), sent: { bits, range } }))
    expect(bytes('full', 8).equals(bytes('limited', 12))).toBe(true)
  })
})

test('greys stay grey and in order on the way back', () => {
  const { toSignal } = profileTransforms(readIccProfile(written(facts(4))))
  let last = -1
  for (let L = 1; L <= 100; L += 0.5) {
    const rgb = toSignal!([L, 0, 0])
    expect(rgb[1]).toBeGreaterThanOrEqual(last)
    last = rgb[1]
    const shown = toPcs(panel(rgb)) as Lab
    if (L > 3) expect(deltaE76([shown[0], shown[1], shown[2]], [shown[0], 0, 0])).toBeLessThan(0.6)
  }
})
