import type { RequestListener } from 'node:http'

/** Requests that may wait while the server starts. */
const mostWaiting = 200

/** The port's own answer: whoever comes while the server starts waits until it has. */
export class Door {
  private app: RequestListener | null = null
  private readonly waiting: Parameters<RequestListener>[] = []

  readonly answer: RequestListener = (request, response) => {
    if (this.app) return this.app(request, response)
    if (this.waiting.length < mostWaiting) this.waiting.push([request, response])
    else response.writeHead(503, { 'retry-after': '1' }).end('Bichroma is starting. Try again in a moment.')
  }

  open(app: RequestListener): void {
    this.app = app
    for (const [request, response] of this.waiting.splice(0)) if (!response.destroyed) app(request, response)
  }
}
