import type { ErrorRequestHandler, Response } from 'express'
import { InvalidInput, type Problem } from '@bichroma/contract'
import { storeFault } from '../data/storeFault'
import { logFault } from '../data/log'

/** Kinds of refusal, each with its status and title. */
export const problemKinds = {
  'invalid-input': { status: 400, title: 'Something typed or sent does not fit' },
  'not-signed-in': { status: 401, title: 'Not signed in' },
  'second-factor': { status: 401, title: 'A second factor is asked for' },
  'not-allowed': { status: 403, title: 'Not allowed for this account' },
  'not-found': { status: 404, title: 'Not there' },
  conflict: { status: 409, title: 'Not possible now' },
  'too-large': { status: 413, title: 'Too large' },
  'too-many': { status: 429, title: 'Too many tries' },
  unavailable: { status: 503, title: 'Not possible for a while' },
  internal: { status: 500, title: 'A fault of Bichroma' },
} as const
export type ProblemKind = keyof typeof problemKinds

/** A refusal with a sentence a person can act on. */
export class Refusal extends Error {
  constructor(
    readonly kind: ProblemKind,
    readonly sentence: string,
    readonly field?: string,
  ) {
    super(sentence)
    this.name = 'Refusal'
  }
}

/** Answers with problem details (RFC 9457). */
function sendProblem(response: Response, kind: ProblemKind, detail: string, field?: string): void {
  const { status, title } = problemKinds[kind]
  const problem: Problem = { type: `/problems/${kind}`, title, status, detail, field }
  response.status(status).type('application/problem+json').send(JSON.stringify(problem))
}

/** Turns whatever a handler threw into problem details. */
export const problemHandler: ErrorRequestHandler = (error, request, response, _next) => {
  if (response.headersSent) {
    // Cut off, so that nobody takes a part for the whole.
    logFault(`${request.method} ${request.path}`, error)
    response.destroy()
    return
  }
  if (error instanceof Refusal) return sendProblem(response, error.kind, error.sentence, error.field)
  if (error instanceof InvalidInput) return sendProblem(response, 'invalid-input', error.sentence, error.field)
  // Refusals of Express itself: a body that is not JSON, a path that cannot be decoded, a body too large.
  const status = Number((error as { status?: unknown } | null)?.status)
  if (status === 413) return sendProblem(response, 'too-large', 'What was sent is larger than this address takes.')
  if (status >= 400 && status < 500)
    return sendProblem(
      response,
      'invalid-input',
      'What was sent could not be read: it is not valid JSON, or its address is not valid.',
    )
  logFault(`${request.method} ${request.path}`, error)
  const fault = storeFault(error)
  if (fault) return sendProblem(response, 'unavailable', `${fault.sentence} Nothing was changed; then try again.`)
  return sendProblem(
    response,
    'internal',
    'Something went wrong inside Bichroma. Nothing stored was lost; the server’s log holds the details.',
  )
}
