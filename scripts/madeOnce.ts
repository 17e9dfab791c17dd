import { existsSync, mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** The folder that `npm test` gives its workers, or one of this process's own. */
let shelf = process.env.BICHROMA_TEST_SHELF ?? null

function shelfNow(): string {
  if (shelf === null) {
    const own = mkdtempSync(join(tmpdir(), 'bichroma-shelf-'))
    process.on('exit', () => rmSync(own, { recursive: true, force: true }))
    shelf = own
  }
  mkdirSync(shelf, { recursive: true })
  return shelf
}

/**
 * The folder of something that is made once and copied by whoever needs it, by whoever needs it first: made aside and then
 * renamed, so that nobody sees half of it, whichever process makes it.
 */
export async function madeOnce(name: string, make: (folder: string) => Promise<void>): Promise<string> {
  const made = join(shelfNow(), name)
  if (existsSync(made)) return made
  const aside = mkdtempSync(`${made}-`)
  await make(aside)
  try {
    renameSync(aside, made)
  } catch (error) {
    // Another process was faster; what it made is as good.
    if (!existsSync(made)) throw error
    rmSync(aside, { recursive: true, force: true })
  }
  return made
}
