import type { XYZ } from './chromaticity'
import type { Triple } from './matrix3'

/** One patch as it was read: signal 0–1 and XYZ in cd/m². */
export interface PatchReading {
  readonly name: string
  readonly rgb: Triple
  readonly xyz: XYZ
}
