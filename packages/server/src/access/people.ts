import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import {
  acceptSchema,
  changeAccountSchema,
  inviteSchema,
  validate,
  type Account,
  type Person,
} from '@bichroma/contract'
import { insertion } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { changesBetween, type Ledger, type Telling } from '../ledger/ledger'
import { newAccount, publicAccount, type Access } from './access'
import { accountEntity, accountTokenEntity, type AccountRow } from './entities'
import { newToken, tokenDigest } from './firstVisit'
import { hashPassword, mustBeStrong } from './passwords'

/** How long an invitation or a reset may be used, ms. */
const tokenMs = 3 * 86_400_000

const hashOf = (token: string) => tokenDigest(token).toString('hex')

/** Accounts: invited, changed, locked, reset; and the links by which their owners choose passwords. */
export function peopleRoutes(
  api: Api,
  data: DataSource,
  ledger: Ledger,
  access: Access,
  now: () => number,
  /** Numbers of rooms that are there, of those asked for. */
  roomsOf: (ids: readonly number[]) => Promise<readonly number[]>,
): void {
  const roomsMustExist = async (rooms: readonly number[] | null | undefined) => {
    if (rooms && (await roomsOf(rooms)).length < new Set(rooms).size)
      throw new Refusal('invalid-input', '“Rooms” names one that is not there; choose them from the list.', 'rooms')
  }
  const rows = data.getRepository(accountEntity)
  const tokens = data.getRepository(accountTokenEntity)
  const mustBe = async (id: number): Promise<AccountRow> => {
    const row = await rows.findOneBy({ id })
    if (!row) throw new Refusal('not-found', `There is no account ${id}.`)
    return row
  }
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  /**
   * A studio keeps an administrator who can sign in. Looked at in the change's own transaction: two who take each other's
   * role away in the same moment do not both succeed.
   */
  const mustLeaveOne = (name: string) => {
    const left = store
      .prepare(
        `SELECT COUNT(*) FROM account WHERE role = 'administrator' AND locked_at IS NULL AND password_hash <> ''`,
      )
      .pluck()
      .get()
    if (!left)
      throw new Refusal('conflict', `${name} is the last administrator who can sign in. Make another one first.`)
  }

  /** The statement that makes a one-time link, and its token. */
  const link = (accountId: number) => {
    const token = newToken()
    const at = now()
    const row = { accountId, hash: hashOf(token), madeAt: at, expiresAt: at + tokenMs }
    return { token, expiresAt: row.expiresAt, statement: insertion(data.manager, accountTokenEntity, row) }
  }
  /** Links of an account that were not used are worth nothing any more. */
  const withdrawLinks = (accountId: number) =>
    data.createQueryBuilder().delete().from(accountTokenEntity).where({ accountId })

  api.on('GET /people', async (): Promise<Person[]> =>
    (await rows.find({ order: { name: 'ASC' } })).map((row) => ({
      ...publicAccount(row, 'nobody'),
      secondFactor: row.factorSecret !== null,
      invited: row.passwordHash === '',
      locked: row.lockedAt !== null,
      signedInAt: row.signedInAt,
    })),
  )

  api.on('POST /people', async (request, response) => {
    const { login, name, role, rooms = null } = validate(inviteSchema, request.body)
    await roomsMustExist(rooms)
    const made = await refusingTaken('account', () =>
      ledger.change(
        request.account,
        (take) => {
          const id = take(
            insertion(data.manager, accountEntity, { ...newAccount, login, name, role, rooms, passwordHash: '' }),
          )
          const { token, expiresAt, statement } = link(id)
          take(statement)
          return { id, token, expiresAt }
        },
        ({ id }) => ({ act: 'invited', thing: 'account', id, name, changes: [{ field: 'role', to: role }] }),
      ),
    )
    response.status(201)
    return made
  })

  api.on('PUT /people/:id', async (request) => {
    const row = await mustBe(idOf(request))
    const { name, role, locked, rooms } = validate(changeAccountSchema, request.body)
    await roomsMustExist(rooms)
    if (rooms && (role ?? row.role) !== 'technician')
      throw new Refusal('invalid-input', 'Only technicians are limited to rooms; leave “rooms” out.', 'rooms')
    if (row.id === request.account.id && locked)
      throw new Refusal('conflict', 'Nobody locks their own account. Ask another administrator.', 'locked')
    const change = {
      ...(name !== undefined && { name }),
      ...(role !== undefined && { role }),
      // Whoever is no technician any more is not limited either.
      ...((role ?? row.role) !== 'technician' ? row.rooms && { rooms: null } : rooms !== undefined && { rooms }),
      ...(locked !== undefined && { lockedAt: locked ? (row.lockedAt ?? now()) : null }),
    }
    if (!Object.keys(change).length)
      throw new Refusal('invalid-input', 'Say what is to change: “name”, “role”, “rooms” or “locked”.')
    const wasLocked = row.lockedAt !== null
    const act: Telling['act'] =
      locked === undefined || locked === wasLocked ? 'changed' : locked ? 'locked' : 'unlocked'
    ledger.change(
      request.account,
      (take) => {
        take(data.createQueryBuilder().update(accountEntity).set(change).where({ id: row.id }))
        if (row.role === 'administrator') mustLeaveOne(row.name)
      },
      () => ({
        act,
        thing: 'account',
        id: row.id,
        name: name ?? row.name,
        changes: changesBetween(
          { name: row.name, role: row.role, rooms: row.rooms },
          { name, role, ...('rooms' in change && { rooms: change.rooms }) },
        ),
      }),
    )
    if (locked) await access.endSessions(row.id)
    return {}
  })

  api.on('POST /people/:id/reset', async (request, response) => {
    const row = await mustBe(idOf(request))
    const { token, expiresAt, statement } = link(row.id)
    ledger.change(
      request.account,
      (take) => {
        take(withdrawLinks(row.id))
        take(statement)
      },
      () => ({ act: 'reset', thing: 'account', id: row.id, name: row.name }),
    )
    response.status(201)
    return { token, expiresAt }
  })

  api.on('POST /accept', async (request): Promise<{ account: Account }> => {
    const { token, password } = validate(acceptSchema, request.body)
    access.mayTryToken(request)
    const kept = await tokens.findOneBy({ hash: hashOf(token) })
    const row = kept && (await rows.findOneBy({ id: kept.accountId }))
    const worthless = new Refusal(
      'invalid-input',
      'This link was used already, has run out, or was withdrawn. Ask an administrator for a new one.',
      'token',
    )
    if (!kept || !row || kept.expiresAt < now() || row.lockedAt !== null) {
      access.tokenFailed(request)
      throw worthless
    }
    mustBeStrong(password, [row.login, row.name])
    const passwordHash = await hashPassword(password)
    ledger.change(
      row,
      (take) => {
        // The password was hashed meanwhile: the link is good for once, and may be withdrawn.
        if (!store.prepare('SELECT 1 FROM account_token WHERE id = ?').get(kept.id)) throw worthless
        take(withdrawLinks(row.id))
        take(data.createQueryBuilder().update(accountEntity).set({ passwordHash }).where({ id: row.id }))
      },
      () => ({ act: 'changed', thing: 'account', id: row.id, name: row.name, changes: [{ field: 'password' }] }),
    )
    await access.endSessions(row.id)
    // A link takes the place of the password, not of the second factor.
    if (row.factorSecret === null) await access.begin(request, { ...row, passwordHash })
    return { account: publicAccount(row, 'nobody') }
  })
}
