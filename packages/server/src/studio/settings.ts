import type { DataSource } from 'typeorm'
import { studioSettingsSchema, validate, type StudioSettings } from '@bichroma/contract'
import type { Events } from '../http/events'
import type { Api } from '../http/api'
import type { ContentStore } from '../data/contents'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { logoName, lookAtLogo, studioLogo } from './logo'
import { keptSetting, settingEntity } from './entities'
import { studioSettingsOf } from './settingsOf'

const name = 'studio'

/** What the studio decided; the usual where it has not. */
export const studioSettings = async (data: DataSource): Promise<StudioSettings> =>
  studioSettingsOf((await data.getRepository(settingEntity).findOneBy({ name }))?.value)

export function settingRoutes(
  api: Api,
  data: DataSource,
  contents: ContentStore,
  threads: Threads,
  events: Events,
  ledger: Ledger,
  acceptedChanged: () => void,
): void {
  api.on('GET /settings', () => studioSettings(data))
  api.on('PUT /settings', async (request) => {
    const before = await studioSettings(data)
    const asked: Partial<StudioSettings> = validate(studioSettingsSchema, request.body)
    const value = { ...before, ...asked }
    ledger.change(
      request.account,
      (take) => take(keptSetting(name, value)),
      () => ({
        act: 'changed',
        thing: 'settings',
        id: null,
        name: 'the studio',
        changes: changesBetween({ ...before }, { ...value }),
      }),
    )
    if (value.accepted !== before.accepted) acceptedChanged()
    events.changed('register')
    return {}
  })

  api.on('GET /settings/logo', async (_request, response) => {
    const logo = await studioLogo(data, contents)
    if (!logo) throw new Refusal('not-found', 'The studio has no logo yet.')
    response.type(logo.type).send(Buffer.from(logo.bytes))
  })
  api.on('PUT /settings/logo', async (request) => {
    if (!Buffer.isBuffer(request.body) || !request.body.length)
      throw new Refusal('invalid-input', 'A logo must be sent as a PNG or JPEG picture.', 'logo')
    const value = await lookAtLogo(contents, threads, request.body)
    ledger.change(
      request.account,
      (take) => take(keptSetting(logoName, value)),
      () => ({ act: 'changed', thing: 'settings', id: null, name: 'the logo', evidence: { sha256: value.hash } }),
    )
    events.changed('register')
    return {}
  })
  api.on('DELETE /settings/logo', (request) => {
    ledger.change(
      request.account,
      (take) => take(data.createQueryBuilder().delete().from(settingEntity).where({ name: logoName })),
      () => ({ act: 'removed', thing: 'settings', id: null, name: 'the logo' }),
    )
    events.changed('register')
    return {}
  })
}
