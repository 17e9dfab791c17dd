import { randomInt, timingSafeEqual, createHash } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { accountEntity } from './entities'

/** Letters and figures that nobody mistakes for one another. */
const letters = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789'
const blocks = 4
const blockLength = 5

const digest = (text: string) => createHash('sha256').update(text).digest()

/** A new token for somebody to type: 100 bits in blocks of five. */
export const newToken = (): string =>
  Array.from({ length: blocks }, () =>
    Array.from({ length: blockLength }, () => letters[randomInt(letters.length)]).join(''),
  ).join('-')

/** How a token is kept and compared: without case, blanks and dashes. */
export const tokenDigest = (token: string): Buffer => digest(token.toUpperCase().replace(/[\s-]/g, ''))

/** The token of the console with which the first administrator is made, while there is no account. */
export class FirstVisit {
  private kept: Buffer | null = null

  constructor(private readonly data: DataSource) {}

  /** Whether nobody has an account yet. */
  async open(): Promise<boolean> {
    return !(await this.data.getRepository(accountEntity).exists())
  }

  /** A new token for the console; null once there is an account. */
  async begin(): Promise<string | null> {
    if (!(await this.open())) return null
    const token = newToken()
    this.kept = tokenDigest(token)
    return token
  }

  fits(token: string): boolean {
    return this.kept !== null && timingSafeEqual(this.kept, tokenDigest(token))
  }

  /** The first account is there: the token is worth nothing any more. */
  over(): void {
    this.kept = null
  }
}
