import { aimCurve, aimTargets, targetXyz, type ResolvedAim } from '../aims/aim'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import type { CurvesShape, GridAndCurvesShape, GridOnlyShape, PipelineShape, TableShape } from '../tables/pipelineShape'
import { buildSlotTables, fineBits, tabulateCurves, type ChannelCurves, type SlotTables } from '../tables/slotTables'
import { lookUp1d, placeOnRising } from '../tables/table1d'
import { buildPipeline, buildTable1d } from './buildTable1d'
import { buildGrid } from './buildTable3d'
import { curveEntries, predictLab, type Characterization } from './characterization'
import { makeInverter } from './inversion'

/** The root of light in which steps are about even. */
const rootExponent = 2.4

function gridOnly(c: Characterization, aim: ResolvedAim, shape: GridOnlyShape): SlotTables {
  const { size, bits } = shape.grid
  return { format: 'bichroma-slot-tables/2', shape, grid: buildGrid(c, aim, { size, integerBits: bits }) }
}

/** What a channel's light is stored by between a 3D table and the curves behind it, 0–1, and back. */
interface Address {
  readonly of: (light: number) => number
  readonly lightAt: (address: number) => number
}

/**
 * The aim's own tone, counted from the light that the channel has in the aim's white: of greys the table is then straight
 * from node to node, near black too, where a root would bend most. Colours that take more of the channel go on by a root.
 */
function addressOf({ encode, decode }: ReturnType<typeof aimCurve>, lightOfWhite: number): Address {
  const most = lightOfWhite ** (-1 / rootExponent)
  const stretched = (x: number) => (x <= 1 ? encode(x) : x ** (1 / rootExponent))
  const back = (t: number) => (t <= 1 ? decode(t) : t ** rootExponent)
  return {
    of: (light) => Math.min(1, stretched(light / lightOfWhite) / most),
    lightAt: (address) => Math.min(1, back(address * most) * lightOfWhite),
  }
}

/** Of a channel that white hardly needs, the light that is taken for it all the same. */
const leastOfWhite = 0.05

/** The curves take the channels' own tone out, so that the 3D table in front of them is nearly straight between nodes. */
function gridAndCurves(c: Characterization, aim: ResolvedAim, shape: GridAndCurvesShape): SlotTables {
  const lightOf = (drive: number, channel: number) =>
    Math.max(0, lookUp1d(c.curves, drive, channel * curveEntries, curveEntries)) ** 3
  const white = new Float64Array(3)
  const [L, a, b] = convertXyzToLab(targetXyz(aim, [1, 1, 1]), c.white)
  makeInverter(c).intoSignal(L, a, b, white)
  const tone = aimCurve(aim)
  const addresses = Array.from(white, (drive, channel) =>
    addressOf(tone, Math.min(1, Math.max(leastOfWhite, lightOf(drive, channel)))),
  )
  const grid = buildGrid(c, aim, {
    size: shape.grid.size,
    integerBits: shape.grid.bits,
    heldFor: (drive, channel) => addresses[channel].of(lightOf(drive, channel)),
  })
  const curve = (channel: number) => (address: number) =>
    placeOnRising(c.curves, Math.cbrt(addresses[channel].lightAt(address)), channel * curveEntries, curveEntries)
  return {
    format: 'bichroma-slot-tables/2',
    shape,
    grid,
    after: tabulateCurves([0, 1, 2].map(curve) as unknown as ChannelCurves, shape.after),
  }
}

/** A table per channel from signal to drive; where its steps are coarse, the three that show each grey best together. */
function curvesOnly(c: Characterization, aim: ResolvedAim, shape: CurvesShape): SlotTables {
  const { entries, bits } = shape.after
  const { channels } = buildTable1d(c, aim, { entries: Math.max(256, entries) })
  const curve = (k: number) => (x: number) => lookUp1d(channels[k], x)
  const after =
    bits < fineBits
      ? bestCodes(c, aim, [curve(0), curve(1), curve(2)], shape.after)
      : tabulateCurves([curve(0), curve(1), curve(2)], shape.after)
  return { format: 'bichroma-slot-tables/2', shape, after }
}

/** The integers on either side of each drive with which every grey comes out best; no channel steps back. */
function bestCodes(
  c: Characterization,
  aim: ResolvedAim,
  curves: ChannelCurves,
  { entries, bits }: TableShape,
): NonNullable<SlotTables['after']> {
  const top = 2 ** bits - 1
  const target = aimTargets(aim)
  const codes: [number[], number[], number[]] = [[], [], []]
  let last: Triple = [0, 0, 0]
  for (let i = 0; i < entries; i++) {
    const v = i / (entries - 1)
    const wanted = convertXyzToLab(target([v, v, v]), c.white)
    const sides = curves.map((curve, k) => {
      const below = Math.floor(curve(v) * top)
      return [Math.max(last[k], below), Math.max(last[k], Math.min(top, below + 1))] as const
    })
    let [least, best] = [Infinity, last]
    for (let n = 0; n < 8; n++) {
      const tried: Triple = [sides[0][n & 1], sides[1][(n >> 1) & 1], sides[2][n >> 2]]
      const off = deltaE2000(wanted, predictLab(c, [tried[0] / top, tried[1] / top, tried[2] / top]))
      if (off < least) [least, best] = [off, tried]
    }
    last = best
    best.forEach((code, k) => codes[k].push(code))
  }
  return codes
}

/**
 * The contents of a slot that bring a characterized display (its drive as the characterization's signal) to an aim, in
 * the integers of the slot's shape.
 */
export function buildSlot(c: Characterization, aim: ResolvedAim, shape: PipelineShape): SlotTables {
  switch (shape.kind) {
    case '1D+3x3':
      return buildSlotTables(buildPipeline(c, aim), shape)
    case '1D+3D':
      return gridAndCurves(c, aim, shape)
    case '3D':
      return gridOnly(c, aim, shape)
    case '1D':
      return curvesOnly(c, aim, shape)
  }
}
