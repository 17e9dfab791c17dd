import { signalScales, type SignalScale } from '@bichroma/core/formats'
import { idField, numberField, nameField, timeField } from '../fields'
import { yup } from '../sentences'

/** Largest file of readings that is taken in, characters. */
export const longestReadingsFile = 4_000_000

/** Readings measured with another tool, to be judged and kept for a display. */
export const importReadingsSchema = yup
  .object({
    slot: numberField().required().integer().min(1).max(8).label('Slot'),
    /** The aim to judge by, where it is not the slot's own. */
    aimId: idField().optional(),
    fileName: nameField().max(120).label('File name'),
    /** CGATS.17, CxF3 or CSV. */
    text: yup
      .string()
      .strict()
      .required()
      .max(longestReadingsFile, ({ path }) => `“${path}” must be a file of 4 MB or less.`)
      .label('File'),
    /** What full signal is written as; found out when left out. */
    scale: (numberField() as yup.NumberSchema<SignalScale | undefined>).oneOf([...signalScales]).optional(),
    /** When it was measured, ms since 1970. */
    readAt: timeField().required().label('Read at'),
    /** What it was measured with. */
    instrument: nameField().label('Instrument'),
  })
  .noUnknown()
export type ImportReadings = yup.InferType<typeof importReadingsSchema>

/** Where imported readings came from. */
export interface Imported {
  fileName: string
  format: string
  /** SHA-256 of the file among the contents. */
  hash: string
  instrument: string
}
