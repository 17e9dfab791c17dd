import { hash, verify } from '@node-rs/argon2'
import { Refusal } from '../http/problem'
import { isCommonPassword } from './commonPasswords'

/** Argon2id at the parameters that OWASP recommends first: 19 MiB, two passes, one lane. */
const parameters = { memoryCost: 19456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, parameters)

export const passwordFits = (encoded: string, password: string): Promise<boolean> =>
  verify(encoded, password).catch(() => false)

/** Refuses a new password that others try first: a common one, or its owner's own name. */
export function mustBeStrong(password: string, names: readonly string[]): void {
  const plain = password.toLowerCase()
  if (isCommonPassword(password) || names.some((n) => plain === n.toLowerCase() || plain === `${n}${n}`.toLowerCase()))
    throw new Refusal(
      'invalid-input',
      'This password is among the first that others would try. A short sentence of your own is better.',
      'password',
    )
}
