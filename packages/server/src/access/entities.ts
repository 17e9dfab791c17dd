import { EntitySchema } from 'typeorm'
import type { Role } from '@bichroma/contract'
import { columns } from '../data/columns'

export interface AccountRow {
  id: number
  login: string
  name: string
  role: Role
  /** Argon2id, in its own encoded form. */
  passwordHash: string
}

export const accountEntity = new EntitySchema<AccountRow>({
  name: 'account',
  columns: {
    id: columns.id as never,
    login: columns.text('login'),
    name: columns.text('name'),
    role: columns.text('role'),
    passwordHash: columns.text('password_hash'),
  },
})

export interface SessionRow {
  sid: string
  data: string
  expiresAt: number
}

export const sessionEntity = new EntitySchema<SessionRow>({
  name: 'session',
  columns: {
    sid: { type: 'text', primary: true },
    data: columns.text('data'),
    expiresAt: columns.integer('expires_at'),
  },
})
