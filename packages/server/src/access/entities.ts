import { EntitySchema } from 'typeorm'
import type { Role } from '@bichroma/contract'
import { columns } from '../data/columns'

export interface AccountRow {
  id: number
  login: string
  name: string
  role: Role
  /** Argon2id, in its own encoded form; empty until its owner has chosen a password. */
  passwordHash: string
  /** UTC, ms since 1970; null while it may sign in. */
  lockedAt: number | null
  /** UTC, ms since 1970; null for never. */
  signedInAt: number | null
}

export const accountEntity = new EntitySchema<AccountRow>({
  name: 'account',
  columns: {
    id: columns.id as never,
    login: columns.text('login'),
    name: columns.text('name'),
    role: columns.text('role'),
    passwordHash: columns.text('password_hash'),
    lockedAt: columns.integerOrNull('locked_at'),
    signedInAt: columns.integerOrNull('signed_in_at'),
  },
})

export interface SessionRow {
  sid: string
  data: string
  /** When it ends in any case; times are UTC, ms since 1970. */
  expiresAt: number
  accountId: number | null
  startedAt: number
  seenAt: number
  /** What the browser says it is. */
  browser: string
}

export const sessionEntity = new EntitySchema<SessionRow>({
  name: 'session',
  columns: {
    sid: { type: 'text', primary: true },
    data: columns.text('data'),
    expiresAt: columns.integer('expires_at'),
    accountId: columns.integerOrNull('account_id'),
    startedAt: columns.integer('started_at'),
    seenAt: columns.integer('seen_at'),
    browser: columns.text('browser'),
  },
})

/** A one-time link: an invitation, or a reset; gone once it was used. */
export interface AccountTokenRow {
  id: number
  accountId: number
  /** SHA-256 of the token, hexadecimal. */
  hash: string
  madeAt: number
  expiresAt: number
}

export const accountTokenEntity = new EntitySchema<AccountTokenRow>({
  name: 'account_token',
  columns: {
    id: columns.id as never,
    accountId: columns.integer('account_id'),
    hash: columns.text('hash'),
    madeAt: columns.integer('made_at'),
    expiresAt: columns.integer('expires_at'),
  },
})
