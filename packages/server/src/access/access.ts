import { randomBytes } from 'node:crypto'
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Request, RequestHandler } from 'express'
import { rateLimit } from 'express-rate-limit'
import session from 'express-session'
import type { DataSource } from 'typeorm'
import { signInSchema, validate, type Account, type Role } from '@bichroma/contract'
import { storeFault, StoreRefusal } from '../data/storeFault'
import type { Api } from './api'
import { Refusal, sendProblem } from '../http/problem'
import { accountEntity, type AccountRow } from './entities'
import { hashPassword, passwordFits } from './passwords'
import { sessionMs, StoredSessions } from './sessionStore'

declare module 'express-session' {
  interface SessionData {
    accountId: number
  }
}

const publicAccount = ({ id, login, name, role }: AccountRow): Account => ({ id, login, name, role })

const isSecret = (text: string) => /^[0-9a-f]{64}$/.test(text.trim())

/**
 * The secret that signs session cookies; made once per data folder and readable by its owner only. One that was cut short
 * is made anew, which signs everybody out.
 */
function cookieSecret(folder: string): string {
  const path = join(folder, 'cookie-secret')
  try {
    const kept = existsSync(path) ? readFileSync(path, 'utf8').trim() : ''
    if (isSecret(kept)) return kept
    const secret = randomBytes(32).toString('hex')
    writeFileSync(`${path}.new`, secret, { mode: 0o600, flush: true })
    renameSync(`${path}.new`, path)
    return secret
  } catch (error) {
    throw new StoreRefusal(
      `The secret that signs sessions cannot be kept in ${path}: ${storeFault(error)?.sentence ?? (error as Error).message}`,
    )
  }
}

/** Reads and writes the session cookie. */
export const sessionMiddleware = (data: DataSource, folder: string, now: () => number): RequestHandler =>
  session({
    name: 'bichroma',
    secret: cookieSecret(folder),
    store: new StoredSessions(data, now),
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', maxAge: sessionMs },
  })

/** Ten wrong passwords a minute from one address are enough. */
export const signInLimit = (): RequestHandler =>
  rateLimit({
    windowMs: 60_000,
    limit: 10,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: (_request, response) =>
      sendProblem(response, 'too-many', 'Too many wrong passwords. Wait a minute and try again.'),
  })

export class Access {
  constructor(
    private readonly data: DataSource,
    /** A session has ended. */
    private readonly signedOut: (session: string) => void = () => {},
  ) {}

  private get rows() {
    return this.data.getRepository(accountEntity)
  }

  /** The account of a request's session, or null. */
  async accountOf(request: Request): Promise<Account | null> {
    const id = request.session?.accountId
    if (id === undefined) return null
    const row = await this.rows.findOneBy({ id })
    return row && publicAccount(row)
  }

  /** Adds an account, unless its login exists. */
  async addAccount(login: string, name: string, role: Role, password: string): Promise<void> {
    if (await this.rows.existsBy({ login })) return
    await this.rows.insert({ login, name, role, passwordHash: await hashPassword(password) })
  }

  async nameOf(id: number): Promise<string> {
    return (await this.rows.findOneBy({ id }))?.name ?? 'someone'
  }

  routes(api: Api): void {
    api.on('GET /session', (request) => ({ account: request.account }))
    api.on('POST /session', async (request) => {
      const { login, password } = validate(signInSchema, request.body)
      const row = await this.rows.findOneBy({ login })
      // An unknown login costs the same time as a wrong password, and gets the same sentence.
      const fits = row ? await passwordFits(row.passwordHash, password) : (await hashPassword(password), false)
      if (!row || !fits)
        throw new Refusal(
          'not-signed-in',
          'The login or the password is not right. Check both and try again.',
          'password',
        )
      this.signedOut(request.sessionID)
      await new Promise<void>((resolve, reject) =>
        request.session.regenerate((error) => (error ? reject(error) : resolve())),
      )
      request.session.accountId = row.id
      return { account: publicAccount(row) }
    })
    api.on('DELETE /session', async (request, response) => {
      this.signedOut(request.sessionID)
      await new Promise<void>((resolve, reject) =>
        request.session.destroy((error: unknown) => (error ? reject(error as Error) : resolve())),
      )
      response.clearCookie('bichroma')
      return { account: null }
    })
  }
}
