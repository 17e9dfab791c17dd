import { existsSync, mkdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { ownFolder } from '../../data/folderLock'
import { StoreRefusal } from '../../data/storeFault'
import { readCommandLine } from '../commandLine'
import { readArchive } from './readArchive'
import { writeArchive } from './writeArchive'

const usage =
  'Say what: npm run -s archive -- out FILE.zip --data DIR, or: npm run -s archive -- in FILE.zip --data DIR'

/** All that a studio keeps, out as an open archive and in again. A server may be on the folder while it is written out. */
async function main() {
  const {
    data,
    words: [what, file],
  } = readCommandLine(usage, 2)
  if (!['out', 'in'].includes(what) || !file) throw new StoreRefusal(usage)
  const folder = resolve(data)
  if (what === 'out') {
    const store = join(folder, 'bichroma.sqlite')
    if (!existsSync(store)) throw new StoreRefusal(`There is no store in ${folder}.`)
    if (existsSync(file)) throw new StoreRefusal(`${resolve(file)} is there already; choose another name.`)
    const { tables, contents } = await writeArchive(store, resolve(file), Date.now())
    process.stdout.write(
      `Written: ${tables.display} displays, ${tables.run} runs with ${tables.reading} readings, ${contents} contents, ${tables.ledger} entries of the ledger.\n`,
    )
    return
  }
  if (!existsSync(file)) throw new StoreRefusal(`There is no file ${resolve(file)}.`)
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const lock = ownFolder(folder, Date.now)
  try {
    const { head, links } = await readArchive(resolve(file), folder, Date.now())
    process.stdout.write(
      `Taken in: ${head.tables.display} displays, ${head.tables.run} runs, as of ${head.madeAt}.\nPasswords stayed behind. One-time links for administrators, good for seven days:\n${links
        .map(({ login, token }) => `  ${login}: /welcome?token=${token}`)
        .join('\n')}\n`,
    )
  } finally {
    lock.release()
  }
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof StoreRefusal ? error.message : (error as Error).stack}\n`)
  process.exitCode = 1
})
