import type { Triple } from '../../color/matrix3'
import type { ReadingNoise } from './noise'

/** Whose light a correction was made for, beside the display that is read. */
export const correctionOrigins = ['none needed', 'this display', 'same model', 'kind', 'other kind', 'none'] as const
export type CorrectionOrigin = (typeof correctionOrigins)[number]

/** What is known of an instrument and what is done to its readings. Times in years; null where nobody knows. */
export interface InstrumentFacts {
  readonly kind: 'colorimeter' | 'spectroradiometer'
  readonly certificateAge: number | null
  readonly origin: CorrectionOrigin
  /** Of a correction that was made: what it left, Δu′v′, how old it is, and how old the reference's certificate was then. */
  readonly made: {
    readonly residual: number
    readonly age: number
    readonly referenceAge: number | null
  } | null
  /** How it repeats white; null while too little is known. */
  readonly noise: ReadingNoise | null
}

/** What white did while it was watched: change of luminance as a share, and Δu′v′. */
export interface WhiteMove {
  readonly luminance: number
  readonly uv: number
}

/** Standard uncertainties of one channel's light: u′, v′, and how much of it there is, as a share. */
interface LightSpread {
  readonly u: number
  readonly v: number
  readonly amount: number
}

export const doubtParts = ['optics', 'correction', 'certificate', 'age', 'drift', 'noise'] as const
export type DoubtPart = (typeof doubtParts)[number]

/** What is wrong with all readings alike by one cause: of red, green and blue light, and of X, Y and Z; as shares. */
export interface CommonSpread {
  readonly part: DoubtPart
  /**
   * What it is wrong with: readings of two displays share what is wrong with one reference or instrument, and with one kind
   * of light seen by it; each has its own hour, and its own correction.
   */
  readonly of: 'light' | 'reference' | 'instrument' | 'hour' | 'correction'
  readonly lights?: readonly [LightSpread, LightSpread, LightSpread]
  /** Of all three alike. */
  readonly all?: number
  /** Of each on its own. */
  readonly cells?: Triple
}

type Lights = NonNullable<CommonSpread['lights']>
const light = (u: number, v: number, amount: number): LightSpread => ({ u, v, amount })

/**
 * What optics leave of red, green and blue, by whose light a correction was made for: standard uncertainties (JCGM 100,
 * type B). Found by drawing instruments (gratings off by 0.12 nm, 4 to 8 nm wide; filters off by 3 nm) and panels of every
 * kind; amounts are less than was found for single channels, for what is wrong with one makes up for another, so that white
 * is off by as much as was found. `npm run -s trial -- --doubt N` holds them against the truth.
 */
const optics: Readonly<Record<CorrectionOrigin, Lights>> = {
  'none needed': [light(0.0011, 0.0002, 0.0016), light(0.0005, 0.0002, 0.0007), light(0.0005, 0.001, 0.001)],
  'this display': [light(0.0011, 0.0002, 0.002), light(0.0005, 0.0002, 0.001), light(0.0005, 0.001, 0.001)],
  'same model': [light(0.0014, 0.0002, 0.0035), light(0.0006, 0.0003, 0.0018), light(0.0014, 0.0011, 0.002)],
  kind: [light(0.0026, 0.0004, 0.009), light(0.0012, 0.0004, 0.004), light(0.0036, 0.0013, 0.003)],
  'other kind': [light(0.015, 0.0024, 0.014), light(0.006, 0.0016, 0.01), light(0.009, 0.0035, 0.01)],
  none: [light(0.06, 0.0095, 0.116), light(0.0102, 0.0031, 0.035), light(0.021, 0.013, 0.05)],
}

/** What a certificate leaves open: of X, Y and Z alike, and of X and Z beside Y. */
const certified = {
  colorimeter: { all: 0.008, cells: [0.002, 0, 0.002] },
  spectroradiometer: { all: 0.007, cells: [0.002, 0, 0.002] },
} as const
/** What a year does to the cells of instruments like it. */
const perYear = {
  colorimeter: { all: 0.003, cells: [0.005, 0, 0.0085] },
  spectroradiometer: { all: 0.0015, cells: [0.002, 0, 0.002] },
} as const
/** Years that are assumed where no certificate tells. */
const unknownAge = 3

type Kind = InstrumentFacts['kind']
const times = (by: number, [x, y, z]: Triple): Triple => [by * x, by * y, by * z]
const aged = (kind: Kind, years: number | null, of: CommonSpread['of']): CommonSpread => {
  const { all, cells } = perYear[kind]
  const by = Math.max(0, years ?? unknownAge)
  return { part: 'age', of, all: by * all, cells: times(by, cells) }
}

/** A share of what white moved by that taking it out of the readings leaves. */
const driftLeft = 0.3
/** Change of X and Z beside Y that moves a white by a Δu′v′ of 1, about. */
const cellsOfUv = { x: 3, z: 6 }
/** What a display's light does by itself from one hour to the next: luminance as a share, and Δu′v′. */
const hourly = { luminance: 0.002, uv: 0.0002 }

/**
 * All that may be wrong with readings alike, cause by cause. A correction that was made takes the reference's certificate
 * over, and its age counts from when it was made; one for the kind of panel, or none, leaves the instrument's own.
 */
export function commonSpreads(
  { kind, certificateAge, origin, made }: InstrumentFacts,
  moved: WhiteMove,
): CommonSpread[] {
  const reference: Kind = made ? 'spectroradiometer' : kind
  const spreads: CommonSpread[] = [
    {
      part: origin === 'none needed' || origin === 'this display' ? 'optics' : 'correction',
      of: 'light',
      lights: optics[origin],
    },
    { part: 'certificate', of: 'reference', ...certified[reference] },
    ...(made
      ? [aged('spectroradiometer', made.referenceAge, 'reference'), aged(kind, made.age, 'instrument')]
      : [aged(kind, certificateAge, 'reference')]),
    driftSpread(moved),
  ]
  if (made) {
    // What it was seen to leave at worst, about two deviations.
    const left = light(made.residual / 2, made.residual / 2, 0)
    spreads.push({ part: 'correction', of: 'correction', lights: [left, left, left] })
  }
  return spreads
}

const driftSpread = ({ luminance, uv }: WhiteMove): CommonSpread => {
  const left = Math.hypot(hourly.uv, driftLeft * uv)
  return {
    part: 'drift',
    of: 'hour',
    all: Math.hypot(hourly.luminance, driftLeft * luminance),
    cells: [cellsOfUv.x * left, 0, cellsOfUv.z * left],
  }
}
