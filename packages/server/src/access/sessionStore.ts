import session, { type SessionData } from 'express-session'
import { LessThan, type DataSource } from 'typeorm'
import { sessionEntity } from './entities'

/** How long a session lasts from signing in, ms. */
export const sessionMs = 14 * 86_400_000

/** Keeps sessions of express-session in the store. */
export class StoredSessions extends session.Store {
  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
  ) {
    super()
  }

  private get rows() {
    return this.data.getRepository(sessionEntity)
  }

  override get(sid: string, done: (error: unknown, session?: SessionData | null) => void): void {
    this.rows
      .findOneBy({ sid })
      .then((row) => done(null, row && row.expiresAt > this.now() ? JSON.parse(row.data) : null), done)
  }

  override set(sid: string, value: SessionData, done?: (error?: unknown) => void): void {
    this.rows
      .upsert({ sid, data: JSON.stringify(value), expiresAt: this.now() + sessionMs }, ['sid'])
      .then(() => this.rows.delete({ expiresAt: LessThan(this.now()) }))
      .then(() => done?.(), done)
  }

  override destroy(sid: string, done?: (error?: unknown) => void): void {
    this.rows.delete({ sid }).then(() => done?.(), done)
  }
}
