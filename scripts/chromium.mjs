import { spawnSync } from 'node:child_process'
import { must } from './install.mjs'

const find = () =>
  spawnSync('sh', ['-c', 'command -v chromium || command -v chromium-browser'], { encoding: 'utf8' }).stdout.trim()

/** The path of Debian's Chromium; installs it when it is missing. */
export function chromiumPath({ install = false } = {}) {
  const found = find()
  if (found || !install) return found
  console.log('Installing Chromium…')
  const sudo = process.getuid?.() === 0 ? [] : ['sudo']
  const [first, ...rest] = [...sudo, 'apt-get']
  must(first, [...rest, 'update', '-qq'])
  must(first, [...rest, 'install', '-y', '-qq', 'chromium'], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  return find()
}

/** How Chromium is started everywhere here. */
export const chromiumArgs = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]
