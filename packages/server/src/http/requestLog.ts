import { randomUUID } from 'node:crypto'
import type { RequestHandler } from 'express'
import { Counter, Histogram, type Registry } from 'prom-client'
import { log } from '../data/log'

/**
 * A line for each request: what was asked (its address without what follows the question mark), what it came to, how long
 * it took, and a number of its own that the answer tells too.
 */
export const requestLog = (metrics: RequestMetrics): RequestHandler =>
  function logRequest(request, response, next) {
    const began = performance.now()
    const id = randomUUID()
    response.set('x-request-id', id)
    const { method } = request
    const path = withoutLinks(request.path)
    response.once('close', () => {
      const ms = performance.now() - began
      const { statusCode: status } = response
      metrics.took.observe({ method, status: String(status) }, ms / 1000)
      if (status >= 500) metrics.failed.inc()
      const account = request.session?.accountId
      log[status >= 500 ? 'error' : 'info'](
        { id, method, path, status, ms: Math.round(ms * 10) / 10, account },
        'request',
      )
    })
    next()
  }

/** An address without what a link opens: whoever reads the log must not be able to use it. */
export const withoutLinks = (path: string): string => path.replace(/^(\/api\/(?:desk|feeds)|\/desk)\/[^/]+/, '$1/…')

/** What is counted of requests. */
export interface RequestMetrics {
  readonly took: Histogram<'method' | 'status'>
  readonly failed: Counter
}

export const requestMetrics = (registers: Registry[]): RequestMetrics => ({
  took: new Histogram({
    name: 'bichroma_request_seconds',
    help: 'Seconds that requests took, by method and status.',
    labelNames: ['method', 'status'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 1, 5, 30],
    registers,
  }),
  failed: new Counter({
    name: 'bichroma_requests_failed_total',
    help: 'Requests that ended in a fault of ours.',
    registers,
  }),
})
