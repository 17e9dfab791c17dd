import { formatTemperature } from '@bichroma/core/aims'
import {
  chromaticityOfTemperature,
  convertChromaticityToUv,
  correlatedColorTemperature,
  deltaUv,
  isRealChromaticity,
  mccamyTemperature,
  standardWhites,
  type Chromaticity,
} from '@bichroma/core/color'
import { BadInput } from '../io'
import type { Answer } from '../output'

export interface WhiteOptions {
  readonly xy?: readonly number[]
  readonly cct?: number
  readonly duv: number
}

function chromaticityOf({ xy, cct, duv }: WhiteOptions): Chromaticity {
  if ((xy === undefined) === (cct === undefined)) throw new BadInput('Give either --xy x,y or --cct K.')
  if (cct !== undefined) return chromaticityOfTemperature({ cct, duv })
  const [x, y] = xy!
  if (!isRealChromaticity({ x, y }))
    throw new BadInput('--xy lies outside the spectral locus: no light has that xy. D65, for one, is 0.3127,0.3290.')
  return { x, y }
}

/** A white as xy, u′v′, temperature and distance from the blackbodies, and the standard white nearest to it. */
export function white(options: WhiteOptions): Answer {
  const { x, y } = chromaticityOf(options)
  const uv = convertChromaticityToUv({ x, y })
  const temperature = correlatedColorTemperature({ x, y })
  const mccamy = mccamyTemperature({ x, y })
  const [nearest, distance] = Object.entries(standardWhites)
    .map(([name, c]) => [name, deltaUv(uv, convertChromaticityToUv(c))] as const)
    .reduce((a, b) => (b[1] < a[1] ? b : a))
  return {
    json: {
      x,
      y,
      u: uv.u,
      v: uv.v,
      cct: temperature?.cct ?? null,
      duv: temperature?.duv ?? null,
      mccamy: temperature ? mccamy : null,
      nearest: { name: nearest, deltaUv: distance },
    },
    text: [
      {
        head: ['', ''],
        rows: [
          ['x, y', `${x.toFixed(4)}, ${y.toFixed(4)}`],
          ['u′, v′', `${uv.u.toFixed(4)}, ${uv.v.toFixed(4)}`],
          [
            'correlated colour temperature',
            temperature ? `${temperature.cct.toFixed(0)} K` : 'none: too far from the blackbodies',
          ],
          ['Duv', temperature ? temperature.duv.toFixed(4) : '–'],
          ['by McCamy’s estimate', temperature ? formatTemperature(mccamy) : '–'],
          ['nearest standard white', `${nearest}, Δu′v′ ${distance.toFixed(4)}`],
        ],
      },
    ],
  }
}
