import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import { settingEntity } from './entities'
import { lookAtPicture, type Logo } from './lookAtPicture'

export const logoName = 'logo'

/** The studio's logo, or null. */
export async function studioLogo(data: DataSource, contents: ContentStore): Promise<Logo | null> {
  const row = await data.getRepository(settingEntity).findOneBy({ name: logoName })
  const kept = row?.value as { type: Logo['type']; hash: string } | undefined
  const bytes = kept && (await contents.get(kept.hash))
  return bytes ? { type: kept.type, bytes } : null
}

/** Looks at a picture and keeps its bytes; gives what is to be stored of it. Throws Refusal for what no report could show. */
export async function lookAtLogo(
  contents: ContentStore,
  threads: Threads,
  bytes: Uint8Array,
): Promise<{ type: Logo['type']; hash: string }> {
  const found = await threads.run(lookAtPicture, bytes)
  if ('complaint' in found) throw new Refusal('invalid-input', found.complaint, 'logo')
  return { type: found.type, hash: await contents.put(bytes) }
}
