import type { InstrumentOffset } from '@bichroma/core/peers'
import type { PanelKind } from '@bichroma/core/register'
import type { RunState } from '@bichroma/core/runs'
import { idField, numberField } from '../fields'
import { listFields } from '../lists'
import { yup } from '../sentences'

/** Short runs of one ring at most: a working day of somebody’s. */
export const mostRingSteps = 200
/** Instruments and displays of one ring at most. */
const [mostInstruments, mostDisplays] = [8, 12]

const once = (what: string) => ({
  name: 'once',
  message: `“${what}” must name each once.`,
  test: (ids: readonly unknown[] | undefined) => new Set(ids ?? []).size === (ids ?? []).length,
})

/** Starts a ring: all these instruments read all these displays, in an order in which their drift falls out. */
export const startRingSchema = yup
  .object({
    instruments: yup
      .array()
      .of(idField().required())
      .strict()
      .required()
      .min(2)
      .max(mostInstruments)
      .label('Instruments')
      .test(once('Instruments')),
    displays: yup
      .array()
      .of(idField().required())
      .strict()
      .required()
      .min(1)
      .max(mostDisplays)
      .label('Displays')
      .test(once('Displays')),
    /** The one that the others are told beside; none for what all read on average. */
    reference: idField().nullable().defined().label('Reference'),
    /** Standard uncertainty of luminance between two of them that is wanted, as a share. */
    wanted: numberField().required().min(0.0002).max(0.05).label('Uncertainty wanted'),
  })
  .noUnknown()
export type StartRing = yup.InferType<typeof startRingSchema>

export const ringListSchema = yup.object({ ...listFields }).noUnknown()

export const ringStates = ['under way', 'done', 'broken off'] as const
export type RingState = (typeof ringStates)[number]

/** What each instrument reads more, on one kind of panel or on all; null where looks were too few to tell. */
export interface RingResult {
  panelKind: PanelKind | null
  displays: number
  offsets: readonly InstrumentOffset[] | null
}

export interface Ring {
  id: number
  referenceId: number | null
  wanted: number
  uncertainty: number
  startedAt: number
  endedAt: number | null
  by: string
  state: RingState
  /** Why it was broken off. */
  says: string | null
  result: RingResult[] | null
  instruments: { id: number; name: string }[]
  displays: number
  /** How many steps it has, and those of one that is under way. */
  stepCount: number
  steps: {
    seq: number
    displayId: number
    displayName: string
    instrumentId: number
    runId: number | null
    runState: RunState | null
    message: string | null
  }[]
}
