import type { ResolvedAim } from '../aims/aim'
import type { GridAndCurvesShape, GridOnlyShape, PipelineShape } from '../tables/pipelineShape'
import { buildSlotTables, tabulateCurves, toInteger, type ChannelCurves, type SlotTables } from '../tables/slotTables'
import { lookUp1d, placeOnRising } from '../tables/table1d'
import type { Table3D } from '../tables/table3d'
import { buildPipeline, buildTable1d } from './buildTable1d'
import { buildTable3d } from './buildTable3d'
import { curveEntries, type Characterization } from './characterization'

/** Between a 3D table and the curves behind it stands the channel's light to this root, in which steps are even. */
const rootExponent = 2.4

const integersOf = ({ values }: Table3D, bits: number) => Array.from(values, (v) => toInteger(v, bits))

function gridOnly(c: Characterization, aim: ResolvedAim, shape: GridOnlyShape): SlotTables {
  const table = buildTable3d(c, aim, { size: shape.grid.size })
  return { format: 'bichroma-slot-tables/2', shape, grid: integersOf(table, shape.grid.bits) }
}

/** The curves take the channels' own tone out, so that the 3D table in front of them is nearly straight between nodes. */
function gridAndCurves(c: Characterization, aim: ResolvedAim, shape: GridAndCurvesShape): SlotTables {
  const table = buildTable3d(c, aim, {
    size: shape.grid.size,
    heldFor: (drive, channel) =>
      Math.max(0, lookUp1d(c.curves, drive, channel * curveEntries, curveEntries)) ** (3 / rootExponent),
  })
  const curve = (channel: number) => (address: number) =>
    placeOnRising(c.curves, address ** (rootExponent / 3), channel * curveEntries, curveEntries)
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
