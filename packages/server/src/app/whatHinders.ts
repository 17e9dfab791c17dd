import { existsSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { ownFolder } from '../data/folderLock'
import { inspectStore } from '../data/inspectStore'
import { StoreRefusal } from '../data/storeFault'
import type { Settings } from './settings'
import { migrationNames } from './store'
import { readTls } from './tls'

/** What would keep the server from starting with these settings, a sentence each; nothing is changed by looking. */
export async function whatHinders(settings: Settings, now: () => number): Promise<string[]> {
  const found: string[] = []
  const look = (what: () => void) => {
    try {
      what()
    } catch (error) {
      if (!(error instanceof StoreRefusal)) throw error
      found.push(error.sentence)
    }
  }
  if (existsSync(settings.data)) {
    look(() => ownFolder(settings.data, now).release())
    look(() => inspectStore(join(settings.data, 'bichroma.sqlite'), migrationNames))
  }
  const { tlsKey, tlsCert } = settings
  if (tlsKey !== null && tlsCert !== null) look(() => void readTls(tlsKey, tlsCert, now()))
  if (settings.web !== null && !existsSync(join(settings.web, 'index.html')))
    found.push(`The folder ${settings.web} holds no web application. “npm run build” makes it.`)
  const taken = await whyNotListen(settings)
  if (taken) found.push(taken)
  return found
}

/** Why the port cannot be had, or null. */
const whyNotListen = ({ host, port }: Settings): Promise<string | null> =>
  new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', (error: NodeJS.ErrnoException) => resolve(portSentence(error) ?? error.message))
    probe.listen(port, host, () => probe.close(() => resolve(null)))
  })

/** What a port's refusal means, for people; null for another error. */
export function portSentence(error: NodeJS.ErrnoException): string | null {
  if (error.code === 'EADDRINUSE')
    return 'The port is taken. Nothing was changed. Choose another with --port, or 0 for any free one.'
  if (error.code === 'EACCES') return 'This account may not listen on that port. Choose one from 1024 up.'
  if (error.code === 'EADDRNOTAVAIL') return 'This machine does not have the address of --host.'
  return null
}
