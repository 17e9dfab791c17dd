import express, { type RequestHandler } from 'express'
import request from 'node:http'
import type { AddressInfo } from 'node:net'
import { InvalidInput } from '@bichroma/contract'
import { logFault } from '../data/log'
import { problemHandler, problemKinds, Refusal, type ProblemKind } from './problem'
import { refusingTaken } from './taken'

jest.mock('../data/log', () => ({ logFault: jest.fn() }))
beforeEach(() => jest.mocked(logFault).mockClear())

/** What a server answers whose handler does this. */
async function answerOf(handler: RequestHandler, path = '/', body?: string) {
  const app = express()
  app.use(express.json({ limit: 100 }))
  app.all('/{*any}', handler)
  app.use(problemHandler)
  const server = app.listen(0)
  try {
    const { port } = server.address() as AddressInfo
    return await new Promise<{ status: number; type: string | undefined; text: string; broken: boolean }>((resolve) => {
      const options = { port, path, method: body === undefined ? 'GET' : 'POST', agent: false }
      const sent = request.request({ ...options, headers: { 'content-type': 'application/json' } }, (response) => {
        let text = ''
        const told = (broken: boolean) =>
          resolve({ status: response.statusCode!, type: response.headers['content-type'], text, broken })
        response.on('data', (part) => (text += part)).on('end', () => told(false))
        response.on('error', () => told(true))
      })
      sent.end(body)
    })
  } finally {
    server.close()
  }
}
const throwing = (error: unknown) => answerOf(() => Promise.reject(error))

test.each(Object.keys(problemKinds) as ProblemKind[])('a refusal of kind %s is a problem (RFC 9457)', async (kind) => {
  const { status, type, text } = await throwing(new Refusal(kind, 'Do it otherwise.', 'name'))
  expect(type).toContain('application/problem+json')
  expect(status).toBe(problemKinds[kind].status)
  expect(JSON.parse(text)).toEqual({
    type: `/problems/${kind}`,
    title: problemKinds[kind].title,
    status,
    detail: 'Do it otherwise.',
    field: 'name',
  })
  expect(logFault).not.toHaveBeenCalled()
})

test('input that does not fit names its field', async () => {
  const { status, text } = await throwing(new InvalidInput('“name” must not be empty.', 'name'))
  expect(status).toBe(400)
  expect(JSON.parse(text)).toMatchObject({ detail: '“name” must not be empty.', field: 'name' })
})

test.each([
  ['what is not JSON', '/', '{"name": '],
  ['an address that cannot be decoded', '/%E0%A4%A', undefined],
])('%s is told as that', async (_, path, body) => {
  const { status, text } = await answerOf((_request, response) => void response.end(), path, body)
  expect(status).toBe(400)
  expect(JSON.parse(text).detail).toContain('could not be read')
})

test('what is too large is told as that', async () => {
  const { status, text } = await answerOf((_, response) => void response.end(), '/', JSON.stringify('x'.repeat(200)))
  expect(status).toBe(413)
  expect(JSON.parse(text)).toMatchObject({ title: 'Too large' })
})

test('a disk that failed is told with what to do, and that nothing was changed', async () => {
  const { status, text } = await throwing(Object.assign(new Error('x'), { code: 'SQLITE_FULL' }))
  expect(status).toBe(503)
  expect(JSON.parse(text).detail).toBe(
    'The disk of the server is full. Make room on it. Nothing was changed; then try again.',
  )
})

test.each([
  ['an error', new Error('secret: /home/marit/key.pem')],
  ['nothing', null],
  ['a word', 'secret: /home/marit/key.pem'],
  ['a status below those of refusals', Object.assign(new Error('x'), { status: 302 })],
])('%s that nobody foresaw tells nothing of what is inside', async (_, error) => {
  const { status, text } = await answerOf((_request, _response, next) => next(error ?? new Error('secret')))
  expect(status).toBe(500)
  expect(text).not.toContain('secret')
  expect(JSON.parse(text).detail).toContain('Nothing stored was lost')
  // The log has it.
  expect(logFault).toHaveBeenCalledWith('GET /', error ?? expect.any(Error))
})

test('what fails after a part was sent is cut off, so that nobody takes the part for the whole', async () => {
  const { broken } = await answerOf(async (_, response) => {
    response.setHeader('content-length', '1000')
    response.write('half of ')
    await new Promise((resolve) => setImmediate(resolve))
    throw new Error('the disk went away')
  })
  expect(broken).toBe(true)
})

describe('a second one of the same name', () => {
  const unique = (column: string) => () => {
    throw new Error(`UNIQUE constraint failed: display.${column}`)
  }

  test.each([
    ['name', 'Another display has this name already. Choose another.'],
    ['serial', 'Another display has this serial number already. Choose another.'],
    ['path', 'Another display has this path already. Choose another.'],
  ])('in %s is refused in words', async (column, sentence) => {
    await expect(refusingTaken('display', unique(column))).rejects.toMatchObject({
      kind: 'conflict',
      sentence,
      field: column,
    })
  })

  test('any other fault passes as it is, and what succeeds gives its result', async () => {
    const other = new Error('FOREIGN KEY constraint failed')
    await expect(refusingTaken('display', () => Promise.reject(other))).rejects.toBe(other)
    expect(await refusingTaken('display', () => 5)).toBe(5)
  })
})
