import { subscribe, unsubscribe } from 'node:diagnostics_channel'
import { createHash, timingSafeEqual } from 'node:crypto'
import type { RequestHandler } from 'express'
import { collectDefaultMetrics, Gauge, Histogram, type Registry } from 'prom-client'
import type { DataSource } from 'typeorm'
import type { Pulse } from '@bichroma/contract'

/** Whether the server serves: it answers, and its store can be read. For whoever watches it; tells nothing of the studio. */
export const healthRoute =
  (data: DataSource): RequestHandler =>
  (_request, response) => {
    response.set('cache-control', 'no-store')
    data.query('SELECT 1').then(
      () => response.json({ status: 'ok' }),
      () => response.status(503).json({ status: 'the store cannot be read' }),
    )
  }

const digest = (text: string) => createHash('sha256').update(text).digest()

/** What is counted, in the text format of Prometheus, for whoever shows the token; nothing without one. */
export function metricsRoute(registry: Registry, token: string | null): RequestHandler {
  const wanted = token === null ? null : digest(`Bearer ${token}`)
  return (request, response) => {
    if (!wanted)
      return void response.status(404).type('text').send('Metrics are off; start the server with --metrics-token.\n')
    if (!timingSafeEqual(digest(request.get('authorization') ?? ''), wanted))
      return void response.status(401).set('www-authenticate', 'Bearer').type('text').send('Metrics need the token.\n')
    void registry.metrics().then((text) => response.type(registry.contentType).send(text))
  }
}

/** Counts what people who run the server want to know; gives what ends the counting. */
export function collectStudioMetrics(registry: Registry, pulse: () => Promise<Pulse> | Pulse): () => void {
  const registers = [registry]
  collectDefaultMetrics({ register: registry })
  const stored = new Histogram({
    name: 'bichroma_reading_stored_seconds',
    help: 'Seconds from the arrival of a reading until it was on the disk.',
    buckets: [0.001, 0.0025, 0.005, 0.01, 0.025, 0.1, 1],
    registers,
  })
  const observe = (message: unknown) => stored.observe((message as { ms: number }).ms / 1000)
  subscribe('bichroma:reading-stored', observe)
  const gauges = {
    couriersOnline: 'Couriers that are connected.',
    dueToday: 'Displays that fall due today or are overdue.',
    instrumentsFree: 'Instruments that are plugged in and free.',
    astray: 'Displays whose profile is not in force as it was placed.',
  } as const
  for (const [name, help] of Object.entries(gauges))
    new Gauge({
      name: `bichroma_${name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)}`,
      help,
      registers,
      async collect() {
        this.set(Number((await pulse())[name as keyof typeof gauges]))
      },
    })
  new Gauge({
    name: 'bichroma_runs_held',
    help: 'Runs that are going on, wait, or were interrupted.',
    registers,
    async collect() {
      this.set((await pulse()).running.length)
    },
  })
  return () => unsubscribe('bichroma:reading-stored', observe)
}
