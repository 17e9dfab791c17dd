import { day } from '../basics/day'
import { certificateDays } from '../register/certificate'

/** Rings are laid twice a year. */
const ringDays = 182
/** Days before a certificate ends by which a ring is laid, so that what it leaves is known when another begins. */
const beforeEnd = 14
/** A ring says of a certificate how its instrument read at the end if it was laid so many days before. */
const counts = 60
/** Days for which a correction is taken to hold: filters and panels age. */
const correctionDays = 365

/** What of an instrument falls due. */
export type InstrumentDueWhy =
  | 'never laid'
  | 'half a year'
  | 'certificate ends'
  | 'a year old'
  | 'its instrument was certified since'
  | 'its reference was certified since'

export interface RingDue {
  /** ms since 1970. */
  readonly at: number
  readonly why: Extract<InstrumentDueWhy, 'never laid' | 'half a year' | 'certificate ends'>
  /** The instrument whose certificate it is laid for. */
  readonly instrumentId: number | null
}

/**
 * When the instruments of a studio are to be laid on the same displays again: twice a year, and before a certificate ends.
 * `last`: when they were, ms since 1970. Null for fewer than two instruments.
 */
export function ringDue(
  instruments: readonly { readonly id: number; readonly certifiedAt: number | null }[],
  last: number | null,
  now: number,
): RingDue | null {
  if (instruments.length < 2) return null
  if (last === null) return { at: now, why: 'never laid', instrumentId: null }
  const ends = instruments.flatMap(({ id, certifiedAt }): RingDue[] => {
    if (certifiedAt === null) return []
    const end = certifiedAt + certificateDays * day
    // One that has ended is not made good by a ring.
    return end < now || last > end - counts * day
      ? []
      : [{ at: end - beforeEnd * day, why: 'certificate ends', instrumentId: id }]
  })
  return ends.reduce<RingDue>((soonest, one) => (one.at < soonest.at ? one : soonest), {
    ...{ at: last + ringDays * day, why: 'half a year', instrumentId: null },
  })
}

export interface CorrectionAgain {
  /** ms since 1970. */
  readonly at: number
  readonly why: Extract<
    InstrumentDueWhy,
    'a year old' | 'its instrument was certified since' | 'its reference was certified since'
  >
}

/**
 * When a correction is to be made again: a year after it was, or as soon as either of its instruments has been certified
 * since, for it reads otherwise then. All in ms since 1970.
 */
export function correctionAgain(made: {
  readonly at: number
  readonly instrumentCertifiedAt: number | null
  readonly referenceCertifiedAt: number | null
}): CorrectionAgain {
  const since = (certifiedAt: number | null, why: CorrectionAgain['why']): CorrectionAgain[] =>
    certifiedAt !== null && certifiedAt > made.at ? [{ at: certifiedAt, why }] : []
  return [
    ...since(made.instrumentCertifiedAt, 'its instrument was certified since'),
    ...since(made.referenceCertifiedAt, 'its reference was certified since'),
  ].reduce<CorrectionAgain>((soonest, one) => (one.at < soonest.at ? one : soonest), {
    at: made.at + correctionDays * day,
    why: 'a year old',
  })
}
