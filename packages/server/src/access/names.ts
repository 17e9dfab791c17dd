import type { DataSource } from 'typeorm'
import { accountEntity } from './entities'

/** Whom an account belongs to; `someone` for one that is gone. */
export const nameOfAccount = async (data: DataSource, id: number): Promise<string> =>
  (await data.getRepository(accountEntity).findOneBy({ id }))?.name ?? 'someone'

/** Names by account. */
export const accountNames = async (data: DataSource): Promise<Map<number, string>> =>
  new Map(
    (await data.getRepository(accountEntity).find({ select: { id: true, name: true } })).map((a) => [a.id, a.name]),
  )
