import { createHmac, randomBytes } from 'node:crypto'
import type { DataSource } from 'typeorm'
import type { FeedKind } from '@bichroma/contract'
import { atomically, written } from '../data/atomically'
import { folderSecret } from '../data/folderSecret'
import { nodeHash } from '../data/nodeHash'

export interface OpenLink {
  id: number
  kind: FeedKind | 'desk'
  subjectId: number
}

const hashOf = (token: string) => nodeHash(Buffer.from(token))

/** What the addresses of desks are made with. */
export const linkSecret = (folder: string): string => folderSecret(folder, 'link-secret', 'The secret of links')

/**
 * Links that open something without an account: unguessable, kept as their hashes, ended one by one. That of a desk is made
 * from the folder's secret, so that it can be told again to a courier that comes back.
 */
export class OpenLinks {
  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
    private readonly secret: string,
  ) {}

  /** What a token opens; null for one that was ended, or never was. */
  async find(token: string): Promise<OpenLink | null> {
    if (!/^[A-Za-z0-9_-]{43}$/.test(token)) return null
    const [row] = await this.data.query<OpenLink[]>(
      'SELECT id, kind, subject_id AS subjectId FROM open_link WHERE hash = ? AND ended_at IS NULL',
      [hashOf(token)],
    )
    return row ?? null
  }

  /** The token of a desk's page; made where there is none yet. */
  async desk(workstationId: number): Promise<string> {
    const links = await this.data.query<{ id: number; hash: string; endedAt: number | null }[]>(
      `SELECT id, hash, ended_at AS endedAt FROM open_link WHERE kind = 'desk' AND subject_id = ? ORDER BY id`,
      [workstationId],
    )
    const last = links[links.length - 1]
    if (last?.endedAt === null) {
      const token = this.tokenOf(workstationId, links.length)
      if (hashOf(token) === last.hash) return token
    }
    // None is open, or it was made with the secret of another folder, as after a backup was put back.
    const token = this.tokenOf(workstationId, links.length + 1)
    const now = this.now()
    atomically(this.data, (take) => {
      take(
        written(`UPDATE open_link SET ended_at = ? WHERE kind = 'desk' AND subject_id = ? AND ended_at IS NULL`, [
          now,
          workstationId,
        ]),
      )
      take(
        written(
          `INSERT INTO open_link (kind, subject_id, hash, made_at, made_by) VALUES ('desk', ?, ?, ?, 'Bichroma')`,
          [workstationId, hashOf(token), now],
        ),
      )
    })
    return token
  }

  /** A calendar's token, told this once, with its statement. */
  feed(kind: FeedKind, subjectId: number, by: string) {
    const token = randomBytes(32).toString('base64url')
    return {
      token,
      statement: written('INSERT INTO open_link (kind, subject_id, hash, made_at, made_by) VALUES (?, ?, ?, ?, ?)', [
        kind,
        subjectId,
        hashOf(token),
        this.now(),
        by,
      ]),
    }
  }

  /** Of the so-manieth link of a desk. */
  private tokenOf(workstationId: number, count: number): string {
    return createHmac('sha256', Buffer.from(this.secret, 'hex'))
      .update(`desk ${workstationId} ${count}`)
      .digest('base64url')
  }
}
