import {
  factoryCorrections,
  makeDetector,
  PanelModel,
  responseOf,
  settled,
  xyzOfLight,
  type InstrumentModel,
  type Light,
  type PanelTraits,
} from '@bichroma/bench'
import { percentile, type CorrectionOrigin, type InstrumentFacts } from '@bichroma/core/aims'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import {
  add,
  convertChromaticityToXyz,
  invert,
  matrixOfPrimaries,
  multiplyVector,
  standardPrimaries,
  standardWhites,
  subtract,
  transpose,
  type PatchReading,
  type Triple,
  type XYZ,
} from '@bichroma/core/color'
import { howAlike, pairDoubts, peerFigureOf, peerFigures, type PairMember, type PeerFigure } from '@bichroma/core/peers'
import { correctionFrom, correctionResidual, correctReading, type ColorimeterCorrection } from '@bichroma/core/register'
import { doubtCase } from './randomInstrument'
import { randomCase } from './randomPanel'

/** How the two of a pair are read. */
export const pairCases = [
  'spectroradiometer',
  'corrected on each',
  'old corrections',
  'one correction for both',
  'correction for the kind',
  'two instruments',
] as const
type PairCase = (typeof pairCases)[number]

/** What was told of one pair, and what is true. */
export interface PairTrial {
  readonly of: PairCase
  readonly alike: boolean
  readonly figures: Readonly<Record<PeerFigure, { low: number; high: number; seen: number; truth: number }>>
}

const corners: readonly Triple[] = [
  [1, 1, 1],
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
const mixes: readonly Triple[] = [
  [1, 1, 0],
  [0, 1, 1],
  [1, 0, 1],
  [0.5, 0.5, 0.5],
]
const year = 365.25
/** Noon of a day, ms since 1970: what is true then is what is told. */
const moment = 1.8e12 - (1.8e12 % 86_400_000) + 43_200_000
/** Hours before and after it at which the two are read. */
const readAt = [-1, 1] as const

/** One display's light as the aim has it, and how instruments see it. */
class Sight {
  private readonly panel: PanelModel

  constructor(
    readonly traits: PanelTraits,
    seed: number,
  ) {
    this.panel = new PanelModel(traits, seed)
  }

  /** `hours`: after the moment that is told of. */
  light = (rgb: Triple, hours = 0): Light =>
    this.panel.lightOfDrive(rgb, {
      ...settled,
      backlight: this.traits.control.max,
      at: moment + hours * 3_600_000,
    })
}

/** An instrument of a model, so many years after its certificate: what it reads of light, without noise. */
const seesBy = (model: InstrumentModel, years: number) => {
  const detect = makeDetector(responseOf(model))
  const cells = model.driftPerYear.map((d, k) => (1 + d! * years) * (1 + model.adjusted[k]!))
  return (light: Light): XYZ => detect(light).map((v, k) => v * cells[k]) as unknown as XYZ
}

interface ReadBy {
  readonly read: (light: Light) => XYZ
  readonly facts: Omit<InstrumentFacts, 'noise'>
  readonly reference: string
  readonly correction: string | null
}

/** How an instrument reads a display of a pair, by its case. */
function readBy(of: PairCase, on: Sight, corrected: Sight, seed: number, name: string): ReadBy {
  const { instrument, reference, days } = doubtCase(7 * seed + (of === 'spectroradiometer' ? 0 : 1))
  const colorimeter: InstrumentModel = { ...instrument, ownCorrections: true }
  if (of === 'spectroradiometer')
    return {
      read: seesBy(reference, days.reference / year),
      facts: { kind: 'spectroradiometer', certificateAge: days.reference / year, origin: 'none needed', made: null },
      reference: name,
      correction: null,
    }
  if (of === 'correction for the kind') {
    const sees = seesBy(colorimeter, days.instrument / year)
    const matrix = factoryCorrections(colorimeter)[on.traits.light.source]!
    return {
      read: (light) => multiplyVector(matrix, sees(light)),
      facts: { kind: 'colorimeter', certificateAge: days.instrument / year, origin: 'kind', made: null },
      reference: name,
      correction: `own ${on.traits.light.source}`,
    }
  }
  const since = of === 'old corrections' ? 200 + (days.instrument % 700) : 1
  const then = seesBy(colorimeter, days.instrument / year)
  const right = seesBy(reference, days.reference / year)
  const correction = correctionOf(corrected, then, right)
  const now = seesBy(colorimeter, (days.instrument + since) / year)
  const origin: CorrectionOrigin = corrected === on ? 'this display' : 'same model'
  return {
    read: (light) => correctReading(correction, now(light)),
    facts: {
      kind: 'colorimeter',
      certificateAge: (days.instrument + since) / year,
      origin,
      made: {
        residual: correctionResidual(
          correction,
          mixes.map((rgb) => ({ reference: right(corrected.light(rgb)), measured: then(corrected.light(rgb)) })),
        ),
        age: since / year,
        referenceAge: days.reference / year,
      },
    },
    reference: `reference of ${name}`,
    correction: `made on ${corrected.traits.light.shiftNm.join()}`,
  }
}

function correctionOf(
  on: Sight,
  measured: (light: Light) => XYZ,
  reference: (light: Light) => XYZ,
): ColorimeterCorrection {
  const [white, black, red, green, blue] = corners.map((rgb) => on.light(rgb))
  const four = (of: (light: Light) => XYZ) => ({ white: of(white), red: of(red), green: of(green), blue: of(blue) })
  return correctionFrom(four(reference), four(measured), { reference: reference(black), measured: measured(black) })
}

const patches: readonly Triple[] = (() => {
  const uniform = uniformFrom(99)
  const greys = [0, 0.15, 0.3, 0.45, 0.6, 0.75, 0.9, 1].map((v): Triple => [v, v, v])
  const some = Array.from({ length: 22 }, (): Triple => [uniform(), uniform(), uniform()])
  return [...greys, ...corners.slice(2), ...some]
})()

/** Patches on a display that was brought to an aim by what an instrument reads of it: as they are, and as they are read. */
function shownAndRead(
  sight: Sight,
  by: ReadBy,
  model: InstrumentModel,
  { white, seed, hours }: { white: XYZ; seed: number; hours: number },
) {
  const normal = normalFrom(uniformFrom(seed))
  const columns = (of: (light: Light) => XYZ, at: number) => {
    const lights = corners.map((rgb) => sight.light(rgb, at))
    const black = of(lights[1])
    return {
      black,
      of: transpose(lights.slice(2).map((l) => subtract(of(l), black)) as unknown as [XYZ, XYZ, XYZ]),
    }
  }
  const [seen, true_] = [columns(by.read, hours), columns(xyzOfLight, 0)]
  const back = invert(seen.of)
  const aim = matrixOfPrimaries(standardPrimaries.sRGB, white)
  const shown: PatchReading[] = []
  const read: PatchReading[] = []
  // What calibrating leaves: a share of each channel's light, another for each patch.
  const left = () => 1 + 0.003 * normal()
  for (const rgb of patches) {
    const wanted = multiplyVector(aim, rgb.map((v) => v ** 2.2) as unknown as Triple)
    const drives = multiplyVector(back, wanted).map((v) => Math.max(0, v) * left()) as unknown as Triple
    const name = rgb.join(' ')
    shown.push({ name, rgb, xyz: add(true_.black, multiplyVector(true_.of, drives)) })
    const xyz = add(seen.black, multiplyVector(seen.of, drives))
    read.push({ name, rgb, xyz: noisy(xyz, model, normal) })
  }
  return { shown, read }
}

/** A reading with noise, as instruments of a model have it: they count longer in the dark. */
function noisy(xyz: XYZ, { noise, timing }: InstrumentModel, normal: () => number): XYZ {
  const seconds =
    Math.min(
      timing.slowestMs,
      Math.max(timing.fastestMs, (timing.fastestMs * timing.slowBelow) / Math.max(xyz[1], 1e-6)),
    ) / 1000
  const calm = 1 / Math.sqrt(seconds)
  const common = normal() * noise.share * 0.7 * calm
  return xyz.map((v) => {
    const spread = calm * Math.hypot(noise.share * 0.7 * v, noise.shot * Math.sqrt(Math.max(v, 0)), noise.floor)
    return Math.max(0, v * (1 + common) + spread * normal())
  }) as unknown as XYZ
}

/** How white repeats, from pairs of readings as runs take them. */
function noiseOf(model: InstrumentModel, white: XYZ) {
  const normal = normalFrom(uniformFrom(5))
  const deviation = (of: (xyz: XYZ) => number) => {
    const values = Array.from({ length: 400 }, () => Math.log(of(noisy(white, model, normal))))
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1))
  }
  return { luminance: deviation((v) => v[1]), x: deviation((v) => v[0] / v[1]), z: deviation((v) => v[2] / v[1]) }
}

/** Two displays at random, of one kind or of two, brought to one aim and read as a case has it. */
function pairTrial(seed: number): PairTrial {
  const of = pairCases[seed % pairCases.length]
  const random = uniformFrom(seed * 31 + 7)
  const same = of === 'one correction for both' || random() < 0.5
  // A white subpixel is not the sum of its channels, which this trial takes light to be.
  const plain = (from: number): PanelTraits => {
    for (let n = from; ; n++) {
      const { panel } = randomCase(n)
      if (panel.light.source !== 'oled-white') return panel
    }
  }
  const first = plain(seed * 101)
  const second: PanelTraits = same
    ? { ...first, light: { ...first.light, shiftNm: first.light.shiftNm.map((s) => s! + 2 * (random() - 0.5)) } }
    : plain(seed * 101 + 53)
  const [one, other] = [new Sight(first, seed), new Sight(second, seed + 7)]
  const instruments = of === 'two instruments' ? [seed, seed + 1000] : [seed, seed]
  const kind = of === 'two instruments' ? 'corrected on each' : of
  const by = [
    readBy(kind, one, one, instruments[0], `instrument ${instruments[0]}`),
    readBy(kind, other, of === 'one correction for both' ? one : other, instruments[1], `instrument ${instruments[1]}`),
  ]
  const models = instruments.map((i) => {
    const found = doubtCase(7 * i + (of === 'spectroradiometer' ? 0 : 1))
    return of === 'spectroradiometer' ? found.reference : found.instrument
  })
  const white = convertChromaticityToXyz(standardWhites.D65, 120)
  const [a, b] = [one, other].map((sight, i) =>
    shownAndRead(sight, by[i], models[i], { white, seed: seed * 13 + i, hours: readAt[i] }),
  )
  const memberOf = (i: number, readings: readonly PatchReading[]): PairMember => ({
    id: i + 1,
    readings,
    by: {
      facts: { ...by[i].facts, noise: noiseOf(models[i], white) },
      instrument: `instrument ${instruments[i]}`,
      reference: by[i].reference,
      correction: by[i].correction,
      panelKind: [first, second][i].light.source,
    },
  })
  const [doubt] = pairDoubts([memberOf(0, a.read), memberOf(1, b.read)], white)
  const apart = (sets: readonly (readonly PatchReading[])[]) =>
    howAlike(
      sets.map((readings, i) => ({ id: i + 1, readings })),
      white,
    ).pairs[0]
  const [seen, truth] = [apart([a.read, b.read]), apart([a.shown, b.shown])]
  return {
    of,
    alike: same,
    figures: Object.fromEntries(
      peerFigures.map((f) => [f, { ...doubt.figures[f], seen: peerFigureOf[f](seen), truth: peerFigureOf[f](truth) }]),
    ) as PairTrial['figures'],
  }
}

export function pairTrials(count: number, tell: (done: number) => void): PairTrial[] {
  return Array.from({ length: count }, (_, i) => {
    if (i % 50 === 0) tell(i)
    return pairTrial(i + 1)
  })
}

/** How often intervals of a figure hold the truth, and how wide they are beside what all errors of their kind span. */
export function pairSummary(trials: readonly PairTrial[], figure: PeerFigure) {
  const of = trials.map((t) => t.figures[figure])
  const held = of.filter(({ low, high, truth }) => truth >= low - 1e-9 && truth <= high + 1e-9).length
  const errors = of.map(({ seen, truth }) => truth - seen)
  const ideal = percentile(errors, 0.975) - percentile(errors, 0.025)
  const width = of.reduce((sum, { low, high }) => sum + high - low, 0) / of.length
  return { count: of.length, held: held / of.length, width, ideal }
}
