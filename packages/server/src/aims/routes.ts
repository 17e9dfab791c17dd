import type { DataSource } from 'typeorm'
import { saveAimSchema, saveLimitsSchema, validate, type SaveAim, type yup } from '@bichroma/contract'
import type { Events } from '../http/events'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { insertion } from '../data/atomically'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { aimEntity, limitsEntity } from './entities'

/** Aims and limits: two lists of named things, kept in the same way. */
export function aimRoutes(
  api: Api,
  data: DataSource,
  /** Names of displays that a set of limits judges, a few of them, and how many there are. */
  judgedBy: (limitsId: number) => Promise<{ names: string[]; count: number }>,
  limitsChanged: () => void,
  events: Events,
  ledger: Ledger,
  now: () => number,
): void {
  keep('aims', 'aim', 'aim', aimEntity, saveAimSchema, async () => {})
  keep('limits', 'limits', 'set of limits', limitsEntity, saveLimitsSchema, async (id) => {
    const { names, count } = await judgedBy(id)
    if (count)
      throw new Refusal(
        'conflict',
        `${names.join(', ')}${count > names.length ? ` and ${count - names.length} more` : ''} ${count === 1 ? 'is' : 'are'} judged by these limits. Give them others first.`,
      )
  })

  function keep(
    path: 'aims' | 'limits',
    thing: 'aim' | 'limits',
    word: string,
    entity: typeof aimEntity | typeof limitsEntity,
    schema: yup.Schema,
    mayGo: (id: number) => Promise<void>,
  ) {
    const rows = data.getRepository(entity as typeof aimEntity)
    const mustBe = async (id: number) => {
      const row = await rows.findOneBy({ id })
      if (!row) throw new Refusal('not-found', `There is no ${word} ${id}.`)
      return row
    }
    /** What of it the ledger compares. */
    const valueOf = (row: object) => (row as Record<string, unknown>)[thing]
    api.on(`GET /${path}`, () => rows.find({ order: { id: 'ASC' } }))
    api.on(`POST /${path}`, async (request, response) => {
      const input = validate(schema, request.body) as SaveAim
      const id = await refusingTaken(word, () =>
        ledger.change(
          request.account,
          (take) => take(insertion(data.manager, entity as typeof aimEntity, { ...input, updatedAt: now() })),
          (id) => ({ act: 'added', thing, id, name: input.name, changes: [{ field: thing, to: valueOf(input) }] }),
        ),
      )
      events.changed('aims')
      response.status(201)
      return { id }
    })
    api.on(`PUT /${path}/:id`, async (request) => {
      const input = validate(schema, request.body) as SaveAim
      const before = await mustBe(idOf(request))
      const { id } = before
      await refusingTaken(word, () =>
        ledger.change(
          request.account,
          (take) =>
            take(
              data
                .createQueryBuilder()
                .update(entity as typeof aimEntity)
                .set({ ...input, updatedAt: now() } as never)
                .where({ id }),
            ),
          () => ({
            act: 'changed',
            thing,
            id,
            name: input.name,
            changes: changesBetween(
              { name: before.name, [thing]: valueOf(before) },
              { name: input.name, [thing]: valueOf(input) },
            ),
          }),
        ),
      )
      events.changed('aims', 'register')
      if (path === 'limits') limitsChanged()
      return {}
    })
    api.on(`DELETE /${path}/:id`, async (request) => {
      const before = await mustBe(idOf(request))
      const { id, name } = before
      await mayGo(id)
      ledger.change(
        request.account,
        (take) =>
          take(
            data
              .createQueryBuilder()
              .delete()
              .from(entity as typeof aimEntity)
              .where({ id }),
          ),
        () => ({ act: 'removed', thing, id, name, changes: [{ field: thing, from: valueOf(before) }] }),
      )
      events.changed('aims')
      return {}
    })
  }
}
