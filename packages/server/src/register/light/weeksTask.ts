import Database from 'better-sqlite3'
import { dateOfDay, zoneClock } from '@bichroma/core/basics'
import { lightPattern } from '@bichroma/core/aims'
import type { LightWeeks } from '@bichroma/contract'
import { hoursQuery, type HourRow } from './keepReading'

export interface WeeksAsked {
  /** The store's file: it is only read. */
  readonly file: string
  readonly roomId: number
  /** ms since 1970. */
  readonly from: number
  readonly until: number
  readonly zone: string
}

/** A room's light by weekday and hour, and by month. Years are tens of thousands of hours, so it is done in a thread. */
export function lightOfWeeks({ file, roomId, from, until, zone }: WeeksAsked): Pick<LightWeeks, 'cells' | 'months'> {
  const store = new Database(file, { readonly: true, fileMustExist: true })
  try {
    const hours = store.prepare(hoursQuery).all(roomId, from, until) as HourRow[]
    const clock = zoneClock(zone)
    const months = new Map<string, LightWeeks['months'][number]>()
    let [day, month] = [NaN, '']
    for (const h of hours) {
      const on = clock(h.at).day
      if (on !== day) month = dateOfDay(on).slice(0, 7)
      day = on
      const m = months.get(month) ?? { month, readings: 0, lux: 0, least: Infinity, most: 0, outside: 0 }
      const readings = m.readings + h.readings
      months.set(month, {
        month,
        readings,
        lux: (m.lux * m.readings + h.lux * h.readings) / readings,
        least: Math.min(m.least, h.least),
        most: Math.max(m.most, h.most),
        outside: (m.outside * m.readings + h.outside) / readings,
      })
    }
    return { cells: lightPattern(hours, zone), months: [...months.values()] }
  } finally {
    store.close()
  }
}
