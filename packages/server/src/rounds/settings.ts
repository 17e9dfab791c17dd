import type { DataSource } from 'typeorm'
import type { RoundsSettings } from '@bichroma/contract'
import { clockIn, deskOn, localDate } from '@bichroma/core/rounds'
import type { WorkingHours } from '../register/light/levels'
import { settingEntity } from '../studio/entities'
import { roundsSetting, roundsSettingsOf } from './hours'

/** What was decided of rounds; the usual where nothing was. */
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
