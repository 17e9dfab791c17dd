import type { ChainProof } from '@bichroma/core/ledger'
import { textField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import { yup } from '../sentences'

/** Kinds of things that the ledger tells of. */
export const ledgerThings = [
  'account',
  'aim',
  'backup',
  'correction',
  'display',
  'instrument',
  'limits',
  'peer set',
  'placement',
  'policy',
  'ring',
  'room',
  'rounds',
  'run',
  'session',
  'settings',
  'token',
  'visit',
  'wave',
  'workstation',
] as const
export type LedgerThing = (typeof ledgerThings)[number]

/** What became of a thing, in a word that ends a sentence: “Marit Oyen added room Sedge Room”. */
export const ledgerActs = [
  'added',
  'changed',
  'removed',
  'started',
  'stopped',
  'resumed',
  'confirmed',
  'proved',
  'put back',
  'withdrew',
  'imported',
  'rebuilt',
  'measured',
  'made',
  'placed',
  'undid',
  'moved',
  'swapped',
  'planned',
  'told',
  'let go',
  'blocked',
  'dropped',
  'reported',
  'answered',
  'declined',
  'replaced',
  'stored',
  'retired',
  'returned',
  'verified',
  'invited',
  'locked',
  'unlocked',
  'reset',
  'signed in',
  'was refused',
  'signed out',
] as const
export type LedgerAct = (typeof ledgerActs)[number]

/** A field as it was and as it became; left out where there was nothing. */
export interface LedgerChange {
  readonly field: string
  readonly from?: unknown
  readonly to?: unknown
}

/** One entry: who did what to which thing, and when. */
export interface LedgerEntry {
  readonly id: number
  /** UTC, ms since 1970. */
  readonly at: number
  /** Null for what Bichroma itself did. */
  readonly accountId: number | null
  readonly by: string
  readonly act: LedgerAct
  readonly thing: LedgerThing
  readonly thingId: number | null
  /** The thing's name when it was done. */
  readonly name: string
  readonly changes: readonly LedgerChange[]
  /** Why, where it was asked. */
  readonly why: string | null
  /** What it rests on: numbers and names by what they are. */
  readonly evidence: Readonly<Record<string, string | number | null>>
  /** SHA-256 of the entry before it and of this one. */
  readonly hash: string
}

const dayField = () =>
  yup
    .string()
    .strict()
    .test(
      'day',
      ({ path }) => `“${path}” must be a day, as in 2026-11-26.`,
      (v) => v === undefined || (/^\d{4}-\d{2}-\d{2}$/.test(v) && !Number.isNaN(Date.parse(v))),
    )

/** What the ledger can be asked for. */
export const ledgerListSchema = yup
  .object({
    ...listFields,
    thing: wordField(ledgerThings),
    thingId: numeralField(),
    by: textField(60),
    /** Days in UTC, both included. */
    from: dayField(),
    to: dayField(),
  })
  .noUnknown()
export type LedgerQuery = yup.InferType<typeof ledgerListSchema>

/** What looking through the whole ledger found. */
export type LedgerProof = ChainProof
