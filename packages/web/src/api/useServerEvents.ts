import { useEffect } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import type { ServerEvent, Topic } from '@bichroma/contract'
import { makeStale } from './makeStale'
import { openStream } from './openStream'
import { takeNews, takeRun } from './takeNews'

/** First parts of the queries that a topic makes stale. */
const staleQueries: Readonly<Record<Topic, readonly string[]>> = {
  register: [
    'drift',
    'floor',
    'rooms',
    'workstations',
    'displays',
    'pulse',
    'settings',
    'corrections',
    'found',
    'policies',
  ],
  runs: ['peer-sets', 'runs', 'displays', 'instruments', 'floor', 'needs', 'pulse', 'rollout', 'drift'],
  aims: ['aims', 'limits', 'drift'],
  rollout: ['rollout', 'waves', 'policies', 'needs'],
  couriers: ['workstations', 'displays', 'instruments', 'pulse', 'rollout', 'found'],
  drift: ['drift'],
  rounds: ['rounds', 'peer-sets'],
  light: ['rooms'],
  peers: ['peer-sets', 'rings', 'instrument-offsets'],
}

/** Listens to the server and keeps what is on screen fresh: with what it is told, the rest by asking again. */
export function useServerEvents(): void {
  const client = useQueryClient()
  useEffect(() => {
    let opened = false
    /** What will be asked for again at a moment of this browser’s own. */
    const later = new Map<string, ReturnType<typeof setTimeout>>()
    const close = openStream('/api/events', {
      onOpen: () => {
        // After a break anything may have changed.
        if (opened) void makeStale(client)
        opened = true
      },
      // Whoever was signed out elsewhere is shown so.
      onRefused: () => void makeStale(client, ['session']),
      onMessage: (data) => take(JSON.parse(data) as ServerEvent),
    })
    return () => {
      close()
      later.forEach(clearTimeout)
    }

    function take(event: ServerEvent) {
      if (event.type === 'run') takeRun(client, event.run)
      else if (event.type === 'news') takeNews(client, event)
      else
        for (const first of new Set(event.topics.flatMap((t) => staleQueries[t]))) {
          if (!event.spreadMs) void makeStale(client, [first])
          else if (!later.has(first))
            later.set(
              first,
              setTimeout(() => {
                later.delete(first)
                void makeStale(client, [first])
              }, Math.random() * event.spreadMs),
            )
        }
    }
  }, [client])
}
