import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import express from 'express'
import { nameField, numberField, tripleField, validate, yup } from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'
import type { Bench } from './bench'
import { benchPanelPage } from './faults/benchPanelPage'
import { cause } from './faults/faults'
import { mailPage, type MailSink } from './mailSink'

const truthSchema = yup
  .object({
    display: nameField(),
    signals: yup
      .array()
      .of(tripleField(numberField().required().min(0).max(1)).required())
      .strict()
      .required()
      .max(2000),
  })
  .noUnknown()

const clockSchema = yup.object({ at: numberField().required().min(0).max(8e15) }).noUnknown()

/**
 * The bench's own HTTP control: faults on demand, how everything stands, the noise-free truth for tests, and the bench
 * panel, a page to do it all by hand. Listens on loopback only.
 */
export async function startControl(
  bench: Bench,
  port = 0,
  mail?: MailSink,
): Promise<{ url: string; close: () => Promise<void> }> {
  const app = express()
  app.use(express.json({ limit: '1mb' }))
  app.get('/', (_request, response) => void response.type('html').send(benchPanelPage(bench)))
  app.get('/mail', (_request, response) => void response.type('html').send(mailPage(mail?.letters ?? [])))
  app.get('/mail.json', (_request, response) => void response.json(mail?.letters ?? []))
  app.get('/desks', (_request, response) => void response.json(bench.desks()))
  app.get('/state', (_request, response) => void response.json(bench.overview()))
  app.post('/faults/:fault', async (request, response) => {
    await cause(bench, request.params.fault, request.body ?? {})
    response.json({})
  })
  app.post('/clock', (request, response) => {
    bench.jumpTo(validate(clockSchema, request.body).at)
    response.json({})
  })
  app.post('/truth', (request, response) => {
    const { display, signals } = validate(truthSchema, request.body)
    response.json({ xyz: bench.truth(display, signals as unknown as Triple[]) })
  })
  app.use((_request, response) => void response.status(404).json({ detail: 'The bench has no such address.' }))
  app.use((error: Error, _: express.Request, response: express.Response, next: express.NextFunction) => {
    if (response.headersSent) return next(error)
    response.status(400).json({ detail: error.message })
  })
  const server = await new Promise<Server>((resolve, reject) => {
    const listening = app.listen(port, '127.0.0.1', (error) => (error ? reject(error) : resolve(listening)))
  })
  // As the application's server: on a busy machine a client would use a connection again that is just being closed.
  server.keepAliveTimeout = 65_000
  const { port: bound } = server.address() as AddressInfo
  return {
    url: `http://127.0.0.1:${bound}`,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  }
}
