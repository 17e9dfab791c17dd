import { useEffect } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import type { RunDetail, ServerEvent, Topic } from '@bichroma/contract'
import { makeStale } from './makeStale'
import { openStream } from './openStream'

/** First parts of the queries that a topic makes stale. */
const staleQueries: Readonly<Record<Topic, readonly string[]>> = {
  register: ['drift', 'rooms', 'workstations', 'displays', 'pulse', 'settings', 'corrections'],
  runs: ['runs', 'displays', 'instruments', 'pulse', 'rollout', 'drift'],
  aims: ['aims', 'limits', 'drift'],
  rollout: ['rollout'],
  couriers: ['workstations', 'displays', 'instruments', 'pulse', 'rollout'],
}

/** Listens to the server and keeps what is on screen fresh: runs with every reading, the rest by asking again. */
export function useServerEvents(): void {
  const client = useQueryClient()
  useEffect(() => {
    let opened = false
    return openStream('/api/events', {
      onOpen: () => {
        // After a break anything may have changed.
        if (opened) void makeStale(client)
        opened = true
      },
      // Whoever was signed out elsewhere is shown so.
      onRefused: () => void makeStale(client, ['session']),
      onMessage: (data) => take(JSON.parse(data) as ServerEvent),
    })

    function take(event: ServerEvent) {
      if (event.type === 'changed') {
        for (const first of new Set(event.topics.flatMap((t) => staleQueries[t]))) void makeStale(client, [first])
        return
      }
      const { latest, ...live } = event.run
      client.setQueryData<RunDetail>(['runs', String(live.id)], (known) => {
        if (!known) return known
        const last = known.log[known.log.length - 1]?.seq ?? -1
        return { ...known, ...live, log: latest && latest.seq > last ? [...known.log, latest] : known.log }
      })
      if (live.state !== 'running') void makeStale(client, ['runs'])
    }
  }, [client])
}
