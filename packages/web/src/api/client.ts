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

const attended = (): Record<string, string> => ({
  // The session of somebody who has gone does not go on for ever.
  ...(performance.now() - lastSeen > unattendedMs && { 'x-unattended': '1' }),
})

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'

/**
 * Sends bytes of a media type to the API, or nothing; gives the answer as it came. Throws {@link ApiProblem} with a
 * sentence for people.
 */
export async function request(method: Method, path: string, body?: BodyInit, kind?: string): Promise<Response> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: { ...(kind !== undefined && { 'content-type': kind }), ...attended() },
      body,
    })
  } catch {
    throw new ApiProblem({
      type: '/problems/away',
      title: 'No answer',
      status: 0,
      detail: 'The server does not answer. See that it runs, then try again.',
    })
  }
  if (response.ok) return response
  throw new ApiProblem(
    ((await response.json().catch(() => null)) as Problem | null) ?? {
      type: '/problems/unknown',
      title: 'Failed',
      status: response.status,
      detail: `The server answered ${response.status}.`,
    },
  )
}

/** Asks the API in JSON. Throws {@link ApiProblem} with a sentence for people. */
export async function ask<T>(method: Method, path: string, body?: unknown): Promise<T> {
  const response =
    body === undefined
      ? await request(method, path)
      : await request(method, path, JSON.stringify(body), 'application/json')
  return (await response.json().catch(() => null)) as T
}
