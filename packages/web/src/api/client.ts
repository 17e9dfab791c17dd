import type { Problem } from '@bichroma/contract'

/** A refusal of the server: its sentence, and the field at fault. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
    this.name = 'ApiProblem'
  }
}

/** When somebody last moved or typed, by `performance.now()`; a page that is left alone only keeps itself up to date. */
let lastSeen = 0
const unattendedMs = 600_000
if (typeof window !== 'undefined')
  for (const kind of ['pointerdown', 'pointermove', 'keydown', 'wheel'])
    window.addEventListener(kind, () => (lastSeen = performance.now()), { passive: true, capture: true })

const headersOf = (body: unknown): Record<string, string> => ({
  ...(body !== undefined && { 'content-type': 'application/json' }),
  // The session of somebody who has gone does not go on for ever.
  ...(performance.now() - lastSeen > unattendedMs && { 'x-unattended': '1' }),
})

/** Asks the API. Throws {@link ApiProblem} with a sentence for people. */
export async function ask<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: headersOf(body),
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
