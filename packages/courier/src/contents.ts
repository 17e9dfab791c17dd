import { DeviceFault } from './devices'
import { nodeHash } from './nodeHash'

/** Fetches and leaves large contents by their SHA-256 over HTTP; both directions are compared with the hash. */
export class Contents {
  constructor(
    private readonly server: string,
    private readonly key: string,
  ) {}

  private async ask(hash: string, init: RequestInit): Promise<Response> {
    let response: Response
    try {
      response = await fetch(`${this.server}/courier/contents/${hash}`, {
        ...init,
        headers: { authorization: `Bearer ${this.key}`, 'content-type': 'application/octet-stream' },
      })
    } catch {
      throw new DeviceFault('content', 'The server did not answer while a table or profile was on its way. Try again.')
    }
    if (!response.ok)
      throw new DeviceFault('content', `The server answered ${response.status} for a table or profile. Try again.`)
    return response
  }

  async get(hash: string): Promise<Uint8Array> {
    const bytes = new Uint8Array(await (await this.ask(hash, { method: 'GET' })).arrayBuffer())
    if (nodeHash(bytes) !== hash) throw new DeviceFault('content', 'A table or profile arrived damaged. Try again.')
    return bytes
  }

  async put(bytes: Uint8Array): Promise<string> {
    const hash = nodeHash(bytes)
    await this.ask(hash, { method: 'PUT', body: Buffer.from(bytes) })
    return hash
  }
}
