import type { CourierDisplay } from '../courier/deviceFacts'
import type { Kept } from './places'

/** A display that a courier reports and the register does not know at that workstation. */
export interface FoundDisplay extends Pick<
  CourierDisplay,
  'maker' | 'model' | 'serial' | 'firmware' | 'slots' | 'panelKind'
> {
  readonly workstationId: number
  readonly workstation: string
  readonly room: string
  /** The display of that serial number in the register, which stands elsewhere by it; null for one that nobody registered. */
  readonly moved: {
    readonly displayId: number
    readonly name: string
    readonly from: string
    /** It was put away by the register. */
    readonly kept: Kept
    /** The display that is reported where this one is registered, and registered here: the two were swapped. */
    readonly swappedWith: { readonly displayId: number; readonly name: string } | null
  } | null
  /** A display that is registered at this workstation and that its courier does not see: perhaps this one took its place. */
  readonly insteadOf: { readonly displayId: number; readonly name: string } | null
  /** What displays of its model are judged by and how often, where there are some. */
  readonly like: { readonly limitsId: number; readonly checkEveryDays: number } | null
}
