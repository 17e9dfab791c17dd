import type { KeptDays } from '@bichroma/core/rounds'
import { numeralField } from '../lists'
import { yup } from '../sentences'

/** How many months back. */
export const keptSchema = yup.object({ months: numeralField(24) }).noUnknown()

/** Display-days of something, month by month. */
export interface KeptRow {
  name: string
  /** The building of a room; null where there is none to tell. */
  building: string | null
  displays: number
  months: KeptDays[]
}

/** How well the displays were kept: display-days by what was said of each, month by month. */
export interface KeptWell {
  /** As 2026-11, the oldest first; the last goes on. */
  months: string[]
  total: KeptDays[]
  rooms: KeptRow[]
  models: KeptRow[]
}
