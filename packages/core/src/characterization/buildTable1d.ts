import { aimCurve, aimTargets, type ResolvedAim } from '../aims/aim'
import { convertXyzToLab } from '../color/lab'
import { invert, multiply, multiplyVector, type Matrix3, type Triple } from '../color/matrix3'
import type { Table1D } from '../tables/table1d'
import type { PipelineAim } from '../tables/slotTables'
import { codeOfSignal, signalOfCode, type SignalRange } from '../tables/signalRange'
import { monotoneCurve } from '../tone/monotoneCurve'
import { channelColumns, type Characterization } from './characterization'
import { makeInverter } from './inversion'

export interface Table1dOptions {
  /** Entries of each channel, 256–4096. */
  readonly entries: number
  readonly range?: SignalRange
  /** Bits of the code values, for a limited range: 8, 10, 12 or 16. */
  readonly bits?: number
}

/** The signals (0–1) with which a display shows greys of an aim; each channel never steps back as the greys rise. */
function signalsOfGreys(c: Characterization, aim: ResolvedAim, greys: readonly number[]): Triple[] {
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  let last: Triple = [0, 0, 0]
  return greys.map((v) => {
    const [L, a, b] = convertXyzToLab(target([v, v, v]), c.white)
    intoSignal(L, a, b, found)
    last = [Math.max(last[0], found[0]), Math.max(last[1], found[1]), Math.max(last[2], found[2])]
    return last
  })
}

/**
 * A table per channel that brings a characterized display's greys to an aim: for displays, and video cards, that hold
 * nothing more. Colours keep the display's own primaries. Rising in every channel. Throws RangeError on entries outside
 * 256–4096.
 */
export function buildTable1d(
  c: Characterization,
  aim: ResolvedAim,
  { entries, range = 'full', bits = 10 }: Table1dOptions,
): Table1D {
  if (!(Number.isInteger(entries) && entries >= 256 && entries <= 4096))
    throw new RangeError('A 1D table has 256 to 4,096 entries.')
  const signals = Array.from({ length: entries }, (_, i) => signalOfCode(i / (entries - 1), range, bits))
  const inside = signals.map((s) => Math.min(1, Math.max(0, s)))
  const found = signalsOfGreys(c, aim, inside)
  const channel = (k: number) =>
    Float64Array.from(signals, (s, i) =>
      Math.min(1, Math.max(0, codeOfSignal(found[i][k] + s - inside[i], range, bits))),
    )
  return { channels: [channel(0), channel(1), channel(2)] }
}

/** Grey levels through which the last curves of a pipeline run; closer together in the dark. */
const levels = Array.from({ length: 65 }, (_, i) => (i / 64) ** 1.3)

/**
 * What a slot with a table, a 3×3 matrix and a table per channel shall do so that a characterized display comes to an
 * aim: the aim's tone response, the matrix between the two sets of primaries, and curves that make the greys right
 * whatever crosstalk does to them. For {@link buildSlotTables}, which rounds it to a display's integers. Throws
 * RangeError for HLG, whose system gamma no table per channel can make.
 */
export function buildPipeline(c: Characterization, aim: ResolvedAim): PipelineAim {
  if (aim.toneResponse.kind === 'HLG') throw new RangeError('Tables per channel cannot make HLG’s system gamma.')
  const { decode } = aimCurve(aim)
  const toChannels = multiply(invert(channelColumns(c)), aim.matrix)
  const drives = signalsOfGreys(c, aim, levels)
  const lights = levels.map((v) => multiplyVector(toChannels, [decode(v), decode(v), decode(v)]))
  // A channel asked for more than it has would be cut off; the aim's white is within reach, so that only noise can do it.
  const most = Math.max(1, ...lights[lights.length - 1])
  const drive = ([0, 1, 2] as const).map((k) => {
    const points = levels
      .map((_, i) => [Math.cbrt(lights[i][k] / most), drives[i][k]] as const)
      .filter(([light], i, all) => i === 0 || light > all[i - 1][0] + 1e-9)
    const curve = monotoneCurve(
      points.map(([light]) => light),
      points.map(([, v]) => v),
    )
    return (light: number) => Math.min(1, Math.max(0, curve(Math.cbrt(Math.max(0, light)))))
  }) as unknown as PipelineAim['drive']
  const matrix = toChannels.map((row) => row.map((v) => v / most)) as unknown as Matrix3
  return { decode: [decode, decode, decode], matrix, drive }
}
