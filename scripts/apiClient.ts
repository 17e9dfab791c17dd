import type { Page, Problem } from '@bichroma/contract'

/** What the API refused, with its problem details. */
export class Refused extends Error {
  readonly status: number

  constructor(readonly problem: Problem) {
    super(problem.detail)
    this.status = problem.status
  }
}

/** A signed-in client of the API, for scripts and tests. */
export class ApiClient {
  constructor(
    readonly url: string,
    /** The session's cookie. */
    public cookie = '',
  ) {}

  async signIn(login: string, password: string): Promise<void> {
    await this.post('/session', { login, password })
  }

  /** Sends a request; what is not 2xx is thrown as its problem's sentence. */
  async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await this.raw(method, path, body)
    if (!response.ok) throw new Refused((await response.json()) as Problem)
    return (await response.json()) as T
  }

  async raw(method: string, path: string, body?: unknown): Promise<Response> {
    const response = await fetch(`${this.url}/api${path}`, {
      method,
      headers: { cookie: this.cookie, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
    const set = response.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]
    return response
  }

  /** All of a list, part by part. */
  async list<T>(path: string): Promise<T[]> {
    const items: T[] = []
    for (let cursor: string | null = ''; cursor !== null;) {
      const more: string = cursor && `${path.includes('?') ? '&' : '?'}cursor=${cursor}`
      const page: Page<T> = await this.get(`${path}${more}`)
      items.push(...page.items)
      cursor = page.next
    }
    return items
  }

  get = <T>(path: string) => this.ask<T>('GET', path)
  post = <T>(path: string, body: unknown = {}) => this.ask<T>('POST', path, body)
  put = <T>(path: string, body: unknown) => this.ask<T>('PUT', path, body)
  delete = <T>(path: string) => this.ask<T>('DELETE', path)
}
