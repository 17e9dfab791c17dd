import { raw, Router } from 'express'
import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import { contentEntity } from '../data/contentEntity'
import { nodeHash } from '../data/nodeHash'
import { Allowance } from '../http/allowance'
import { Refusal } from '../http/problem'
import { courierContentEntity } from './entities'
import { bearerOf, type CourierHub } from './hub'

/** Largest contents that a courier leaves, bytes: a display's largest tables are about a third of it. */
const largest = 2 * 2 ** 20
/** Bytes that one workstation's courier may have left in all, of which nobody else had any. */
const quota = 64 * 2 ** 20
/** Requests of one workstation in a minute. */
const requests = { most: 600, perMs: 60_000 }

/**
 * A courier's way to tables and profiles: GET and PUT /courier/contents/<sha-256>, with its enrolment key. It fetches
 * what a command that it carries out names, and leaves what it reads from a slot; nothing else.
 */
export function contentRoutes(
  data: DataSource,
  contents: ContentStore,
  hub: CourierHub,
  workstationOfKey: (key: string) => Promise<number | null>,
  now: () => number,
): Router {
  const router = Router()
  const asked = new Allowance<number>(requests.most, requests.perMs)
  const kept = data.getRepository(courierContentEntity)

  const workstationOf = async (authorization: string | undefined) => {
    const workstationId = await workstationOfKey(bearerOf(authorization))
    if (workstationId === null) throw new Refusal('not-signed-in', 'This needs the enrolment key of a workstation.')
    if (!asked.take(workstationId))
      throw new Refusal('too-many', `More than ${requests.most} requests in a minute. Wait a minute and try again.`)
    return workstationId
  }
  const hashOf = (value: unknown) => {
    if (typeof value !== 'string' || !/^[0-9a-f]{64}$/.test(value))
      throw new Refusal('not-found', 'Contents are asked for by their SHA-256.')
    return value
  }

  router.get('/:hash', async (request, response) => {
    const workstationId = await workstationOf(request.headers.authorization)
    const hash = hashOf(request.params.hash)
    // The same answer for what is not there and for what is another's: nobody learns what the store holds.
    const bytes = hub.mayFetch(workstationId, hash) ? await contents.get(hash) : null
    if (!bytes) throw new Refusal('not-found', 'No command to this workstation names contents with this hash.')
    response.type('application/octet-stream').send(Buffer.from(bytes))
  })

  router.put(
    '/:hash',
    async (request, _response, next) => {
      // Before the bytes are taken in.
      const workstationId = await workstationOf(request.headers.authorization)
      if (!hub.mayLeave(workstationId))
        throw new Refusal('not-allowed', 'This workstation is not reading a slot, so it has nothing to leave.')
      Object.assign(request, { workstationId })
      next()
    },
    raw({ type: () => true, limit: largest }),
    async (request, response) => {
      const { workstationId } = request as unknown as { workstationId: number }
      const hash = hashOf(request.params.hash)
      const bytes = new Uint8Array(Buffer.isBuffer(request.body) ? request.body : [])
      if (nodeHash(bytes) !== hash)
        throw new Refusal('invalid-input', 'The bytes do not have the hash of their address.')
      if (!(await data.getRepository(contentEntity).existsBy({ hash }))) {
        const used = (await kept.sum('size', { workstationId })) ?? 0
        if (used + bytes.length > quota)
          throw new Refusal(
            'too-large',
            `This workstation has left ${(used / 2 ** 20).toFixed(0)} MB already; ${quota / 2 ** 20} MB are kept for each.`,
          )
        await kept
          .createQueryBuilder()
          .insert()
          .values({ workstationId, hash, size: bytes.length, at: now() })
          .orIgnore()
          .execute()
        await contents.put(bytes)
      }
      response.status(204).end()
    },
  )
  return router
}
