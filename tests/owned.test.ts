import { spawnSync } from 'node:child_process'
import {
  chmodSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { openStore, startServer } from '@bichroma/server'
import { HeldClient } from './heldClient'
import { ServerChild } from '../scripts/ordeal/serverChild'
import { builtProgram } from '../scripts/builtProgram.cjs'

let folder: string
let dataDir: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-owned-'))
  dataDir = join(folder, 'data')
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const file = () => join(dataDir, 'bichroma.sqlite')
/** A store with something in it, closed. */
const makeStore = async () => {
  const data = await openStore(dataDir)
  await data.query(`INSERT INTO room (name) VALUES ('Sedge Room')`)
  await data.query('PRAGMA wal_checkpoint(TRUNCATE)')
  await data.destroy()
}

describe('a data folder belongs to one server at a time', () => {
  test('a second one, in the same process or another, is refused by name and changes nothing', async () => {
    const first = await startServer({ dataDir })
    const { address, port } = { address: '127.0.0.1', port: new URL(first.url).port }
    const named = `belongs to another Bichroma that is running (process ${process.pid} on `
    await expect(startServer({ dataDir })).rejects.toThrow(named)
    const said = await ServerChild.start(dataDir, { probe: false }).catch((error: Error) => error.message)
    expect(said).toContain(named)
    expect(said).toContain(`at http://${address}:${port}`)
    expect((await fetch(`${first.url}/api/session`)).status).toBe(200)
    await first.close()
    // Whoever closes lets it go.
    await (await startServer({ dataDir })).close()
  })

  test('a server that was killed holds nothing any more @long', async () => {
    const child = await ServerChild.start(dataDir, { probe: false })
    await expect(startServer({ dataDir })).rejects.toThrow(`process ${child.process.pid}`)
    await child.end('SIGKILL')
    await (await startServer({ dataDir })).close()
  })

  test('a live run of the first is left alone by the second @long', async () => {
    await makeStore()
    const first = await startServer({ dataDir })
    const store = new Database(file())
    store.pragma('foreign_keys = OFF')
    store.exec(`INSERT INTO run (display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at)
      VALUES (1, 1, 'check', 'x', '{}', '{}', 1, 1, 'running', 'prove', 1)`)
    await expect(startServer({ dataDir })).rejects.toThrow('belongs to another')
    expect(store.prepare('SELECT state FROM run').pluck().get()).toBe('running')
    store.close()
    await first.close()
  })

  test('a port that is taken ends the second before it has changed anything @long', async () => {
    const taken = createServer()
    await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve))
    const { port } = taken.address() as AddressInfo
    await expect(startServer({ dataDir, port })).rejects.toMatchObject({ code: 'EADDRINUSE' })
    expect(existsSync(file())).toBe(false)
    const said = await ServerChild.start(dataDir, { port, probe: false }).catch((error: Error) => error.message)
    expect(said).toBe('The port is taken. Nothing was changed. Choose another with --port, or 0 for any free one.')
    await new Promise((resolve) => taken.close(resolve))
    await (await startServer({ dataDir, port })).close()
  })
})

describe('a store that cannot be used is refused with a sentence', () => {
  const refused = async (words: string) => {
    await expect(startServer({ dataDir })).rejects.toThrow(words)
    // And the folder is let go.
    await expect(startServer({ dataDir })).rejects.toThrow(words)
  }

  test('one that is no database @long', async () => {
    await makeStore()
    writeFileSync(file(), 'This was a text once. '.repeat(500))
    await refused('is damaged')
  })

  test('one whose middle was overwritten @long', async () => {
    await makeStore()
    const bytes = readFileSync(file())
    bytes.fill(0x5a, 4096, 12_288)
    writeFileSync(file(), bytes)
    await refused('is damaged')
    expect(readFileSync(file()).equals(bytes)).toBe(true)
  })

  test('one that was cut short', async () => {
    await makeStore()
    truncateSync(file(), Math.floor(statSync(file()).size / 2))
    await refused('is damaged')
  })

  test('one that a newer version has used', async () => {
    await makeStore()
    const store = new Database(file())
    store.exec(`INSERT INTO migrations (timestamp, name) VALUES (1999999999999, 'NinetyNinthMigration1999999999999')`)
    store.close()
    await refused('was last used by a newer version of Bichroma (it holds NinetyNinthMigration1999999999999)')
  })

  test('a folder that is a file', async () => {
    writeFileSync(dataDir, '')
    await refused('cannot be used')
  })

  test('a folder that may not be written, told by the program itself @long', async () => {
    // Whoever runs the tests as root may write anywhere; another account may not.
    await makeStore()
    const asNobody = process.getuid?.() === 0
    if (asNobody) chmodSync(folder, 0o755)
    chmodSync(dataDir, 0o555)
    const { stderr, status } = spawnSync(
      process.execPath,
      [builtProgram('packages/server/src/app/main.ts'), '--data', dataDir, '--port', '0'],
      {
        encoding: 'utf8',
        env: { ...process.env, TMPDIR: folder },
        ...(asNobody && { uid: 65534, gid: 65534 }),
      },
    )
    chmodSync(dataDir, 0o755)
    expect(stderr).toContain(`The folder ${dataDir} cannot be used`)
    expect(stderr).toContain('See that this account may write into it.')
    expect(status).toBe(1)
  })
})

test('a secret of sessions that was cut short is made anew, and people sign in @long', async () => {
  let server = await startServer({ dataDir })
  await server.access.addAccount('marit', 'Marit', 'administrator', 'sedge')
  await server.close()
  for (const broken of ['', 'abc', '\n'.repeat(64)]) {
    writeFileSync(join(dataDir, 'cookie-secret'), broken)
    server = await startServer({ dataDir })
    const client = new HeldClient(server.url)
    await client.signIn('marit', 'sedge')
    expect(await client.get('/session')).toMatchObject({ account: { login: 'marit' } })
    expect(statSync(join(dataDir, 'cookie-secret')).mode & 0o777).toBe(0o600)
    await server.close()
  }
})

test('a fault that nobody foresaw ends the process by itself, with a log and with the folder let go @long', async () => {
  const child = await ServerChild.start(dataDir, {
    probe: false,
    env: { NODE_OPTIONS: `--import ${join(process.cwd(), 'tests/unforeseen.mjs')}` },
  })
  const gone = new Promise((resolve) => child.process.once('exit', resolve))
  child.process.send('fault')
  expect(await gone).toBe(1)
  expect(child.log).toContain('"message":"a promise that nobody caught"')
  expect(child.log).toContain('"msg":"Nobody foresaw this; the server ends"')
  await (await startServer({ dataDir })).close()
})
