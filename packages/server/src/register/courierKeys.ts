import { createHash, randomBytes } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { workstationEntity } from './entities'

const hashOf = (key: string) => createHash('sha256').update(key).digest('hex')

/** Makes a new enrolment key for a workstation, in place of any older one. Only its hash is kept. */
export async function enrol(data: DataSource, workstationId: number): Promise<string> {
  const key = randomBytes(32).toString('base64url')
  await data.getRepository(workstationEntity).update({ id: workstationId }, { courierKeyHash: hashOf(key) })
  return key
}

/** The workstation of an enrolment key, or null. */
export async function workstationOfKey(data: DataSource, key: string): Promise<number | null> {
  if (!key) return null
  return (await data.getRepository(workstationEntity).findOneBy({ courierKeyHash: hashOf(key) }))?.id ?? null
}
