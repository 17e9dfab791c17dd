import { EntitySchema } from 'typeorm'
import { columns } from './columns'

/** Bytes kept once under their SHA-256. */
export interface ContentRow {
  hash: string
  bytes: Buffer
  createdAt: number
}
export const contentEntity = new EntitySchema<ContentRow>({
  name: 'content',
  columns: {
    hash: { type: 'text', primary: true },
    bytes: { type: 'blob' },
    createdAt: columns.integer('created_at'),
  },
})
