import { randomBytes } from 'node:crypto'
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { storeFault, StoreRefusal } from './storeFault'

/**
 * A secret of a data folder: 32 bytes as hexadecimal, made once and readable by its owner only; one that was cut short is
 * made anew. `what`: the beginning of the sentence where it cannot be kept. Throws StoreRefusal.
 */
export function folderSecret(folder: string, name: string, what: string): string {
  const path = join(folder, name)
  try {
    const kept = existsSync(path) ? readFileSync(path, 'utf8').trim() : ''
    if (/^[0-9a-f]{64}$/.test(kept)) return kept
    const secret = randomBytes(32).toString('hex')
    writeFileSync(`${path}.new`, secret, { mode: 0o600, flush: true })
    renameSync(`${path}.new`, path)
    return secret
  } catch (error) {
    throw new StoreRefusal(
      `${what} cannot be kept in ${path}: ${storeFault(error)?.sentence ?? (error as Error).message}`,
    )
  }
}
