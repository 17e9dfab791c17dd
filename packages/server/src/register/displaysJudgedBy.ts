import type { DataSource } from 'typeorm'
import { displayEntity } from './entities'

/** Names that one sentence holds. */
const mostNames = 5

/** The displays that a set of limits judges: names of the first few, and how many there are. */
export async function displaysJudgedBy(
  data: DataSource,
  limitsId: number,
): Promise<{ names: string[]; count: number }> {
  const [rows, count] = await data
    .getRepository(displayEntity)
    .findAndCount({ select: { id: true, name: true }, where: { limitsId }, order: { id: 'ASC' }, take: mostNames })
  return { names: rows.map((d) => d.name), count }
}
