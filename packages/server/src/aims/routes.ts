import type { DataSource } from 'typeorm'
import { saveAimSchema, saveLimitsSchema, validate, type SaveAim, type SaveLimits, type yup } from '@bichroma/contract'
import type { Events } from '../http/events'
import { idOf, type Api } from '../access/api'
import { Refusal } from '../http/problem'
import { refuseTaken } from '../http/taken'
import { insertRow } from '../data/insertRow'
import { aimEntity, limitsEntity } from './entities'

/** Aims and limits: two lists of named things, kept in the same way. */
export function aimRoutes(
  api: Api,
  data: DataSource,
  /** Names of displays that a set of limits judges, a few of them, and how many there are. */
  judgedBy: (limitsId: number) => Promise<{ names: string[]; count: number }>,
  limitsChanged: () => void,
  events: Events,
  now: () => number,
): void {
  keep('aims', 'aim', aimEntity, saveAimSchema as unknown as yup.Schema<SaveAim>, async () => {})
  keep('limits', 'set of limits', limitsEntity, saveLimitsSchema as unknown as yup.Schema<SaveLimits>, async (id) => {
    const { names, count } = await judgedBy(id)
    if (count)
      throw new Refusal(
        'conflict',
        `${names.join(', ')}${count > names.length ? ` and ${count - names.length} more` : ''} ${count === 1 ? 'is' : 'are'} judged by these limits. Give them others first.`,
      )
  })

  function keep(
    path: 'aims' | 'limits',
    word: string,
    entity: typeof aimEntity | typeof limitsEntity,
    schema: yup.Schema,
    mayGo: (id: number) => Promise<void>,
  ) {
    const rows = data.getRepository(entity as typeof aimEntity)
    const mustBe = async (id: number) => {
      if (!(await rows.existsBy({ id }))) throw new Refusal('not-found', `There is no ${word} ${id}.`)
      return id
    }
    api.on(`GET /${path}`, () => rows.find({ order: { id: 'ASC' } }))
    api.on(`POST /${path}`, async (request, response) => {
      const input = validate(schema, request.body) as SaveAim
      const id = await insertRow(data.manager, entity as typeof aimEntity, { ...input, updatedAt: now() }).catch(
        refuseTaken(word),
      )
      events.changed('aims')
      response.status(201)
      return { id }
    })
    api.on(`PUT /${path}/:id`, async (request) => {
      const input = validate(schema, request.body) as SaveAim
      const id = await mustBe(idOf(request))
      await rows.update({ id }, { ...input, updatedAt: now() } as never).catch(refuseTaken(word))
      events.changed('aims', 'register')
      if (path === 'limits') limitsChanged()
      return {}
    })
    api.on(`DELETE /${path}/:id`, async (request) => {
      const id = await mustBe(idOf(request))
      await mayGo(id)
      await rows.delete({ id })
      events.changed('aims')
      return {}
    })
  }
}
