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
  /** Rooms that a technician is limited to; null for all of them. */
  rooms: number[] | null
  /** Secret of the second factor, base32; null where there is none. */
  factorSecret: string | null
  /** One that is being set up. */
  factorOffered: string | null
  /** The last half minute (of 30 s since 1970) whose code was used. */
  factorStep: number
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
    rooms: columns.jsonOrNull('rooms'),
    factorSecret: columns.textOrNull('factor_secret'),
    factorOffered: columns.textOrNull('factor_offered'),
    factorStep: columns.integer('factor_step'),
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

/** A code that takes the place of the second factor once. */
export interface RecoveryCodeRow {
  id: number
  accountId: number
  /** SHA-256, hexadecimal. */
  hash: string
}

export const recoveryCodeEntity = new EntitySchema<RecoveryCodeRow>({
  name: 'recovery_code',
  columns: {
    id: columns.id as never,
    accountId: columns.integer('account_id'),
    hash: columns.text('hash'),
  },
})

/** A token by which a program asks in its maker's name. */
export interface ApiTokenRow {
  id: number
  accountId: number
  name: string
  role: Role
  rooms: number[] | null
  /** SHA-256 of the token, hexadecimal. */
  hash: string
  madeAt: number
  expiresAt: number
  usedAt: number | null
}

export const apiTokenEntity = new EntitySchema<ApiTokenRow>({
  name: 'api_token',
  columns: {
    id: columns.id as never,
    accountId: columns.integer('account_id'),
    name: columns.text('name'),
    role: columns.text('role'),
    rooms: columns.jsonOrNull('rooms'),
    hash: columns.text('hash'),
    madeAt: columns.integer('made_at'),
    expiresAt: columns.integer('expires_at'),
    usedAt: columns.integerOrNull('used_at'),
  },
})
