import type { JudgedVerdict } from '@bichroma/core/aims'
import { idField, timeField } from '../fields'
import { wordField } from '../lists'
import { yup } from '../sentences'

/** By what an offset is known: a ring, or what ordinary checks tell of an instrument that has changed. */
export const offsetSources = ['ring', 'checks'] as const
export type OffsetSource = (typeof offsetSources)[number]

/** Weighs what an instrument's offset would change; its figures are looked up, and not sent. */
export const weighOffsetSchema = yup
  .object({
    instrumentId: idField().required().label('Instrument'),
    source: wordField<OffsetSource>(offsetSources).required(),
    /** The ring that tells it; none where checks do. */
    ringId: idField().nullable().defined().label('Ring'),
    /** From when on it is taken to have read so; null where checks tell since when. */
    since: timeField().nullable().defined().label('Since'),
  })
  .noUnknown()
  .test({
    name: 'ring',
    test: (value, context) =>
      value?.source !== 'ring' ||
      (value.ringId !== null && value.since !== null) ||
      context.createError({
        path: value.ringId === null ? 'ringId' : 'since',
        message: 'An offset by a ring needs the ring, and the day since when the instrument is taken to have read so.',
      }),
  })

/**
 * `weighing`: what its runs would come to is being worked out; `weighed`: it is known, and nothing has changed; `taking`: they
 * are being judged anew; `taken`: they are, and later runs as well; `ending`: they are being put back as they were read.
 */
export const offsetStates = ['weighing', 'weighed', 'taking', 'taken', 'ending', 'ended'] as const
export type OffsetState = (typeof offsetStates)[number]

/** An instrument's offset, and what taking it into account changes. */
export interface InstrumentOffsetTold {
  id: number
  instrumentId: number
  instrument: string
  source: OffsetSource
  ringId: number | null
  /** ms since 1970. */
  since: number
  /** What it reads more: luminance as a share, u′ and v′; and half of the intervals that hold them 95 times of 100. */
  luminance: number
  u: number
  v: number
  within: number
  withinUv: number
  at: number
  by: string
  state: OffsetState
  /** Validations that it has to do with, those that were judged anew so far, and those whose verdict is or would be another. */
  runs: number
  judged: number
  others: number
  takenAt: number | null
  takenBy: string | null
  endedAt: number | null
  endedBy: string | null
  /** Its certificate was renewed after it was weighed: what it has read since is not touched. ms since 1970. */
  renewedAt: number | null
}

/** What became of a run whose instrument's offset was taken into account. */
export interface JudgedAnew {
  offsetId: number
  luminance: number
  since: number
  by: string
  /** ms since 1970. */
  at: number
  /** As it was read. */
  verdict: JudgedVerdict
  averageDeltaE: number
}
