import type Database from 'better-sqlite3'
import { authenticator } from 'otplib'
import { toString as qrCode } from 'qrcode'
import type { DataSource } from 'typeorm'
import {
  confirmSecondFactorSchema,
  ownPasswordSchema,
  validate,
  type SecondFactorOffer,
  type SecondFactorState,
} from '@bichroma/contract'
import { insertion, type Take } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger, Telling } from '../ledger/ledger'
import { accountEntity, recoveryCodeEntity, type AccountRow } from './entities'
import { newToken, tokenDigest } from './firstVisit'

/** Codes by which somebody gets in who has lost what shows the six figures. */
const recoveryCodes = 10
/** What a code of RFC 6238 is good for, ms. */
const stepMs = 30_000

const hashOf = (code: string) => tokenDigest(code).toString('hex')

/** Tells of a change of somebody's second factor. */
const told = (row: AccountRow, field: string, to?: string): Telling => ({
  act: 'changed',
  thing: 'account',
  id: row.id,
  name: row.name,
  changes: [{ field, ...(to && { to }) }],
})

/** Six figures of the moment (RFC 6238: SHA-1, 30 s), besides the password; and codes to be used once in their place. */
export class SecondFactor {
  constructor(
    private readonly data: DataSource,
    private readonly ledger: Ledger,
    private readonly now: () => number,
  ) {}

  private get rows() {
    return this.data.getRepository(accountEntity)
  }
  private get store() {
    return (this.data.driver as unknown as { databaseConnection: Database.Database }).databaseConnection
  }

  /** The half minute whose code this is, of now and the ones beside it; null for none. */
  private stepOf(code: string, secret: string): number | null {
    if (!/^\d{6}$/.test(code)) return null
    const now = this.now()
    const delta = authenticator.clone({ epoch: now, window: 1 }).checkDelta(code, secret)
    return delta === null ? null : Math.floor(now / stepMs) + delta
  }

  /** Whether a code passes for an account; it is used up by that. */
  passes(row: AccountRow, typed: string): boolean {
    if (row.factorSecret === null) return true
    const code = typed.replace(/[\s-]/g, '')
    const step = this.stepOf(code, row.factorSecret)
    if (step !== null)
      // Two who send the same code in the same moment: one of them passes.
      return (
        this.store
          .prepare('UPDATE account SET factor_step = ? WHERE id = ? AND factor_step < ? AND factor_secret = ?')
          .run(step, row.id, step, row.factorSecret).changes === 1
      )
    return (
      this.store.prepare('DELETE FROM recovery_code WHERE account_id = ? AND hash = ?').run(row.id, hashOf(code))
        .changes === 1
    )
  }

  private async state(id: number): Promise<SecondFactorState> {
    const row = await this.rows.findOneByOrFail({ id })
    const codesLeft = await this.data.getRepository(recoveryCodeEntity).countBy({ accountId: id })
    return { on: row.factorSecret !== null, codesLeft }
  }

  /** Makes new recovery codes in place of those before; they are told this once. */
  private newCodes(take: Take, accountId: number): string[] {
    take(this.data.createQueryBuilder().delete().from(recoveryCodeEntity).where({ accountId }))
    const codes = Array.from({ length: recoveryCodes }, () => newToken().slice(0, 11))
    for (const code of codes) take(insertion(this.data.manager, recoveryCodeEntity, { accountId, hash: hashOf(code) }))
    return codes
  }

  /** What of the account's row changes, as a statement. */
  private set(id: number, change: Partial<AccountRow>) {
    return this.data.createQueryBuilder().update(accountEntity).set(change).where({ id })
  }

  private remove(take: Take, id: number) {
    take(this.set(id, { factorSecret: null, factorOffered: null }))
    take(this.data.createQueryBuilder().delete().from(recoveryCodeEntity).where({ accountId: id }))
  }

  /** `mustKnowPassword` refuses whoever does not know an account's password, and counts the try. */
  routes(
    api: Api,
    mustKnowPassword: (row: AccountRow, password: string, address: string) => Promise<void>,
    mayTry: (row: AccountRow, address: string) => void,
    failed: (row: AccountRow, address: string) => void,
  ): void {
    const own = (request: { account: { id: number } }) => this.rows.findOneByOrFail({ id: request.account.id })

    api.on('GET /session/second-factor', (request) => this.state(request.account.id))

    api.on('POST /session/second-factor', async (request): Promise<SecondFactorOffer> => {
      const row = await own(request)
      if (row.factorSecret !== null)
        throw new Refusal('conflict', 'This account has a second factor already. Take it away first.')
      // Asked again, it is the same: a page that was loaded anew must not make what was read off it worthless.
      const secret = row.factorOffered ?? authenticator.generateSecret(20)
      if (row.factorOffered === null) await this.rows.update({ id: row.id }, { factorOffered: secret })
      const address = authenticator.keyuri(row.login, 'Bichroma', secret)
      return { secret, address, picture: await qrCode(address, { type: 'svg', margin: 1 }) }
    })

    api.on('PUT /session/second-factor', async (request, response) => {
      const { code } = validate(confirmSecondFactorSchema, request.body)
      const row = await own(request)
      const { factorOffered } = row
      if (factorOffered === null || row.factorSecret !== null)
        throw new Refusal('conflict', 'No second factor is being set up. Begin anew.')
      mayTry(row, request.ip ?? '')
      const step = this.stepOf(code.replace(/[\s-]/g, ''), factorOffered)
      if (step === null) {
        failed(row, request.ip ?? '')
        throw new Refusal(
          'invalid-input',
          'These are not the six figures of this moment. Look whether the clock of what shows them is right.',
          'code',
        )
      }
      const codes = this.ledger.change(
        request.account,
        (take) => {
          take(this.set(row.id, { factorSecret: factorOffered, factorOffered: null, factorStep: step }))
          return this.newCodes(take, row.id)
        },
        () => told(row, 'second factor', 'on'),
      )
      response.status(201)
      return { codes }
    })

    api.on('POST /session/second-factor/codes', async (request, response) => {
      const { password } = validate(ownPasswordSchema, request.body)
      const row = await own(request)
      await mustKnowPassword(row, password, request.ip ?? '')
      if (row.factorSecret === null) throw new Refusal('conflict', 'This account has no second factor.')
      const codes = this.ledger.change(
        request.account,
        (take) => this.newCodes(take, row.id),
        () => told(row, 'recovery codes'),
      )
      response.status(201)
      return { codes }
    })

    api.on('POST /session/second-factor/remove', async (request) => {
      const { password } = validate(ownPasswordSchema, request.body)
      const row = await own(request)
      await mustKnowPassword(row, password, request.ip ?? '')
      this.ledger.change(
        request.account,
        (take) => this.remove(take, row.id),
        () => told(row, 'second factor', 'off'),
      )
      return {}
    })

    // For somebody who has lost both what shows the figures and the recovery codes.
    api.on('DELETE /people/:id/second-factor', async (request) => {
      const row = await this.rows.findOneBy({ id: idOf(request) })
      if (!row) throw new Refusal('not-found', `There is no account ${idOf(request)}.`)
      if (row.id === request.account.id)
        throw new Refusal('conflict', 'Your own second factor is taken away in your own account, by your password.')
      this.ledger.change(
        request.account,
        (take) => this.remove(take, row.id),
        () => told(row, 'second factor', 'off'),
      )
      return {}
    })
  }
}
