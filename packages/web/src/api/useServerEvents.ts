import { useEffect } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import type { RunDetail, ServerEvent, Topic } from '@bichroma/contract'
import { makeStale } from './makeStale'

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
    const source = new EventSource('/api/events')
    let opened = false
    source.onopen = () => {
      // After a break anything may have changed.
      if (opened) void makeStale(client)
      opened = true
    }
    source.onmessage = ({ data }) => {
      const event = JSON.parse(data as string) as ServerEvent
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
    return () => source.close()
  }, [client])
}
