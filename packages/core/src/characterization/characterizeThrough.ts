import type { PatchReading } from '../color/patchReading'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { makeSlotPipeline } from '../tables/slotPipeline'
import type { SlotTables } from '../tables/slotTables'
import { fitAdditiveModel } from './additiveModel'
import { gridSize, predictLabInto, predictXyz, type Characterization } from './characterization'
import { characterizeAnew } from './characterizeAnew'
import { characterize, noResidual, withoutResidual } from './characterize'

/**
 * Greys, one for each code of 8 bits so that the curves follow the steps of a coarse table, and places along each axis of the
 * colours, from which the additive part of a display behind tables is fitted.
 */
const [greyCount, colorsAlong] = [256, 7]

/**
 * What a slot's tables make of a panel: a characterization by signals of what is known by drives. No colour is lost in it
 * but what lies between the 33 places of the residual's grid.
 */
export function throughTables(panel: Characterization, tables: SlotTables): Characterization {
  const driveOf = makeSlotPipeline(tables)
  const shown = (rgb: Triple): PatchReading => ({ name: '', rgb, xyz: predictXyz(panel, driveOf(rgb)) })
  const along = (count: number) => Array.from({ length: count }, (_, i) => i / (count - 1))
  const axis = along(colorsAlong)
  const colors = axis.flatMap((r) => axis.flatMap((g) => axis.map((b) => shown([r, g, b]))))
  const greys = along(greyCount).map((v) => shown([v, v, v]))
  const base: Characterization = {
    ...withoutResidual(fitAdditiveModel([...greys, ...colors])),
    residual: noResidual,
    kernel: panel.kernel,
    readings: panel.readings,
  }
  // Where a code lies, for between two a coarse table shows neither: the residual is smooth, and the curves have the steps.
  const places = along(gridSize).map((v) => Math.round(v * (greyCount - 1)) / (greyCount - 1))
  const found = new Float64Array(3)
  const residual = new Float64Array(3 * gridSize ** 3)
  let at = 0
  for (const r of places)
    for (const g of places)
      for (const b of places) {
        const lab = convertXyzToLab(predictXyz(panel, driveOf([r, g, b])), base.white)
        predictLabInto(base, r, g, b, found)
        for (let k = 0; k < 3; k++) residual[at++] = lab[k] - found[k]
      }
  return { ...base, residual }
}

/**
 * A display through a slot: what is known of the panel by its drives, through the slot's tables, brought to what was read
 * of the slot itself. Needs black and white among the readings; throws Error naming what is missing.
 */
export const characterizeThrough = (
  panel: Characterization,
  tables: SlotTables,
  readings: readonly PatchReading[],
): Characterization => characterizeAnew(throughTables(panel, tables), readings)

/**
 * The same where panel and slot were read in one run, and nothing has aged between: all readings, by the drives that arrived
 * for them, are of one panel. Needs what {@link characterize} needs; throws Error naming what is missing.
 */
export function characterizeTogether(
  panel: readonly PatchReading[],
  tables: SlotTables,
  readings: readonly PatchReading[],
): Characterization {
  const driveOf = makeSlotPipeline(tables)
  const driven = readings.map((reading) => ({ ...reading, rgb: driveOf(reading.rgb) }))
  return throughTables(characterize([...panel, ...driven]), tables)
}
