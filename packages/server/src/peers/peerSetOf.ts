import type { DataSource } from 'typeorm'
import { Refusal } from '../http/problem'
import { peerSetEntity, type PeerSetRow } from './entities'

/** A peer set by its number. Throws Refusal for one that is not there. */
export async function peerSetOf(data: DataSource, id: number): Promise<PeerSetRow> {
  const row = await data.getRepository(peerSetEntity).findOneBy({ id })
  if (!row) throw new Refusal('not-found', `There is no peer set ${id}.`)
  return row
}
