import { ownFolder } from '../data/folderLock'
import { StoreRefusal } from '../data/storeFault'
import { rebuildDisplays, strayDisplays } from '../floor/rebuildDisplays'
import { readCommandLine } from './commandLine'
import { openStore } from './store'

/** Writes the read models of a folder anew from what they tell of, and says what differed. No server may be on it. */
async function main() {
  const { data } = readCommandLine('Say which folder: npm run -s rebuild -- --data DIR')
  const lock = ownFolder(data, Date.now)
  try {
    const store = await openStore(data)
    const stray = await strayDisplays(store)
    const rows = await rebuildDisplays(store)
    await store.destroy()
    process.stdout.write(
      stray.length
        ? `${rows} displays were written anew; ${stray.length} of them said something else than what they tell of: ${stray.slice(0, 20).join(', ')}.\n`
        : `${rows} displays were written anew; all of them had said what they tell of.\n`,
    )
  } finally {
    lock.release()
  }
}

main().catch((error: Error) => {
  console.error(error instanceof StoreRefusal ? error.sentence : (error.stack ?? error.message))
  process.exit(1)
})
