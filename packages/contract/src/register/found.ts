import type { CourierDisplay } from '../courier/deviceFacts'
import { idField } from '../fields'
import { yup } from '../sentences'

/** A display that a courier reports and the register does not know at that workstation. */
export interface FoundDisplay extends Pick<
  CourierDisplay,
  'maker' | 'model' | 'serial' | 'firmware' | 'slots' | 'panelKind'
> {
  readonly workstationId: number
  readonly workstation: string
  readonly room: string
  /** The display of that serial number in the register, which stands elsewhere by it; null for one that nobody registered. */
  readonly moved: { readonly displayId: number; readonly name: string; readonly from: string } | null
  /** What displays of its model are judged by and how often, where there are some. */
  readonly like: { readonly limitsId: number; readonly checkEveryDays: number } | null
}

export const moveDisplaySchema = yup.object({ workstationId: idField().required().label('Workstation') }).noUnknown()
