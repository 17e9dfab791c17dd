import type { DataSource } from 'typeorm'
import { displayEntity } from './entities'

/** Names of the displays that a set of limits judges. */
export const displaysJudgedBy = async (data: DataSource, limitsId: number): Promise<string[]> =>
  (await data.getRepository(displayEntity).find({ select: { id: true, name: true }, where: { limitsId } })).map(
    (d) => d.name,
  )
