import type { DataSource } from 'typeorm'
import { studioSettingsSchema, usualSettings, validate, type StudioSettings, type yup } from '@bichroma/contract'
import type { Events } from '../events'
import type { Api } from '../http/api'
import { settingEntity } from './entities'

const name = 'studio'

/** What the studio decided; the usual where it has not. */
export async function studioSettings(data: DataSource): Promise<StudioSettings> {
  const row = await data.getRepository(settingEntity).findOneBy({ name })
  return { ...usualSettings, ...(row?.value as Partial<StudioSettings> | undefined) }
}

export function settingRoutes(api: Api, data: DataSource, events: Events): void {
  api.on('GET /settings', () => studioSettings(data))
  api.on('PUT /settings', async (request) => {
    const value = validate(studioSettingsSchema as unknown as yup.Schema<StudioSettings>, request.body)
    await data.getRepository(settingEntity).save({ name, value })
    events.changed('register')
    return {}
  })
}
