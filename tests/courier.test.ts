import WebSocket from 'ws'
import { contentHash } from '@bichroma/core/profiles'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

const key = () => studio.keys[live.workstation]
const address = () => `${studio.server.url.replace('http', 'ws')}/courier`

/** Connects with a key and sends first messages; gives what came back until the server hung up. */
function knock(
  bearer: string,
  messages: string[],
  path = address(),
): Promise<{ answers: string[]; status: number | null }> {
  return new Promise((resolve) => {
    const answers: string[] = []
    const socket = new WebSocket(path, { headers: { authorization: `Bearer ${bearer}` } })
    socket.on('open', () => messages.forEach((m) => socket.send(m)))
    socket.on('message', (data) => answers.push(data.toString()))
    socket.on('unexpected-response', (_, response) => {
      resolve({ answers, status: response.statusCode ?? null })
      socket.terminate()
    })
    socket.on('error', () => {})
    socket.on('close', () => resolve({ answers, status: null }))
  })
}

test('only an enrolment key opens the line', async () => {
  expect((await knock('wrong-key-wrong-key-wrong-key', [])).status).toBe(401)
  expect((await knock('', [])).status).toBe(401)
  expect((await knock(key(), [], address().replace('/courier', '/elsewhere'))).status).toBe(404)
})

test.each([
  ['no JSON', 'hello', 'not JSON'],
  ['another message first', JSON.stringify({ type: 'result', id: 1, ok: true, tookMs: 1 }), '“'],
  ['another protocol', null, 'protocol 99'],
])('a first message that is %s is refused with a sentence', async (_, text, words) => {
  const { answers } = await knock(key(), [
    text ?? JSON.stringify({ type: 'hello', protocol: 99, host: 'of another shape', displays: [], instruments: [] }),
  ])
  expect(JSON.parse(answers[0])).toMatchObject({ type: 'refused', sentence: expect.stringContaining(words) })
})

test('the real courier stays connected through all that', async () => {
  await until(async () => (await studio.display()).live, 'the courier is connected')
})

describe('contents', () => {
  const bytes = new TextEncoder().encode('some tables')
  const ask = (method: string, hash: string, body?: Uint8Array, bearer = key()) =>
    fetch(`${studio.server.url}/courier/contents/${hash}`, {
      method,
      headers: { authorization: `Bearer ${bearer}` },
      body: body && Buffer.from(body),
    })

  test.each([
    ['nothing is left while no slot is read', 'PUT', contentHash(bytes), 403],
    ['nothing is fetched that no command names', 'GET', contentHash(bytes), 404],
    ['what is no hash is not there', 'GET', 'hello', 404],
  ])('%s', async (_, method, hash, status) => {
    expect((await ask(method, hash, method === 'PUT' ? bytes : undefined)).status).toBe(status)
  })

  test('need a key', async () => {
    expect((await ask('GET', contentHash(bytes), undefined, 'x'.repeat(43))).status).toBe(401)
  })
})

test('a new key puts the old one out of use', async () => {
  const old = key()
  const made = await studio.admin.post<{ key: string }>(`/workstations/${studio.ids.workstation}/courier-key`)
  Object.assign(studio.keys, { [live.workstation]: made.key })
  await studio.connect()
  expect((await knock(old, [])).status).toBe(401)
})
