import { spawnSync } from 'node:child_process'
import { must } from './install.mjs'

/** The path of a program, empty when there is none. */
export const findProgram = (...names) =>
  spawnSync('sh', ['-c', names.map((n) => `command -v ${n}`).join(' || ')], { encoding: 'utf8' }).stdout.trim()

/** Installs one of Debian's packages. */
export function installDebian(name) {
  console.log(`Installing ${name}…`)
  const sudo = process.getuid?.() === 0 ? [] : ['sudo']
  const [first, ...rest] = [...sudo, 'apt-get']
  must(first, [...rest, 'update', '-qq'])
  must(first, [...rest, 'install', '-y', '-qq', name], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
}
