import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { ledgerListSchema, ledgerThings } from '@bichroma/contract'
import type { DataSource } from 'typeorm'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import type { Ledger } from './ledger'
import { ledgerLines, listLedger } from './listLedger'

/** What the ledger tells, and whether it is whole. */
export function ledgerRoutes(api: Api, data: DataSource, ledger: Ledger): void {
  api.on('GET /ledger', (request) => listLedger(data, queryOf(request, ledgerListSchema)))
  api.on('GET /ledger/proof', () => ledger.prove())
  api.on('GET /ledger/file', async (request, response) => {
    const query = queryOf(request, ledgerListSchema)
    response.attachment('ledger.jsonl').type('application/x-ndjson')
    await pipeline(Readable.from(ledgerLines(data, query)), response).catch((error: NodeJS.ErrnoException) => {
      // Whoever asked has gone.
      if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error
    })
  })
  // What became of a thing may be read by whoever may see the thing; who signed in is for administrators.
  api.on('GET /ledger/:thing/:id', (request) => {
    const thing = ledgerThings.find((t) => t === request.params.thing)
    if (!thing || thing === 'account' || thing === 'session')
      throw new Refusal('not-found', 'The ledger tells of no such thing.')
    return listLedger(data, { ...queryOf(request, ledgerListSchema), thing, thingId: String(idOf(request)) })
  })
}
