import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildPrograms } from '../scripts/programs.mjs'

/**
 * Builds the programs, and makes the demo studio once, unless it was made already (`npm test` makes it beside its other checks); every file of
 * tests works on a copy. Gives what takes it away again.
 */
export default async function makeTemplate(): Promise<(() => void) | undefined> {
  await buildPrograms()
  if (process.env.BICHROMA_DEMO_TEMPLATE) return
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-e2e-template-'))
  const made = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', folder], {
    encoding: 'utf8',
  })
  if (made.status !== 0) throw new Error(made.stderr)
  process.env.BICHROMA_DEMO_TEMPLATE = folder
  return () => rmSync(folder, { recursive: true, force: true })
}
