import { characterize, panelFactsOf } from '@bichroma/core/characterization'
import {
  comparePrimaries,
  convertLabToXyz,
  convertXyzToChromaticity,
  invert,
  multiplyVector,
  pcsWhite,
  standardPrimaries,
  type Primaries,
  type StandardPrimaries,
  type XYZ,
} from '@bichroma/core/color'
import { readReadings, type SignalScale } from '@bichroma/core/formats'
import {
  compareSolids,
  solidOfCharacterization,
  solidOfEncoding,
  solidOfSurface,
  tessellate,
  type GamutSolid,
} from '@bichroma/core/gamut'
import { adaptationIn, profileTransforms, readIccProfile, type IccProfile } from '@bichroma/core/profiles'
import { fromFile, readBytes, readText } from '../io'
import type { Answer } from '../output'

interface Measured {
  readonly primaries: Primaries
  readonly solid: GamutSolid
}

/** From the connection space back to the display's own white; as it is where the profile does not tell how. */
function unadapt(profile: IccProfile): (xyz: XYZ) => XYZ {
  const adaptation = adaptationIn(profile)
  if (!adaptation) return (xyz) => xyz
  const back = invert(adaptation)
  return (xyz) => multiplyVector(back, xyz)
}

function fromProfile(bytes: Uint8Array): Measured {
  const profile = readIccProfile(bytes)
  const { toLab } = profileTransforms(profile)
  const own = unadapt(profile)
  const black = convertLabToXyz(toLab([0, 0, 0]), pcsWhite)
  const primary = (r: number, g: number, b: number) => {
    const [x, y, z] = convertLabToXyz(toLab([r, g, b]), pcsWhite)
    return convertXyzToChromaticity(own([x - black[0], y - black[1], z - black[2]]))
  }
  return {
    primaries: { red: primary(1, 0, 0), green: primary(0, 1, 0), blue: primary(0, 0, 1) },
    solid: solidOfSurface(tessellate(toLab)),
  }
}

function fromReadings(text: string, scale?: SignalScale): Measured {
  const { readings } = readReadings(text, scale)
  return {
    primaries: panelFactsOf(readings, { kind: 'panel' }).primaries,
    solid: solidOfCharacterization(characterize(readings)),
  }
}

/** A display's gamut against standards: coverage and area ratio in both diagrams, coverage of the volume in CIELAB. */
export function gamut(path: string, against: readonly StandardPrimaries[], scale?: SignalScale): Answer {
  const bytes = readBytes(path)
  const isProfile = bytes.length > 40 && String.fromCharCode(...bytes.subarray(36, 40)) === 'acsp'
  const measured = fromFile(path, () => (isProfile ? fromProfile(bytes) : fromReadings(readText(path), scale)))
  const results = against.map((name) => ({
    name,
    xy: comparePrimaries(measured.primaries, standardPrimaries[name], 'xy'),
    uv: comparePrimaries(measured.primaries, standardPrimaries[name], 'uv'),
    volume: compareSolids(measured.solid, solidOfEncoding(name)),
  }))
  const percent = (v: number) => `${v.toFixed(0)} %`
  const { red, green, blue } = measured.primaries
  return {
    json: { primaries: measured.primaries, volume: results[0]?.volume.volume, against: results },
    text: [
      {
        head: ['', 'x', 'y'],
        rows: Object.entries({ red, green, blue }).map(([hue, c]) => [hue, c.x.toFixed(4), c.y.toFixed(4)]),
      },
      {
        head: [
          'against',
          'xy coverage',
          'xy area ratio',
          'u′v′ coverage',
          'u′v′ area ratio',
          'volume coverage',
          'volume ratio',
        ],
        rows: results.map((r) => [
          r.name,
          percent(r.xy.coverage),
          percent(r.xy.areaRatio),
          percent(r.uv.coverage),
          percent(r.uv.areaRatio),
          percent(r.volume.coverage),
          percent(r.volume.volumeRatio),
        ]),
      },
      ...results
        .filter((r) => r.volume.missing.length)
        .map((r) => {
          const [worst] = r.volume.missing
          return `Of ${r.name}, ${percent(100 - r.volume.coverage)} of the volume is missing, most of it at hues of ${worst.hueFrom}–${worst.hueTo}° (there up to ${worst.chromaShort.toFixed(0)} of chroma, at L* ${worst.lightness.toFixed(0)}).`
        }),
    ],
  }
}
