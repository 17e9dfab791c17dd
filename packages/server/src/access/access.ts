import type { Request, RequestHandler } from 'express'
import session from 'express-session'
import { Not, type DataSource } from 'typeorm'
import {
  changePasswordSchema,
  firstVisitSchema,
  signInSchema,
  validate,
  type Account,
  type OwnSession,
  type Role,
  type Session,
} from '@bichroma/contract'
import { folderSecret } from '../data/folderSecret'
import { insertion } from '../data/atomically'
import type { Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { accountEntity, sessionEntity, type AccountRow } from './entities'
import { FirstVisit } from './firstVisit'
import { hashPassword, mustBeStrong, passwordFits } from './passwords'
import { StoredSessions, type SessionSpan } from './sessionStore'
import { SecondFactor } from './secondFactor'
import { SignInThrottle } from './throttle'
import { bearerOf, Tokens } from './tokens'

declare module 'express-session' {
  interface SessionData {
    accountId: number
    /** What the browser says it is. */
    browser: string
  }
}

/** Who must have a second factor. */
export type FactorPolicy = 'nobody' | 'administrators' | 'everybody'

/** An account as it is told; `policy`: who must have a second factor. */
export const publicAccount = (row: AccountRow, policy: FactorPolicy): Account => {
  const { id, login, name, role, rooms, factorSecret } = row
  const asked = policy === 'everybody' || (policy === 'administrators' && role === 'administrator')
  return { id, login, name, role, rooms, lacksSecondFactor: asked && factorSecret === null }
}

/** The secret that signs session cookies; made anew, it signs everybody out. */
const cookieSecret = (folder: string): string => folderSecret(folder, 'cookie-secret', 'The secret that signs sessions')

/** Reads and writes the session cookie; it is marked for TLS only where the request came by TLS. */
export const sessionMiddleware = (
  data: DataSource,
  folder: string,
  now: () => number,
  span: SessionSpan,
): RequestHandler =>
  session({
    name: 'bichroma',
    secret: cookieSecret(folder),
    store: new StoredSessions(data, now, span),
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', maxAge: span.lastMs, secure: 'auto' },
  })

/** What a new account is, besides what is asked for. */
export const newAccount = {
  lockedAt: null,
  signedInAt: null,
  rooms: null,
  factorSecret: null,
  factorOffered: null,
  factorStep: 0,
}

export class Access {
  private readonly throttle = new SignInThrottle()
  readonly firstVisit: FirstVisit
  readonly tokens: Tokens
  private readonly secondFactor: SecondFactor
  private policy: Promise<FactorPolicy> | null = null

  constructor(
    private readonly data: DataSource,
    private readonly ledger: Ledger,
    private readonly now: () => number,
    /** A session has ended. */
    private readonly signedOut: (session: string) => void = () => {},
    /** Who must have a second factor, as the studio decided. */
    private readonly policyOf: () => Promise<FactorPolicy> = async () => 'nobody',
  ) {
    this.firstVisit = new FirstVisit(data)
    this.tokens = new Tokens(data, ledger, now)
    this.secondFactor = new SecondFactor(data, ledger, now)
  }

  /** The studio may have decided anew who must have a second factor. */
  forgetPolicy(): void {
    this.policy = null
  }

  private async told(row: AccountRow): Promise<Account> {
    // What could not be read is asked for anew, and not kept.
    this.policy ??= this.policyOf().catch((error: unknown) => {
      this.policy = null
      throw error
    })
    return publicAccount(row, await this.policy)
  }

  private get rows() {
    return this.data.getRepository(accountEntity)
  }

  private get sessions() {
    return this.data.getRepository(sessionEntity)
  }

  /** The account of a request's token or session, or null; a locked one has none. Refuses a token that is worth nothing. */
  async accountOf(request: Request): Promise<Account | null> {
    const token = bearerOf(request)
    if (token !== null) return this.tokens.accountOf(token)
    const id = request.session?.accountId
    if (id === undefined) return null
    const row = await this.rows.findOneBy({ id })
    return row && row.lockedAt === null ? this.told(row) : null
  }

  /** Adds an account, unless its login exists. For programs: nobody's leave is asked, and any password will do. */
  async addAccount(login: string, name: string, role: Role, password: string): Promise<void> {
    if (await this.rows.existsBy({ login })) return
    await this.rows.insert({ ...newAccount, login, name, role, passwordHash: await hashPassword(password) })
  }

  async nameOf(id: number): Promise<string> {
    return (await this.rows.findOneBy({ id }))?.name ?? 'someone'
  }

  /** Ends the sessions of an account, but for the one that is named. */
  async endSessions(accountId: number, but = ''): Promise<void> {
    const ended = await this.sessions.findBy({ accountId, sid: Not(but) })
    await this.sessions.delete({ accountId, sid: Not(but) })
    for (const { sid } of ended) this.signedOut(sid)
  }

  routes(api: Api): void {
    this.tokens.routes(api)
    this.secondFactor.routes(
      api,
      (row, password, address) => this.mustKnow(row, password, address, 'password'),
      (row, address) => this.mustBeLetTry(row.login, address),
      (row, address) => this.throttle.failed(row.login, address),
    )
    api.on('GET /session', async (request): Promise<Session> => {
      const account = request.account as Account | null
      return { account, first: account === null && (await this.firstVisit.open()) }
    })
    api.on('POST /session', (request) => this.signIn(request))
    api.on('POST /first-visit', (request, response) => {
      response.status(201)
      return this.makeFirst(request)
    })
    api.on('DELETE /session', async (request, response) => {
      const account = request.account as Account | null
      this.signedOut(request.sessionID)
      await new Promise<void>((resolve, reject) =>
        request.session.destroy((error: unknown) => (error ? reject(error as Error) : resolve())),
      )
      response.clearCookie('bichroma')
      if (account) this.ledger.note(account, { act: 'signed out', thing: 'session', id: null, name: account.login })
      return { account: null }
    })

    api.on('GET /session/all', async (request): Promise<OwnSession[]> => {
      const rows = await this.sessions.find({ where: { accountId: request.account.id }, order: { seenAt: 'DESC' } })
      return rows.map(({ sid, startedAt, seenAt, browser }) => ({
        // Whoever reads this must not be able to take a session over.
        id: sid.slice(0, 8),
        startedAt,
        seenAt,
        browser,
        current: sid === request.sessionID,
      }))
    })
    api.on('DELETE /session/others', async (request) => {
      const { account } = request
      await this.endSessions(account.id, request.sessionID)
      this.ledger.note(account, { act: 'signed out', thing: 'session', id: null, name: `${account.login}, elsewhere` })
      return {}
    })
    api.on('PUT /session/password', async (request) => {
      const { old, password } = validate(changePasswordSchema, request.body)
      const { account } = request
      const row = await this.rows.findOneByOrFail({ id: account.id })
      await this.mustKnow(row, old, request.ip ?? '', 'old')
      mustBeStrong(password, [row.login, row.name])
      const passwordHash = await hashPassword(password)
      this.ledger.change(
        account,
        (take) =>
          take(this.data.createQueryBuilder().update(accountEntity).set({ passwordHash }).where({ id: row.id })),
        () => ({ act: 'changed', thing: 'account', id: row.id, name: row.name, changes: [{ field: 'password' }] }),
      )
      await this.endSessions(row.id, request.sessionID)
      return {}
    })
  }

  /** Refuses whoever has tried too many tokens. */
  mayTryToken(request: Request): void {
    this.mustBeLetTry('', request.ip ?? '')
  }
  tokenFailed(request: Request): void {
    this.throttle.failed('', request.ip ?? '')
  }

  /** Refuses whoever does not know an account's password, and counts the try. */
  private async mustKnow(row: AccountRow, password: string, address: string, field: string): Promise<void> {
    this.mustBeLetTry(row.login, address)
    if (await passwordFits(row.passwordHash, password)) return
    this.throttle.failed(row.login, address)
    throw new Refusal(
      'invalid-input',
      field === 'old' ? 'The old password is not right.' : 'The password is not right.',
      field,
    )
  }

  private mustBeLetTry(login: string, address: string) {
    if (!this.throttle.mayTry(login, address))
      throw new Refusal('too-many', 'Too many wrong passwords. Wait a minute and try again.')
  }

  private async signIn(request: Request): Promise<{ account: Account }> {
    const { login, password, code } = validate(signInSchema, request.body)
    const address = request.ip ?? ''
    this.mustBeLetTry(login, address)
    const row = await this.rows.findOneBy({ login })
    // An unknown login costs the same time as a wrong password, and gets the same sentence.
    const fits = row?.passwordHash
      ? await passwordFits(row.passwordHash, password)
      : (await hashPassword(password), false)
    if (!row || !fits) {
      this.throttle.failed(login, address)
      if (row)
        this.ledger.note('Bichroma', {
          act: 'was refused',
          thing: 'session',
          id: row.id,
          name: row.login,
          evidence: { address },
        })
      throw new Refusal(
        'not-signed-in',
        'The login or the password is not right. Check both and try again.',
        'password',
      )
    }
    if (row.lockedAt !== null)
      throw new Refusal('not-signed-in', 'This account is locked. Ask an administrator to unlock it.', 'login')
    if (row.factorSecret !== null) {
      if (code === undefined)
        throw new Refusal(
          'second-factor',
          'Type the six figures that your second factor shows, or a recovery code.',
          'code',
        )
      if (!this.secondFactor.passes(row, code)) {
        this.throttle.failed(login, address)
        this.ledger.note('Bichroma', {
          act: 'was refused',
          thing: 'session',
          id: row.id,
          name: `${row.login}, second factor`,
          evidence: { address },
        })
        throw new Refusal(
          'second-factor',
          'This code is not right, or was used already. Wait for the next one, or use a recovery code.',
          'code',
        )
      }
    }
    this.throttle.succeeded(login, address)
    await this.begin(request, row)
    return { account: await this.told(row) }
  }

  /** Begins a session for an account, with an entry in the ledger. */
  async begin(request: Request, row: AccountRow): Promise<void> {
    this.signedOut(request.sessionID)
    await new Promise<void>((resolve, reject) =>
      request.session.regenerate((error) => (error ? reject(error) : resolve())),
    )
    request.session.accountId = row.id
    request.session.browser = (request.get('user-agent') ?? '').slice(0, 200)
    const signedInAt = this.now()
    this.ledger.change(
      row,
      (take) => take(this.data.createQueryBuilder().update(accountEntity).set({ signedInAt }).where({ id: row.id })),
      () => ({
        act: 'signed in',
        thing: 'session',
        id: row.id,
        name: row.login,
        evidence: { address: request.ip ?? '' },
      }),
    )
  }

  private async makeFirst(request: Request): Promise<{ account: Account }> {
    const { token, login, name, password } = validate(firstVisitSchema, request.body)
    const address = request.ip ?? ''
    this.mustBeLetTry('', address)
    if (!(await this.firstVisit.open()))
      throw new Refusal(
        'conflict',
        'This studio has its first administrator already. Sign in, or ask for an invitation.',
      )
    if (!this.firstVisit.fits(token)) {
      this.throttle.failed('', address)
      throw new Refusal(
        'invalid-input',
        'This is not the token of the console. It is new at each start of the server, and told there.',
        'token',
      )
    }
    mustBeStrong(password, [login, name])
    const passwordHash = await hashPassword(password)
    // The password was hashed meanwhile: somebody may have been first.
    if (!(await this.firstVisit.open()) || !this.firstVisit.fits(token))
      throw new Refusal('conflict', 'This studio has its first administrator already.')
    this.firstVisit.over()
    const row: Omit<AccountRow, 'id'> = { ...newAccount, login, name, role: 'administrator', passwordHash }
    const id = this.ledger.change(
      'Bichroma',
      (take) => take(insertion(this.data.manager, accountEntity, row)),
      (id) => ({ act: 'added', thing: 'account', id, name, changes: [{ field: 'role', to: 'administrator' }] }),
    )
    await this.begin(request, { ...row, id })
    return { account: await this.told({ ...row, id }) }
  }
}
