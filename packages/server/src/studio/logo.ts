import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import { settingEntity } from './entities'
import { lookAtPicture, type Logo } from './lookAtPicture'

const name = 'logo'

/** The studio's logo, or null. */
export async function studioLogo(data: DataSource, contents: ContentStore): Promise<Logo | null> {
  const row = await data.getRepository(settingEntity).findOneBy({ name })
  const kept = row?.value as { type: Logo['type']; hash: string } | undefined
  const bytes = kept && (await contents.get(kept.hash))
  return bytes ? { type: kept.type, bytes } : null
}

/** Keeps a logo. Throws Refusal for what no report could show. */
export async function keepLogo(
  data: DataSource,
  contents: ContentStore,
  threads: Threads,
  bytes: Uint8Array,
): Promise<void> {
  const found = await threads.run(lookAtPicture, bytes)
  if ('complaint' in found) throw new Refusal('invalid-input', found.complaint, 'logo')
  const value = { type: found.type, hash: await contents.put(bytes) }
  await data.getRepository(settingEntity).upsert({ name, value } as never, ['name'])
}

export const dropLogo = (data: DataSource) => data.getRepository(settingEntity).delete({ name })
