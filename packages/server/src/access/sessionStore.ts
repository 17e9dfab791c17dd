import type { Request } from 'express'
import session, { type SessionData } from 'express-session'
import { LessThanOrEqual, type DataSource } from 'typeorm'
import { sessionEntity } from './entities'

/** How long a session lasts, ms: without use, and from signing in. */
export interface SessionSpan {
  readonly idleMs: number
  readonly lastMs: number
}

export const usualSpan: SessionSpan = { idleMs: 12 * 3_600_000, lastMs: 14 * 86_400_000 }

/** Use is noted at most so often, ms. */
const noteMs = 60_000

/** Keeps sessions of express-session in the store. */
export class StoredSessions extends session.Store {
  private readonly noted = new Map<string, number>()

  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
    private readonly span: SessionSpan = usualSpan,
  ) {
    super()
  }

  private get rows() {
    return this.data.getRepository(sessionEntity)
  }

  override get(sid: string, done: (error: unknown, session?: SessionData | null) => void): void {
    this.rows.findOneBy({ sid }).then((row) => {
      const now = this.now()
      const lives = row && row.expiresAt > now && row.seenAt + this.span.idleMs > now
      done(null, lives ? JSON.parse(row.data) : null)
    }, done)
  }

  override set(sid: string, value: SessionData, done?: (error?: unknown) => void): void {
    const at = this.now()
    const row = {
      sid,
      data: JSON.stringify(value),
      accountId: value.accountId ?? null,
      startedAt: at,
      seenAt: at,
      expiresAt: at + this.span.lastMs,
      browser: value.browser ?? '',
    }
    this.rows
      .upsert(row, ['sid'])
      .then(() => this.rows.delete({ expiresAt: LessThanOrEqual(at) }))
      .then(() => this.rows.delete({ seenAt: LessThanOrEqual(at - this.span.idleMs) }))
      .then(() => done?.(), done)
  }

  /** It was used: by a person, not by a page that only keeps itself up to date. */
  override touch(sid: string, value: SessionData, done?: () => void): void {
    const { req } = value as SessionData & { req?: Request }
    if (req?.get('x-unattended')) return done?.()
    const at = this.now()
    const before = this.noted.get(sid)
    if (before !== undefined && at - before < noteMs && at >= before) return done?.()
    if (this.noted.size > 10_000) this.noted.clear()
    this.noted.set(sid, at)
    // A clock that is set back for a moment signs nobody out.
    this.rows.update({ sid }, { seenAt: () => `MAX(seen_at, ${Math.floor(at)})` }).then(
      () => done?.(),
      () => done?.(),
    )
  }

  override destroy(sid: string, done?: (error?: unknown) => void): void {
    this.noted.delete(sid)
    this.rows.delete({ sid }).then(() => done?.(), done)
  }
}
