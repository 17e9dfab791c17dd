import { aimCurve, targetXyz, type ResolvedAim } from '../aims/aim'
import { convertXyzToLab } from '../color/lab'
import type { GridAndCurvesShape, GridOnlyShape, PipelineShape } from '../tables/pipelineShape'
import { buildSlotTables, tabulateCurves, toInteger, type ChannelCurves, type SlotTables } from '../tables/slotTables'
import { lookUp1d, placeOnRising } from '../tables/table1d'
import type { Table3D } from '../tables/table3d'
import { buildPipeline, buildTable1d } from './buildTable1d'
import { buildTable3d } from './buildTable3d'
import { curveEntries, type Characterization } from './characterization'
import { makeInverter } from './inversion'

/** The root of light in which steps are about even. */
const rootExponent = 2.4

const integersOf = ({ values }: Table3D, bits: number) => Array.from(values, (v) => toInteger(v, bits))

function gridOnly(c: Characterization, aim: ResolvedAim, shape: GridOnlyShape): SlotTables {
  const table = buildTable3d(c, aim, { size: shape.grid.size })
  return { format: 'bichroma-slot-tables/2', shape, grid: integersOf(table, shape.grid.bits) }
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
  const table = buildTable3d(c, aim, {
    size: shape.grid.size,
    heldFor: (drive, channel) => addresses[channel].of(lightOf(drive, channel)),
  })
  const curve = (channel: number) => (address: number) =>
    placeOnRising(c.curves, Math.cbrt(addresses[channel].lightAt(address)), channel * curveEntries, curveEntries)
  return {
    format: 'bichroma-slot-tables/2',
    shape,
    grid: integersOf(table, shape.grid.bits),
    after: tabulateCurves([0, 1, 2].map(curve) as unknown as ChannelCurves, shape.after),
  }
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
    case '1D': {
      const entries = Math.max(256, shape.after.entries)
      const { channels } = buildTable1d(c, aim, { entries })
      const curve = (k: number) => (x: number) => lookUp1d(channels[k], x)
      return {
        format: 'bichroma-slot-tables/2',
        shape,
        after: tabulateCurves([curve(0), curve(1), curve(2)], shape.after),
      }
    }
  }
}
