import { createHash, randomBytes } from 'node:crypto'
import type { DataSource } from 'typeorm'
import type { Statement } from '../data/atomically'
import { workstationEntity } from './entities'

const hashOf = (key: string) => createHash('sha256').update(key).digest('hex')

/** A new enrolment key for a workstation, and the statement that puts it in place of any older one: its hash is kept only. */
export function newCourierKey(data: DataSource, workstationId: number): { key: string; statement: Statement } {
  const key = randomBytes(32).toString('base64url')
  const statement = data
    .createQueryBuilder()
    .update(workstationEntity)
    .set({ courierKeyHash: hashOf(key) })
    .where({ id: workstationId })
  return { key, statement }
}

/** The workstation of an enrolment key, or null. */
export async function workstationOfKey(data: DataSource, key: string): Promise<number | null> {
  if (!key) return null
  return (await data.getRepository(workstationEntity).findOneBy({ courierKeyHash: hashOf(key) }))?.id ?? null
}
