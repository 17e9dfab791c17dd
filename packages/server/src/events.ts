import type { Response } from 'express'
import type { ServerEvent, Topic } from '@bichroma/contract'

/** Sends events to every browser that listens. */
export class Events {
  private readonly listeners = new Set<Response>()
  private readonly beat = setInterval(() => this.write(': still here\n\n'), 20_000).unref()

  /** Keeps a response open as a stream of server-sent events. */
  listen(response: Response): void {
    response.set({
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
    })
    response.flushHeaders()
    response.write('retry: 1500\n\n')
    this.listeners.add(response)
    response.on('close', () => this.listeners.delete(response))
  }

  send(event: ServerEvent): void {
    if (this.listeners.size) this.write(`data: ${JSON.stringify(event)}\n\n`)
  }

  changed(...topics: Topic[]): void {
    this.send({ type: 'changed', topics })
  }

  close(): void {
    clearInterval(this.beat)
    for (const response of this.listeners) response.end()
  }

  private write(text: string) {
    for (const response of this.listeners) response.write(text)
  }
}
