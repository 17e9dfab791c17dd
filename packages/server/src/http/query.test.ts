import { InvalidInput, yup } from '@bichroma/contract'
import express, { type Request } from 'express'
import type { AddressInfo } from 'node:net'
import { queryOf } from './query'

const schema = yup.object({
  state: yup.string().trim().oneOf(['free', 'held']).label('state'),
  from: yup.string().label('from'),
})

/** What becomes of an address’s end, or the fault by field and sentence. */
async function told(end: string): Promise<unknown> {
  const app = express()
  app.get('/', (request: Request, response) => {
    try {
      response.json(queryOf(request, schema))
    } catch (error) {
      if (!(error instanceof InvalidInput)) throw error
      response.json({ field: error.field, sentence: error.sentence })
    }
  })
  const server = app.listen(0)
  try {
    const { port } = server.address() as AddressInfo
    return await (await fetch(`http://127.0.0.1:${port}/${end}`)).json()
  } finally {
    server.close()
  }
}

test('what an address asks for is what its schema wants; one without anything asks for nothing', async () => {
  expect(await told('')).toEqual({})
  expect(await told('?state=held&from=2026-01-01')).toEqual({ state: 'held', from: '2026-01-01' })
  expect(await told('?state=lost')).toMatchObject({ field: 'state' })
})

test('what it asks for twice is refused by its field, also a field that nobody knows', async () => {
  const sentence = '“state” stands in the address more than once. Give it once.'
  expect(await told('?state=held&state=free')).toEqual({ field: 'state', sentence })
  expect(await told('?from=a&state=held&state=held&state=held')).toEqual({ field: 'state', sentence })
  expect(await told('?x=1&x=2')).toMatchObject({ field: 'x' })
})
