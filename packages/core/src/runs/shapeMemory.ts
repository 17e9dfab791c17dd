import type { PatchReading } from '../color/patchReading'
import { add, invert, multiply, multiplyVector, subtract } from '../color/matrix3'
import { panelMatrix, type RawCorners } from './level'
import type { DriveReading } from './shape'

/** What a run's Shape learned of the raw panel, kept so that a refresh can start from it. */
export type ShapeMemory =
  | { readonly kind: 'model'; readonly readings: readonly PatchReading[] }
  | {
      readonly kind: 'greys'
      readonly corners: RawCorners
      /** Greys shown raw and corrected: drives of the three channels may differ. */
      readonly greys: readonly DriveReading[]
      readonly colors: readonly DriveReading[]
    }

/** What a memory holds of the raw panel, as readings by their drives. */
export function readingsOfMemory(memory: ShapeMemory): PatchReading[] {
  if (memory.kind === 'model') return [...memory.readings]
  const { black, white, red, green, blue } = memory.corners
  const reading = ({ drive, xyz }: DriveReading): PatchReading => ({ name: '', rgb: drive, xyz })
  return [
    reading({ drive: [0, 0, 0], xyz: black }),
    reading({ drive: [1, 1, 1], xyz: white }),
    reading({ drive: [1, 0, 0], xyz: red }),
    reading({ drive: [0, 1, 0], xyz: green }),
    reading({ drive: [0, 0, 1], xyz: blue }),
    ...[...memory.greys, ...memory.colors].map(reading),
  ]
}

/** Readings of a panel as they would be now that its corners have changed: each channel's light as before, by the new mix. */
export function carryOver(readings: readonly DriveReading[], before: RawCorners, now: RawCorners): DriveReading[] {
  const change = multiply(panelMatrix(now), invert(panelMatrix(before)))
  return readings.map(({ drive, xyz }) => ({
    drive,
    xyz: add(multiplyVector(change, subtract(xyz, before.black)), now.black),
  }))
}
