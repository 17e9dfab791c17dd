import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import express from 'express'
import { hostConditionNames, numberField, tripleField, validate, yup } from '@bichroma/contract'
import type { Triple } from '@bichroma/core'
import type { Bench } from './bench'

const name = () => yup.string().strict().required().max(60)
const on = yup.boolean().strict().required()

/** Faults that a person or a test can cause, each with what it takes. `on` true causes it, false mends it. */
const faults = {
  dataLink: { schema: yup.object({ display: name(), on }), act: (b, v) => (b.display(v.display).dataLink = !v.on) },
  cover: { schema: yup.object({ instrument: name(), on }), act: (b, v) => (b.instrument(v.instrument).covered = v.on) },
  unplugInstrument: {
    schema: yup.object({ instrument: name(), on }),
    act: (b, v) => (b.instrument(v.instrument).pluggedIn = !v.on),
  },
  courierOffline: {
    schema: yup.object({ workstation: name(), on }),
    act: (b, v) => (v.on ? b.disconnect(v.workstation) : b.connect(v.workstation)),
  },
  condition: {
    schema: yup.object({
      workstation: name(),
      condition: yup
        .string()
        .oneOf([...hostConditionNames])
        .required(),
      on,
    }),
    act: (b, v) => (b.host(v.workstation).conditions[v.condition as (typeof hostConditionNames)[number]] = v.on),
  },
  damageNextWrite: {
    schema: yup.object({ display: name(), on }),
    act: (b, v) => (b.display(v.display).damageNextWrite = v.on),
  },
} satisfies Record<
  string,
  { schema: yup.ObjectSchema<object>; act: (bench: Bench, value: Record<string, never> & { on: boolean }) => unknown }
>

const truthSchema = yup
  .object({
    display: name(),
    signals: yup
      .array()
      .of(tripleField(numberField().required().min(0).max(1)).required())
      .strict()
      .required()
      .max(2000),
  })
  .noUnknown()

/** The bench's own HTTP control: faults on demand, and the noise-free truth for tests. Listens on loopback only. */
export async function startControl(bench: Bench, port = 0): Promise<{ url: string; close: () => Promise<void> }> {
  const app = express()
  app.use(express.json({ limit: '1mb' }))
  app.post('/faults/:fault', (request, response) => {
    const fault = Object.hasOwn(faults, request.params.fault)
      ? faults[request.params.fault as keyof typeof faults]
      : null
    if (!fault) throw new RangeError(`There is no fault of that name. There are: ${Object.keys(faults).join(', ')}.`)
    fault.act(bench, validate(fault.schema.noUnknown() as yup.Schema, request.body) as never)
    response.json({})
  })
  app.post('/truth', (request, response) => {
    const { display, signals } = validate(truthSchema, request.body)
    response.json({ xyz: bench.truth(display, signals as unknown as Triple[]) })
  })
  app.use((error: Error, _: express.Request, response: express.Response, next: express.NextFunction) => {
    if (response.headersSent) return next(error)
    response.status(400).json({ detail: error.message })
  })
  const server = await new Promise<Server>((resolve, reject) => {
    const listening = app.listen(port, '127.0.0.1', (error) => (error ? reject(error) : resolve(listening)))
  })
  const { port: bound } = server.address() as AddressInfo
  return {
    url: `http://127.0.0.1:${bound}`,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  }
}
