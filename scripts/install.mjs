import { spawnSync } from 'node:child_process'
import { existsSync, statSync, utimesSync } from 'node:fs'

/** Runs a command with its output shown; ends this process when it fails. */
export function must(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { stdio: 'inherit', ...options })
  if (status === 0) return
  console.error(`${command} ${args.join(' ')} failed${error ? `: ${error.message}` : ''}.`)
  process.exit(status || 1)
}

const newer = (a, b) => statSync(a).mtimeMs > statSync(b).mtimeMs

/** Installs the packages when they are missing or older than the lock file. */
export function installPackages() {
  const marker = 'node_modules/.package-lock.json'
  if (existsSync(marker) && !newer('package-lock.json', marker)) return
  console.log('Installing packages (about three minutes the first time; SQLite is compiled)…')
  // Not “npm ci”: a registry that holds one platform's optional packages leaves the others out of the lock, which it refuses.
  must('npm', ['install', '--no-audit', '--no-fund'])
  // So that the next start sees them as newer than the lock, even when nothing had to be written.
  utimesSync(marker, new Date(), new Date())
}
