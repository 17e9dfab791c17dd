import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { request } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startServer } from '@bichroma/server'
import { readTls } from '../packages/server/src/app/tls'
import { builtProgram } from '../scripts/builtProgram.cjs'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-start-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const main = [builtProgram('packages/server/src/app/main.ts')]
const run = (...args: string[]) => spawnSync(process.execPath, [...main, ...args], { encoding: 'utf8' })

/** A key and its certificate for this machine, good for so many days. */
function certificate(name: string, days: number) {
  const [key, cert] = [join(folder, `${name}.key`), join(folder, `${name}.pem`)]
  const subject = ['-subj', '/CN=localhost', '-addext', 'subjectAltName=IP:127.0.0.1']
  const made = spawnSync('openssl', [
    ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes'],
    ...['-keyout', key, '-out', cert, '-days', String(days), ...subject],
  ])
  if (made.status !== 0) throw new Error(made.stderr.toString())
  return { key, cert }
}

describe('--check', () => {
  test('says that nothing stands in the way, and changes nothing @long', () => {
    const data = join(folder, 'fresh')
    const { stdout, status } = run('--check', '--data', data, '--port', '0')
    expect([status, stdout]).toEqual([0, 'Nothing stands in the way: Bichroma would start.\n'])
    expect(() => statSync(data)).toThrow()
  })

  test('tells everything that does', async () => {
    const data = join(folder, 'damaged')
    mkdirSync(data)
    writeFileSync(join(data, 'bichroma.sqlite'), 'no store'.repeat(200))
    const taken = createServer()
    await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done))
    const { port } = taken.address() as AddressInfo
    const { stdout, status } = run(
      ...['--check', '--data', data, '--port', String(port), '--web', join(folder, 'nothing')],
      ...['--tls-key', join(folder, 'no.key'), '--tls-cert', join(folder, 'no.pem')],
    )
    taken.close()
    expect(status).toBe(1)
    for (const words of ['is damaged', 'no.key cannot be read', 'holds no web application', 'The port is taken'])
      expect(stdout).toContain(words)
  })

  test('a config file with faults starts nothing, and each is told @long', () => {
    const file = join(folder, 'wrong.conf')
    writeFileSync(file, 'port = many\ncolour = blue\n')
    const { stderr, status } = run('--config', file)
    expect(status).toBe(1)
    expect(stderr).toContain('“port” (from')
    expect(stderr).toContain('“colour” in')
  })

  test('--print-config prints what can be set @long', () => {
    expect(run('--print-config').stdout).toContain('# port = 4610')
  })
})

describe('TLS', () => {
  const { key, cert } = certificate('good', 30)

  test('the cookie is for TLS only, and the browser is told to stay with it @long', async () => {
    const server = await startServer({
      dataDir: join(folder, 'tls'),
      durable: false,
      tls: readTls(key, cert, Date.now()),
    })
    await server.access.addAccount('ana', 'Ana', 'viewer', 'a long enough one')
    expect(server.url).toMatch(/^https:/)
    const { headers, status } = await new Promise<{ headers: Record<string, unknown>; status?: number }>(
      (done, fail) => {
        const asked = request(
          `${server.url}/api/session`,
          { method: 'POST', ca: readFileSync(cert), headers: { 'content-type': 'application/json' } },
          (response) => {
            response.resume()
            done({ headers: response.headers, status: response.statusCode })
          },
        )
        asked.on('error', fail)
        asked.end(JSON.stringify({ login: 'ana', password: 'a long enough one' }))
      },
    )
    expect(status).toBe(200)
    expect(String(headers['set-cookie'])).toMatch(/; HttpOnly; Secure; SameSite=Strict/)
    expect(headers['strict-transport-security']).toMatch(/max-age=\d{7,}/)
    await server.close()
  })

  test('without it neither is promised; behind a proxy that says so both are @long', async () => {
    const server = await startServer({ dataDir: join(folder, 'plain'), durable: false, proxy: ['loopback'] })
    await server.access.addAccount('ana', 'Ana', 'viewer', 'a long enough one')
    const signIn = (headers: Record<string, string>) =>
      fetch(`${server.url}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: JSON.stringify({ login: 'ana', password: 'a long enough one' }),
      })
    const plain = await signIn({})
    expect(plain.headers.get('set-cookie')).not.toContain('Secure')
    expect(plain.headers.get('strict-transport-security')).toBeNull()
    const proxied = await signIn({ 'x-forwarded-proto': 'https', 'x-forwarded-for': '203.0.113.9' })
    expect(proxied.headers.get('set-cookie')).toContain('Secure')
    expect(proxied.headers.get('strict-transport-security')).not.toBeNull()
    await server.close()
  })

  test('a proxy that nobody named is not believed @long', async () => {
    const server = await startServer({ dataDir: join(folder, 'alone'), durable: false })
    const response = await fetch(`${server.url}/api/session`, { headers: { 'x-forwarded-proto': 'https' } })
    expect(response.headers.get('strict-transport-security')).toBeNull()
    await server.close()
  })

  test.each([
    [
      'a key that does not fit',
      () => readTls(certificate('other', 30).key, cert, Date.now()),
      'does not fit the certificate',
    ],
    ['a certificate that ran out', () => readTls(key, cert, Date.now() + 31 * 86_400_000), 'ran out on'],
    ['a file that is none', () => readTls(key, key, Date.now()), 'is not one in PEM'],
  ])('%s is told', (_what, read, words) => {
    expect(read).toThrow(words)
  })
})

test('the store and its folder are their owner’s only; SIGTERM ends the server in order @long', async () => {
  const data = join(folder, 'served')
  const child = spawn(process.execPath, [...main, '--data', data, '--port', '0'], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const first = await new Promise<string>((resolve) => child.stdout.once('data', (d: Buffer) => resolve(d.toString())))
  expect(JSON.parse(first)).toMatchObject({ first: expect.stringMatching(/^[A-Z2-9]{5}(-[A-Z2-9]{5}){3}$/) })
  const mode = (path: string) => (statSync(path).mode & 0o777).toString(8)
  expect([mode(data), mode(join(data, 'bichroma.sqlite')), mode(join(data, 'cookie-secret'))]).toEqual([
    '700',
    '600',
    '600',
  ])
  const gone = new Promise((resolve) => child.once('exit', resolve))
  child.kill('SIGTERM')
  expect(await gone).toBe(0)
})

describe('for whoever watches it', () => {
  const token = 'a-token-of-sixteen'

  test('its health, its numbers behind a token, and a number for each request @long', async () => {
    const server = await startServer({ dataDir: join(folder, 'watched'), durable: false, metricsToken: token })
    const get = (path: string, headers = {}) => fetch(server.url + path, { headers })
    expect(await (await get('/healthz')).json()).toEqual({ status: 'ok' })
    expect((await get('/metrics')).status).toBe(401)
    expect((await get('/metrics', { authorization: 'Bearer another-token-here' })).status).toBe(401)
    const told = await get('/api/displays')
    expect(told.headers.get('x-request-id')).toMatch(/^[0-9a-f-]{36}$/)
    const text = await (await get('/metrics', { authorization: `Bearer ${token}` })).text()
    expect(text).toMatch(/bichroma_request_seconds_count\{method="GET",status="401"\} 1/)
    expect(text).toContain('bichroma_couriers_online 0')
    expect(text).toContain('nodejs_eventloop_lag_p99_seconds')
    await server.close()
  })

  test('without a token metrics are off', async () => {
    const server = await startServer({ dataDir: join(folder, 'unwatched'), durable: false })
    expect((await fetch(`${server.url}/metrics`, { headers: { authorization: 'Bearer ' } })).status).toBe(404)
    await server.close()
  })
})

test('a line for each request, and no secret in it @long', async () => {
  const data = join(folder, 'logged')
  const child = spawn(process.execPath, [...main, '--data', data, '--port', '0', '--log', 'info'])
  let lines = ''
  child.stderr.on('data', (chunk: Buffer) => (lines += chunk.toString()))
  const { url } = JSON.parse(
    await new Promise<string>((r) => child.stdout.once('data', (d: Buffer) => r(d.toString()))),
  ) as {
    url: string
  }
  const body = JSON.stringify({ login: 'ana', password: 'not-to-be-written-down' })
  await fetch(`${url}/api/session?secret=1`, { method: 'POST', headers: { 'content-type': 'application/json' }, body })
  const gone = new Promise((resolve) => child.once('close', resolve))
  child.kill('SIGTERM')
  await gone
  const entry = lines
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Record<string, unknown>)
    .find((e) => e.msg === 'request')
  expect(entry).toMatchObject({ method: 'POST', path: '/api/session', status: 401 })
  expect(lines).not.toMatch(/not-to-be-written-down|secret=1/)
})

test('the unit for systemd is one', () => {
  const { error, status, stderr } = spawnSync('systemd-analyze', ['verify', 'docs/bichroma.service'], {
    encoding: 'utf8',
  })
  // A machine without systemd has nothing to ask.
  if ((error as NodeJS.ErrnoException | undefined)?.code === 'ENOENT') return
  // What it says of programs that this machine keeps elsewhere is no fault of the unit.
  const faults = stderr.split('\n').filter((line) => line && !/not executable|No such file/.test(line))
  expect([faults, status === 0 || faults.length === 0]).toEqual([[], true])
})
