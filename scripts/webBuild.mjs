import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { must } from './install.mjs'

/** Where the built web application lies. */
export const web = 'packages/web/dist'

const newest = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .reduce((latest, f) => Math.max(latest, statSync(join(f.parentPath, f.name)).mtimeMs), 0)

/** Builds the web application when it is missing or older than what it is made of. */
export function buildWeb() {
  const sources = Math.max(
    statSync('packages/web/vite.config.ts').mtimeMs,
    ...['packages/web/src', 'packages/core/src', 'packages/contract/src'].map(newest),
  )
  if (existsSync(`${web}/index.html`) && statSync(`${web}/index.html`).mtimeMs >= sources) return
  console.log('Building the web application…')
  must('npm', ['run', '-s', 'build'])
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildWeb()
