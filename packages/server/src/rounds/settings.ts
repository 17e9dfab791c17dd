import type { DataSource } from 'typeorm'
import { usualRounds, usualTimes, type RoundsSettings } from '@bichroma/contract'
import { clockIn, deskOn, localDate, type UseTime } from '@bichroma/core/rounds'
import type { WorkingHours } from '../register/light/levels'
import { settingEntity } from '../studio/entities'

/** The name under which the studio's hours are kept among its decisions. */
export const roundsSetting = 'rounds'

/** The zone of the machine that the server runs on, by its IANA name. */
const serverZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'

/** What was decided, with the usual for what was not. */
export const roundsSettingsOf = (value: unknown): RoundsSettings => ({
  ...usualRounds(serverZone()),
  ...(value as Partial<RoundsSettings> | null | undefined),
})

export const roundsSettings = async (data: DataSource): Promise<RoundsSettings> =>
  roundsSettingsOf((await data.getRepository(settingEntity).findOneBy({ name: roundsSetting }))?.value)

/** When people work in the studio: at the desks, lunch included. */
export async function workingHours(data: DataSource): Promise<WorkingHours> {
  const { hours } = await roundsSettings(data)
  const { zone } = hours
  return {
    zone,
    dateOf: (at) => localDate(at, zone),
    counts: (at) => {
      const desk = deskOn(hours, localDate(at, zone))
      const clock = clockIn(at, zone)
      return desk !== null && clock >= desk.from && clock < desk.to
    },
  }
}

/** When workstations may be used, as it was decided; the nearest to a workstation wins. */
export class UseTimes {
  private readonly by = new Map<string, readonly UseTime[]>()

  constructor(rows: readonly { level: string; subjectId: number; times: string }[]) {
    for (const { level, subjectId, times } of rows) this.by.set(`${level} ${subjectId}`, JSON.parse(times) as UseTime[])
  }

  of({ workstationId, roomId }: { workstationId: number; roomId: number }): readonly UseTime[] {
    return (
      this.by.get(`workstation ${workstationId}`) ??
      this.by.get(`room ${roomId}`) ??
      this.by.get('studio 0') ??
      usualTimes
    )
  }
}
export const useTimesQuery = 'SELECT level, subject_id AS subjectId, times FROM use_times'
