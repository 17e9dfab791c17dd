import { waitFor } from '@testing-library/react'
import type { Role } from '@bichroma/contract'
import { queryClient } from '../api/queries'

/** What was sent to the server, reads left out. */
export interface Sent {
  readonly method: string
  readonly path: string
  readonly body: unknown
}
type Answers = Record<string, { readonly status?: number; readonly body: unknown }>

/** A server for tests of the interface: what it answers, by method and path, and what was sent to it. */
export class StubbedApi {
  readonly sent: Sent[] = []
  /** Addresses that were read, in order. */
  readonly asked: string[] = []
  answers: Answers = {}

  /** `otherwise`: the body of what has no answer of its own. */
  constructor(private readonly otherwise: unknown = {}) {}

  /** Stands in for the network until the test ends; with these answers. */
  begin(answers: Answers = {}): void {
    this.sent.length = 0
    this.asked.length = 0
    this.answers = answers
    globalThis.fetch = (async (path: string, init: RequestInit) => {
      const method = init.method ?? 'GET'
      if (method === 'GET') this.asked.push(path)
      else this.sent.push({ method, path, body: init.body ? JSON.parse(String(init.body)) : null })
      const { status = 200, body } = this.answers[`${method} ${path}`] ?? { body: this.otherwise }
      return { ok: status < 400, status, json: async () => body }
    }) as never
  }

  /** Until all that was asked for has come: what does not stand there then, never does. */
  async settled(): Promise<void> {
    await waitFor(() => {
      if (queryClient.isFetching()) throw new Error('Something is still on its way.')
    })
  }

  end(): void {
    queryClient.clear()
  }
}

/** What the server answers when it refuses, by a sentence, at a field. */
export const refusal = (status: 400 | 409, detail: string, field: string) => ({
  status,
  body: { type: status === 400 ? '/problems/invalid' : '/problems/conflict', title: 'x', status, detail, field },
})

/** What the server says of the session of somebody of a role. */
export const signedInAs = (role: Role) => ({ body: { account: { id: 1, name: 'Marit Oyen', role } } })
