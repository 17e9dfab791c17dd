import { EntitySchema } from 'typeorm'
import type { Aim, Limits } from '@bichroma/core/aims'
import { columns } from '../data/columns'

export interface AimRow {
  id: number
  name: string
  aim: Aim
  updatedAt: number
}
export const aimEntity = new EntitySchema<AimRow>({
  name: 'aim',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    aim: columns.json('aim'),
    updatedAt: columns.integer('updated_at'),
  },
})

export interface LimitsRow {
  id: number
  name: string
  limits: Limits
  updatedAt: number
}
export const limitsEntity = new EntitySchema<LimitsRow>({
  name: 'limits',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    limits: columns.json('limits'),
    updatedAt: columns.integer('updated_at'),
  },
})
