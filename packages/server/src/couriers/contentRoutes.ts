import { raw, Router } from 'express'
import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import { nodeHash } from '../data/nodeHash'
import { Refusal } from '../http/problem'
import { bearerOf } from './hub'
import { workstationOfKey } from './keys'

/** A courier's way to tables and profiles: GET and PUT /courier/contents/<sha-256>, with its enrolment key. */
export function contentRoutes(data: DataSource, contents: ContentStore): Router {
  const router = Router()
  router.use(async (request, _response, next) => {
    if ((await workstationOfKey(data, bearerOf(request.headers.authorization))) === null)
      throw new Refusal('not-signed-in', 'This needs the enrolment key of a workstation.')
    next()
  })
  const hashOf = (value: unknown) => {
    if (typeof value !== 'string' || !/^[0-9a-f]{64}$/.test(value))
      throw new Refusal('not-found', 'Contents are asked for by their SHA-256.')
    return value
  }
  router.get('/:hash', async (request, response) => {
    const bytes = await contents.get(hashOf(request.params.hash))
    if (!bytes) throw new Refusal('not-found', 'There are no contents with this hash.')
    response.type('application/octet-stream').send(Buffer.from(bytes))
  })
  router.put('/:hash', raw({ type: () => true, limit: '16mb' }), async (request, response) => {
    const hash = hashOf(request.params.hash)
    const bytes = new Uint8Array(Buffer.isBuffer(request.body) ? request.body : [])
    if (nodeHash(bytes) !== hash) throw new Refusal('invalid-input', 'The bytes do not have the hash of their address.')
    await contents.put(bytes)
    response.status(204).end()
  })
  return router
}
