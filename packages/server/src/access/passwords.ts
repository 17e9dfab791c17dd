import { hash, verify } from '@node-rs/argon2'

/** Argon2id at the parameters that OWASP recommends first: 19 MiB, two passes, one lane. */
const parameters = { memoryCost: 19456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, parameters)

export const passwordFits = (encoded: string, password: string): Promise<boolean> =>
  verify(encoded, password).catch(() => false)
