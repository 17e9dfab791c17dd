import type { DataSource } from 'typeorm'
import { lightStanding, roomLightProblem, type RoomLightRange } from '@bichroma/core/aims'
import { clockIn } from '@bichroma/core/rounds'
import { roundsSettings } from './settings'

/** What a desk knows of its room's light while that is out of what is wanted for too long. */
export interface LightAtDesk {
  /** Since when it is told, ms since 1970. */
  readonly toldAt: number
  readonly text: string
  /** It is told at the workstation too, and not on the page alone: once a day. */
  readonly pushed: boolean
}

interface Row {
  room: string
  light: string | null
  readAt: number | null
  outSince: number | null
  toldAt: number | null
  atDesk: number
  worstLux: number
  worstKelvin: number | null
}

/** What is said at a desk of its room's light; null while there is nothing to say. */
export async function lightAtDesk(data: DataSource, workstationId: number, now: number): Promise<LightAtDesk | null> {
  const [row] = await data.query<Row[]>(
    `SELECT room.name AS room, light, read_at AS readAt, out_since AS outSince, told_at AS toldAt, at_desk AS atDesk,
       worst_lux AS worstLux, worst_kelvin AS worstKelvin
     FROM workstation JOIN room ON room.id = workstation.room_id JOIN light_watch ON light_watch.room_id = room.id
     WHERE workstation.id = ? AND told_at IS NOT NULL`,
    [workstationId],
  )
  const range = row?.light ? (JSON.parse(row.light) as RoomLightRange | null) : null
  if (!row || !range || lightStanding(row, now) !== 'out too long') return null
  const problem = roomLightProblem({ illuminanceLux: row.worstLux, kelvin: row.worstKelvin }, range)
  const { zone } = (await roundsSettings(data)).hours
  return {
    toldAt: row.toldAt!,
    pushed: row.atDesk === 1,
    text: `The light of ${row.room} is not as it is wanted since ${clockIn(row.outSince!, zone)}${problem ? `: ${problem}` : ''}. Colours look otherwise in it than the displays were made for.`,
  }
}
