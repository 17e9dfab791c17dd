import { findProgram, installDebian } from './debian.mjs'

const find = () => findProgram('chromium', 'chromium-browser')

/** The path of Debian's Chromium; installs it when it is missing. */
export function chromiumPath({ install = false } = {}) {
  const found = find()
  if (found || !install) return found
  installDebian('chromium')
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
/** And for what is drawn in three dimensions: by software, as there is no graphics processor. */
export const webGlArgs = ['--use-angle=swiftshader', '--enable-unsafe-swiftshader']
