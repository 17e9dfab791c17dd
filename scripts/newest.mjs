import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'

/** When the newest file of a folder was written, ms since 1970. */
export const newest = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .reduce((latest, f) => Math.max(latest, statSync(join(f.parentPath, f.name)).mtimeMs), 0)
