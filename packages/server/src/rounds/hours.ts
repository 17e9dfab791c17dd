import { usualRounds, usualTimes, type RoundsSettings } from '@bichroma/contract'
import type { UseTime } from '@bichroma/core/rounds'

/** The name under which the studio's hours are kept among its decisions. */
export const roundsSetting = 'rounds'

/** The zone of the machine that the server runs on, by its IANA name. */
const serverZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'

/** What was decided, with the usual for what was not. */
export const roundsSettingsOf = (value: unknown): RoundsSettings => ({
  ...usualRounds(serverZone()),
  ...(value as Partial<RoundsSettings> | null | undefined),
})

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
