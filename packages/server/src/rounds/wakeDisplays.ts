import type { DataSource } from 'typeorm'
import { CourierGone, type CourierHub } from '../couriers/hub'
import { atomically, changesMade, written } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'

interface WakeServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly now: () => number
  readonly changed: () => void
}

/** Displays that are woken in one look, and the longest that one is kept awake, minutes. */
const [mostAtOnce, longest] = [200, 1440]
const minute = 60_000

/**
 * Wakes the displays that somebody comes to soon, and keeps them awake until the visit ends, so that they are warm by then.
 * One whose courier is away is tried again with the next look; one that refuses is not asked twice for one time.
 */
export async function wakeDisplays({ data, hub, now, changed }: WakeServices): Promise<void> {
  const at = now()
  const due = await data.query<{ id: number; serial: string; workstationId: number; endsAt: number }[]>(
    `SELECT visit.id AS id, serial, workstation_id AS workstationId, ends_at AS endsAt
     FROM visit JOIN display ON display.id = visit.display_id
     WHERE visit.state = 'planned' AND wake_at <= ? AND visit.at > ? AND (woken_at IS NULL OR woken_at < wake_at)
     ORDER BY visit.at LIMIT ${mostAtOnce}`,
    [at, at],
  )
  const woken = await Promise.all(
    due.map(async ({ id, serial, workstationId, endsAt }) => {
      const minutes = Math.min(longest, Math.max(1, Math.ceil((endsAt - at) / minute)))
      try {
        await hub.send(workstationId, 'display.wake', { serial, minutes })
      } catch (error) {
        if (error instanceof CourierGone) return null
        logFault(`The display of visit ${id} is woken`, error)
      }
      return id
    }),
  )
  const ids = woken.filter((id) => id !== null)
  if (!ids.length) return
  const stored = await patiently(() =>
    atomically(data, (take) => {
      take(
        written(`UPDATE visit SET woken_at = ? WHERE id IN (SELECT value FROM json_each(?)) AND state = 'planned'`, [
          at,
          JSON.stringify(ids),
        ]),
      )
      return changesMade(data)
    }),
  )
  if (stored) changed()
}
