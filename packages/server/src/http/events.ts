import type { Response } from 'express'
import type { RunLive, ServerEvent, Topic } from '@bichroma/contract'

/** Streams that one session may have open: a window each. The oldest gives way. */
const mostStreams = 12
/** What may wait to be fetched by one browser, bytes; one that fetches nothing is let go, and asks anew when it is back. */
const mostUnfetched = 4 * 2 ** 20

/** Time in which browsers ask again after much has changed, ms. */
const spreadMs = 2000

/** Sends events to every browser that listens. */
export class Events {
  private readonly listeners = new Map<Response, string>()
  private readonly hearers: { topic: Topic; hears: () => void }[] = []
  /** Stages as they were told last, as JSON, by run. */
  private readonly stages = new Map<number, Map<string, string>>()
  private readonly beat = setInterval(() => this.write(': still here\n\n'), 20_000).unref()

  /** Keeps a response open as a stream of server-sent events, for as long as its session lasts. */
  listen(response: Response, session: string): void {
    const own = [...this.listeners].filter(([, of]) => of === session)
    if (own.length >= mostStreams) this.drop(own[0][0])
    response.set({
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
    })
    response.flushHeaders()
    response.write('retry: 1500\n\n')
    this.listeners.set(response, session)
    response.on('close', () => this.listeners.delete(response))
    response.on('error', () => this.drop(response))
  }

  /** Whether anybody listens. */
  get heard(): boolean {
    return this.listeners.size > 0
  }

  send(event: ServerEvent): void {
    if (this.listeners.size) this.write(`data: ${JSON.stringify(event)}\n\n`)
  }

  /** Tells what became of a run: of its stages, those that changed since they were told last. */
  run({ stages, ...live }: RunLive): void {
    const known = this.stages.get(live.id) ?? new Map<string, string>()
    const changed = stages.filter((record) => {
      const text = JSON.stringify(record)
      const isNew = known.get(record.stage) !== text
      known.set(record.stage, text)
      return isNew
    })
    if (live.state === 'running' || live.state === 'waiting') this.stages.set(live.id, known)
    else this.stages.delete(live.id)
    this.send({ type: 'run', run: { ...live, stages: changed } })
  }

  /** Calls whoever keeps something of a topic when it has changed. */
  on(topic: Topic, hears: () => void): void {
    this.hearers.push({ topic, hears })
  }

  changed(...topics: Topic[]): void {
    for (const { topic, hears } of this.hearers) if (topics.includes(topic)) hears()
    this.send({ type: 'changed', topics })
  }

  /** Much has changed at once: browsers ask for what they show in their own time, so that they do not all come together. */
  changedMuch(...topics: Topic[]): void {
    this.send({ type: 'changed', topics, spreadMs })
  }

  /** Ends the streams of a session that was signed out. */
  signedOut(session: string): void {
    for (const [response, of] of this.listeners) if (of === session) this.drop(response)
  }

  close(): void {
    clearInterval(this.beat)
    for (const response of this.listeners.keys()) response.end()
  }

  private drop(response: Response) {
    this.listeners.delete(response)
    response.destroy()
  }

  private write(text: string) {
    for (const response of this.listeners.keys()) {
      response.write(text)
      if (response.writableLength > mostUnfetched) this.drop(response)
    }
  }
}
