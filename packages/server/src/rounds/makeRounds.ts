import Database from 'better-sqlite3'
import {
  daysAfter,
  dayStart,
  planStudio,
  whatIf,
  type RoundsPlan,
  type RoundsVisit,
  type WhatIf,
} from '@bichroma/core/rounds'
import { gatherRounds, type Gathered, type VisitPurpose } from './gather'

/** What a plan is asked for. */
export interface PlanAsked {
  /** The store's file: it is only read. */
  readonly file: string
  /** ms since 1970. */
  readonly now: number
  readonly days: number
}

export interface MadeRounds extends RoundsPlan {
  readonly purposes: readonly VisitPurpose[]
  /** What was known of each when it was planned. */
  readonly given: readonly Pick<RoundsVisit, 'displayId' | 'pinned' | 'told' | 'begun'>[]
  readonly first: string
  readonly days: number
  readonly from: number
  readonly until: number
}

function gatherFrom({ file, ...asked }: PlanAsked): Gathered {
  const store = new Database(file, { readonly: true, fileMustExist: true })
  try {
    // As it stands at one instant.
    return store.transaction(() => gatherRounds(store, asked))()
  } finally {
    store.close()
  }
}

/** Rounds for what falls due. Takes up to seconds, so it is done in a thread. */
export function makeRounds(asked: PlanAsked): MadeRounds {
  const { facts, purposes } = gatherFrom(asked)
  const { first, days, hours } = facts
  const [from, until] = [first, daysAfter(first, days)].map((date) => dayStart(date, hours.zone))
  return {
    ...planStudio(facts),
    purposes,
    given: facts.visits.map(({ displayId, pinned, told, begun }) => ({ displayId, pinned, told, begun })),
    first,
    days,
    from,
    until,
  }
}

/** What one thing more would come to, in the same thread. */
export function roundsWhatIf(asked: PlanAsked): WhatIf[] {
  return whatIf(gatherFrom(asked).facts)
}
