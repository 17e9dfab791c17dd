import type { Triple } from '../../color/matrix3'
import { convertLabToXyz } from '../../color/lab'
import { pcsWhite } from '../../color/encodings'
import { lookUp1d } from '../../tables/table1d'
import { curveFunction } from './curves'
import { profileTransforms } from './evaluateIcc'
import type { IccProfile } from './readIcc'

/** Three curves of a profile at the same levels (signal 0–1), values 0–1. */
export interface ProfileCurves {
  readonly name: string
  /** What the values are. */
  readonly axis: string
  readonly levels: readonly number[]
  readonly channels: readonly [readonly number[], readonly number[], readonly number[]]
  /** How far the channels lie apart, and how far the curve strays from going straight, in words. */
  readonly says: string
}

const count = 65
const levels = Array.from({ length: count }, (_, i) => i / (count - 1))

/** The largest distance between the channels at one level, and where. */
function apart(channels: ProfileCurves['channels']): { most: number; at: number } {
  return levels.reduce(
    (worst, level, i) => {
      const values = channels.map((c) => c[i])
      const most = Math.max(...values) - Math.min(...values)
      return most > worst.most ? { most, at: level } : worst
    },
    { most: 0, at: 0 },
  )
}

function curvesOf(name: string, axis: string, of: (channel: 0 | 1 | 2, level: number) => number): ProfileCurves {
  const channels = ([0, 1, 2] as const).map((c) => levels.map((v) => of(c, v))) as unknown as ProfileCurves['channels']
  const { most, at } = apart(channels)
  const says =
    most < 0.003
      ? 'the three channels run together'
      : `the three channels lie up to ${(100 * most).toFixed(1)} % apart, at signal ${(100 * at).toFixed(0)} %`
  return { name, axis, levels, channels, says }
}

/** The light of each channel alone, relative to its full light, as a profile of tables tells it. */
function tabulated(profile: IccProfile): ProfileCurves {
  const { toLab } = profileTransforms(profile)
  const light = (c: number, v: number) =>
    convertLabToXyz(toLab([0, 1, 2].map((k) => (k === c ? v : 0)) as unknown as Triple), pcsWhite)[1]
  return curvesOf('Tones', 'light', (c, v) => {
    const [black, full] = [light(c, 0), light(c, 1)]
    return full > black ? (light(c, v) - black) / (full - black) : 0
  })
}

/**
 * The curves of a profile: of its tones, from its curve tags or through its tables, and of the video card where it carries
 * some. Throws ProfileError when a tag is broken.
 */
export function profileCurves(profile: IccProfile): ProfileCurves[] {
  const sets: ProfileCurves[] = []
  const tags = ['rTRC', 'gTRC', 'bTRC'].map((signature) => profile.read(signature))
  const functions = tags.map((t) => (t?.kind === 'curve' ? curveFunction(t.curve) : null))
  if (functions.every((f) => f !== null)) sets.push(curvesOf('Tones', 'light', (c, v) => functions[c]!(v)))
  else if (profile.tags.some((t) => t.signature.startsWith('A2B'))) sets.push(tabulated(profile))
  const video = profile.read('vcgt')
  if (video?.kind === 'video') sets.push(curvesOf('Video card', 'drive', (c, v) => lookUp1d(video.channels[c], v)))
  return sets
}
