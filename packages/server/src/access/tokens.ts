import { createHash, randomBytes } from 'node:crypto'
import type { Request } from 'express'
import type { DataSource } from 'typeorm'
import { makeTokenSchema, roleCovers, roles, validate, type Account, type ApiToken } from '@bichroma/contract'
import { insertion } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { accountEntity, apiTokenEntity, type AccountRow, type ApiTokenRow } from './entities'

/** How tokens begin, so that whoever finds one knows what it is. */
const beginning = 'bichroma_'
/** Use is noted at most so often, ms. */
const noteMs = 60_000
/** Tokens that one account may have. */
const mostTokens = 50

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex')
const dayMs = 86_400_000

/** The token that a request carries; null for none. */
export function bearerOf(request: Request): string | null {
  const header = request.get('authorization')
  return header === undefined ? null : (/^Bearer +(\S+)$/i.exec(header)?.[1] ?? '')
}

/** Rooms that both may enter; null for all. */
const roomsOfBoth = (a: readonly number[] | null, b: readonly number[] | null) =>
  a && b ? a.filter((room) => b.includes(room)) : (a ?? b)

/** What a token may do: never more than its maker may at this moment. */
function accountOfToken(token: ApiTokenRow, maker: AccountRow): Account {
  const role = roles[Math.min(roles.indexOf(token.role), roles.indexOf(maker.role))]
  return {
    id: maker.id,
    login: maker.login,
    name: `${maker.name} (token ${token.name})`,
    role,
    rooms: roomsOfBoth(token.rooms, maker.rooms),
    lacksSecondFactor: false,
  }
}

/** Tokens by which programs ask the API in their maker's name: shown once, of which only the hash is kept. */
export class Tokens {
  constructor(
    private readonly data: DataSource,
    private readonly ledger: Ledger,
    private readonly now: () => number,
  ) {}

  private get rows() {
    return this.data.getRepository(apiTokenEntity)
  }

  /** Whom a token lets in. Refuses one that is not known, has ended, or whose maker is locked. */
  async accountOf(token: string): Promise<Account> {
    const row = token.startsWith(beginning) ? await this.rows.findOneBy({ hash: hashOf(token) }) : null
    const maker = row && (await this.data.getRepository(accountEntity).findOneBy({ id: row.accountId }))
    const now = this.now()
    if (!row || !maker || maker.lockedAt !== null || row.expiresAt <= now)
      throw new Refusal('not-signed-in', 'This token is not known, has ended, or was withdrawn. Make a new one.')
    if (row.usedAt === null || Math.abs(now - row.usedAt) >= noteMs)
      // That it cannot be noted refuses nothing.
      await this.rows.update({ id: row.id }, { usedAt: Math.floor(now) }).catch(() => {})
    return accountOfToken(row, maker)
  }

  routes(api: Api): void {
    api.on('GET /tokens', async (request): Promise<ApiToken[]> => {
      const { id, role } = request.account
      // Administrators see everybody's, so that none is forgotten.
      const rows = await this.rows.find({
        ...(role !== 'administrator' && { where: { accountId: id } }),
        order: { id: 'ASC' },
      })
      const names = new Map(
        (await this.data.getRepository(accountEntity).find({ select: { id: true, name: true } })).map((a) => [
          a.id,
          a.name,
        ]),
      )
      return rows.map(({ hash: _hash, ...row }) => ({ ...row, account: names.get(row.accountId) ?? 'someone' }))
    })

    api.on('POST /tokens', async (request, response) => {
      const { name, role, rooms = null, days } = validate(makeTokenSchema, request.body)
      const { account } = request
      if (!roleCovers(account.role, role))
        throw new Refusal(
          'invalid-input',
          `“Role” must be ${account.role} or less: a token may not do more than its maker.`,
          'role',
        )
      if ((await this.rows.countBy({ accountId: account.id })) >= mostTokens)
        throw new Refusal('conflict', `One account has ${mostTokens} tokens at most. Withdraw one first.`)
      const token = `${beginning}${randomBytes(32).toString('base64url')}`
      const at = Math.floor(this.now())
      const row: Omit<ApiTokenRow, 'id'> = {
        accountId: account.id,
        name,
        role,
        rooms,
        hash: hashOf(token),
        madeAt: at,
        expiresAt: at + days * dayMs,
        usedAt: null,
      }
      const id = this.ledger.change(
        account,
        (take) => take(insertion(this.data.manager, apiTokenEntity, row)),
        (id) => ({ act: 'made', thing: 'token', id, name, changes: [{ field: 'role', to: role }] }),
      )
      response.status(201)
      return { id, token, expiresAt: row.expiresAt }
    })

    api.on('DELETE /tokens/:id', async (request) => {
      const row = await this.rows.findOneBy({ id: idOf(request) })
      const { account } = request
      if (!row || (row.accountId !== account.id && account.role !== 'administrator'))
        throw new Refusal('not-found', `There is no token ${idOf(request)} of yours.`)
      this.ledger.change(
        account,
        (take) => take(this.data.createQueryBuilder().delete().from(apiTokenEntity).where({ id: row.id })),
        () => ({ act: 'withdrew', thing: 'token', id: row.id, name: row.name }),
      )
      return {}
    })
  }
}
