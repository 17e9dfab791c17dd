import type { DataSource } from 'typeorm'
import { contentEntity } from './contentEntity'
import { nodeHash } from './nodeHash'

/** Tables, profiles and reports, each stored once under the SHA-256 of its bytes. */
export class ContentStore {
  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
  ) {}

  /** Keeps bytes and gives their hash. */
  async put(bytes: Uint8Array): Promise<string> {
    const hash = nodeHash(bytes)
    await this.data
      .createQueryBuilder()
      .insert()
      .into(contentEntity)
      .values({ hash, bytes: Buffer.from(bytes), createdAt: this.now() })
      .orIgnore()
      .execute()
    return hash
  }

  /** The bytes of a hash, or null. */
  async get(hash: string): Promise<Uint8Array | null> {
    const row = await this.data.getRepository(contentEntity).findOneBy({ hash })
    return row && new Uint8Array(row.bytes)
  }
}
