import { IsNull, Not, type DataSource } from 'typeorm'
import { runEntity } from './entities'

/** The hash of what the newest run that learned anything of a display's raw panel remembers of it; null where none did. */
export async function newestMemory(data: DataSource, displayId: number): Promise<string | null> {
  const last = await data.getRepository(runEntity).findOne({
    select: { id: true, memoryHash: true },
    where: { displayId, state: 'done', memoryHash: Not(IsNull()) },
    order: { id: 'DESC' },
  })
  return last?.memoryHash ?? null
}
