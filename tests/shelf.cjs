const { mkdtempSync, rmSync } = require('node:fs')
const { tmpdir } = require('node:os')
const { join } = require('node:path')

/** Builds the programs that tests start, and a folder for what workers make once and copy; gone with the last of them. */
module.exports = async () => {
  await (await import('../scripts/programs.mjs')).buildPrograms()
  if (process.env.BICHROMA_TEST_SHELF) return
  const shelf = mkdtempSync(join(tmpdir(), 'bichroma-shelf-'))
  process.env.BICHROMA_TEST_SHELF = shelf
  globalThis.clearShelf = () => rmSync(shelf, { recursive: true, force: true })
}
