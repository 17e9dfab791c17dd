import { EntitySchema } from 'typeorm'
import { columns } from '../data/columns'

/** Contents that a workstation's courier left. */
export interface CourierContentRow {
  workstationId: number
  hash: string
  /** Bytes. */
  size: number
  at: number
}
export const courierContentEntity = new EntitySchema<CourierContentRow>({
  name: 'courier_content',
  columns: {
    workstationId: { type: 'integer', name: 'workstation_id', primary: true },
    hash: { type: 'text', primary: true },
    size: columns.integer('size'),
    at: columns.integer('at'),
  },
})
