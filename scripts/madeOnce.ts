import { cpSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs'
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

/** A new folder with a copy of something that is made once, by whoever needs it first. */
export async function copyOfMade(name: string, make: (folder: string) => Promise<void>): Promise<string> {
  const made = await madeOnce(name, make)
  const copy = mkdtempSync(join(tmpdir(), 'bichroma-'))
  cpSync(made, copy, { recursive: true })
  return copy
}

/** The folder of what is made once: made aside and then renamed, so that nobody sees half of it, whichever process makes it. */
async function madeOnce(name: string, make: (folder: string) => Promise<void>): Promise<string> {
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
