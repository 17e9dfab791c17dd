import { formatLuminance, formatSigned } from '@bichroma/core/aims'
import { characterize, crossValidate, fitMatrixModel, readingOf } from '@bichroma/core/characterization'
import { deltaE2000, type PatchReading } from '@bichroma/core/color'
import { readReadings, type SignalScale } from '@bichroma/core/formats'
import { adaptLab } from '@bichroma/core/gamut'
import {
  describeTag,
  profileTransforms,
  readIccProfile,
  whiteOfProfile,
  textOf,
  writeMatrixProfile,
  writeTableProfile,
  type IccProfile,
} from '@bichroma/core/profiles'
import { BadInput, fromFile, nameOf, readBytes, readText, write, type CliIo } from '../io'
import { firstRows, type Answer } from '../output'
import { spreadHead, spreadOf, spreadRow, validationRows, type Spread } from '../figures'

export interface BuildOptions {
  readonly kind: 'matrix' | 'table'
  readonly icc: 2 | 4
  readonly name?: string
  readonly out: string
  readonly scale?: SignalScale
}

/** How far a profile's prediction lies from readings: ΔE2000 in CIELAB (D50) under the white that was read. */
function predictionErrors(profile: IccProfile, readings: readonly PatchReading[]): number[] {
  const white = readingOf(readings, [1, 1, 1])
  if (!white)
    throw new Error('The readings hold no white (full red, green and blue), so nothing can be compared with it.')
  const { toLab } = profileTransforms(profile)
  const labOf = adaptLab(white)
  return readings.map(({ rgb, xyz }) => deltaE2000(labOf(xyz), toLab(rgb)))
}

export function buildProfile(path: string, options: BuildOptions, io: CliIo): Answer {
  const { kind, icc, out, name = `${nameOf(path)}, ${new Date(io.now()).toISOString().slice(0, 10)}`, scale } = options
  const text = readText(path)
  const { bytes, spread, validation, readings } = fromFile(path, () => {
    const { readings } = readReadings(text, scale)
    const facts = {
      description: name,
      copyright: 'Made with Bichroma. Free to use.',
      createdAt: io.now(),
      version: icc,
    }
    const model = fitMatrixModel(readings)
    const bytes =
      kind === 'matrix' ? writeMatrixProfile(model, facts) : writeTableProfile(characterize(readings), model, facts)
    const spread = spreadOf(predictionErrors(readIccProfile(bytes), readings))
    return { bytes, spread, readings, validation: kind === 'table' ? crossValidate(readings) : null }
  })
  write(out, bytes)
  return {
    json: {
      out,
      name,
      kind,
      icc,
      bytes: bytes.length,
      readings: readings.length,
      fit: spread,
      crossValidation: validation,
    },
    text: [
      {
        head: spreadHead('ΔE2000'),
        rows: [
          spreadRow('to the readings it was made from', spread),
          ...validationRows('to readings left out (cross-validation)', readings.length, validation),
        ],
      },
      `“${name}”, ICC version ${icc}, ${kind === 'table' ? 'tables of 33 nodes and 49 back' : 'matrix and curves'}, ${bytes.length.toLocaleString('en')} bytes, written to ${out}.`,
    ],
  }
}

export function showProfile(path: string): Answer {
  const bytes = readBytes(path)
  return fromFile(path, () => {
    const profile = readIccProfile(bytes)
    const tags = profile.tags.map((t) => ({ ...t, says: describeTag(profile.read(t.signature)) }))
    const luminance = profile.read('lumi')
    const white = whiteOfProfile(profile)
    const { kind, toLab, toSignal } = profileTransforms(profile)
    const created = Number.isNaN(profile.createdAt) ? null : new Date(profile.createdAt).toISOString()
    const cdm2 = luminance?.kind === 'xyz' ? (luminance.values[0]?.[1] ?? null) : null
    const corners = [
      ['white', [1, 1, 1]],
      ['red', [1, 0, 0]],
      ['green', [0, 1, 0]],
      ['blue', [0, 0, 1]],
      ['middle grey', [0.5, 0.5, 0.5]],
      ['black', [0, 0, 0]],
    ] as const
    return {
      json: {
        description: textOf(profile, 'desc'),
        version: profile.version,
        kind,
        invertible: toSignal !== null,
        connectionSpace: profile.connectionSpace,
        created,
        id: profile.id || null,
        luminance: cdm2,
        white,
        tags,
        colors: Object.fromEntries(corners.map(([name, rgb]) => [name, toLab(rgb)])),
      },
      text: [
        {
          head: ['', ''],
          rows: [
            ['description', textOf(profile, 'desc')],
            [
              'version, kind',
              `ICC ${profile.version}, ${kind === 'table' ? 'tables' : 'matrix and curves'} through ${profile.connectionSpace}`,
            ],
            ['created', created ?? 'not told'],
            ['luminance', cdm2 === null ? 'not told' : formatLuminance(cdm2)],
            ['display’s white', white ? `x ${white.x.toFixed(4)}, y ${white.y.toFixed(4)}` : 'not told'],
            ['profile ID', profile.id || 'none'],
          ],
        },
        {
          head: ['tag', 'type', 'bytes', 'says'],
          rows: tags.map((t) => [t.signature, t.type, String(t.size), t.says]),
        },
        {
          head: ['colour', 'L*', 'a*', 'b*'],
          rows: corners.map(([name, rgb]) => [name, ...toLab(rgb).map((v) => formatSigned(v, 1).replace('+', ''))]),
        },
      ],
    }
  })
}

export function checkProfile(path: string, readingsPath: string, scale?: SignalScale): Answer {
  const bytes = readBytes(path)
  const profile = fromFile(path, () => {
    const read = readIccProfile(bytes)
    profileTransforms(read)
    return read
  })
  const text = readText(readingsPath)
  const readings = fromFile(readingsPath, () => readReadings(text, scale).readings)
  const errors = fromFile(readingsPath, () => predictionErrors(profile, readings))
  if (!errors.every(Number.isFinite)) throw new BadInput(`${path}: the profile gives values that are no colours.`)
  const spread: Spread = spreadOf(errors)
  const worstFirst = readings
    .map(({ name, rgb }, i) => ({ name, rgb, deltaE: errors[i] }))
    .sort((a, b) => b.deltaE - a.deltaE)
  const shown = firstRows(
    worstFirst.map(({ name, rgb, deltaE }) => [name, ...rgb.map((v) => (100 * v).toFixed(1)), deltaE.toFixed(2)]),
    10,
  )
  return {
    json: {
      profile: textOf(profile, 'desc'),
      ...spread,
      worstPatch: readings[spread.worstAt].name,
      patches: worstFirst,
    },
    text: [
      { head: spreadHead('ΔE2000'), rows: [spreadRow('prediction against the readings', spread)] },
      { head: ['worst first', 'red %', 'green %', 'blue %', 'ΔE2000'], rows: shown.rows },
      ...shown.more,
    ],
  }
}
