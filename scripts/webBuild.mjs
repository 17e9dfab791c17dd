import { existsSync, statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { must } from './install.mjs'
import { newest } from './newest.mjs'

/** Where the built web application lies. */
export const web = 'packages/web/dist'

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
