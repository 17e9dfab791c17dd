import { ApiClient } from '../scripts/apiClient'
import { otherwiseThanDescribed } from '../scripts/otherwiseThanDescribed'

/** A client that holds every answer in JSON against the API's description: throws what it finds otherwise. */
export class HeldClient extends ApiClient {
  override async raw(method: string, path: string, body?: unknown): Promise<Response> {
    const response = await super.raw(method, path, body)
    const found = await otherwiseThanDescribed(method, path, {
      status: response.status,
      type: response.headers.get('content-type'),
      json: () => response.clone().json(),
    })
    if (found) throw new Error(found)
    return response
  }
}
