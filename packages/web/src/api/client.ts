import type { Problem } from '@bichroma/contract'

/** A refusal of the server: its sentence, and the field at fault. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
    this.name = 'ApiProblem'
  }
}

/** Asks the API. Throws {@link ApiProblem} with a sentence for people. */
export async function ask<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? undefined : { 'content-type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  } catch {
    throw new ApiProblem({
      type: '/problems/away',
      title: 'No answer',
      status: 0,
      detail: 'The server does not answer. See that it runs, then try again.',
    })
  }
  const answer: unknown = await response.json().catch(() => null)
  if (response.ok) return answer as T
  throw new ApiProblem(
    (answer as Problem | null) ?? {
      type: '/problems/unknown',
      title: 'Failed',
      status: response.status,
      detail: `The server answered ${response.status}.`,
    },
  )
}
