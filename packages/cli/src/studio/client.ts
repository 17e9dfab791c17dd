import type { Page, Problem } from '@bichroma/contract'
import { BadInput } from '../io'

/** The server did not answer, or refused. */
export class ServerProblem extends Error {}

/** A whole answer is waited for so long at most, ms. */
const patienceMs = 120_000

/** Asks a studio's server in the name of a token. */
export class StudioClient {
  private readonly base: string

  constructor(
    server: string | undefined,
    private readonly token: string | undefined,
  ) {
    if (!server) throw new BadInput('Say where the server is: --server https://…, or BICHROMA_SERVER.')
    if (!token) throw new BadInput('A token is needed: BICHROMA_TOKEN, or --token-file. Make one in Your account.')
    let url: URL
    try {
      url = new URL(server)
    } catch {
      throw new BadInput(`“${server}” is no address; as in https://bichroma.studio.example:8443.`)
    }
    if (!/^https?:$/.test(url.protocol)) throw new BadInput('The server’s address must begin with http or https.')
    this.base = `${url.origin}${url.pathname.replace(/\/$/, '')}/api`
  }

  /** Sends a request. Throws ServerProblem with a sentence for what is not 2xx, or for no answer. */
  async send(method: string, path: string, body?: unknown): Promise<Response> {
    let response: Response
    try {
      response = await fetch(`${this.base}${path}`, {
        method,
        headers: {
          authorization: `Bearer ${this.token}`,
          ...(body !== undefined && { 'content-type': 'application/json' }),
        },
        body: body === undefined ? undefined : JSON.stringify(body),
        signal: AbortSignal.timeout(patienceMs),
        redirect: 'error',
      })
    } catch (error) {
      const { cause, message } = error as Error & { cause?: Error }
      throw new ServerProblem(`The server does not answer (${cause?.message || message}).`)
    }
    if (response.ok) return response
    const problem = (await response.json().catch(() => null)) as Problem | null
    throw new ServerProblem(problem?.detail ?? `The server answered ${response.status}.`)
  }

  async get<T>(path: string): Promise<T> {
    return (await (await this.send('GET', path)).json()) as T
  }
  async post<T>(path: string, body: unknown = {}): Promise<T> {
    return (await (await this.send('POST', path, body)).json()) as T
  }
  async bytes(path: string): Promise<Uint8Array> {
    return new Uint8Array(await (await this.send('GET', path)).arrayBuffer())
  }

  /** All of a list, part by part. */
  async list<T>(path: string, asked: Readonly<Record<string, string | undefined>> = {}): Promise<T[]> {
    const items: T[] = []
    const query = new URLSearchParams({ limit: '200' })
    for (const [name, value] of Object.entries(asked)) if (value !== undefined) query.set(name, value)
    for (let cursor: string | null = ''; cursor !== null;) {
      if (cursor) query.set('cursor', cursor)
      const page: Page<T> = await this.get(`${path}?${query.toString()}`)
      items.push(...page.items)
      cursor = page.next
    }
    return items
  }
}
