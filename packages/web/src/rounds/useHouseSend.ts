import { useState } from 'react'
import { ask } from '../api/client'
import { useSend } from '../api/queries'

/** Sends a change of what rounds are made from, and closes its form; what is refused is told in it. */
export function useHouseSend(path: string, onClose: () => void) {
  const [refused, setRefused] = useState<string | null>(null)
  const send = useSend(
    async (body: object) => {
      await ask('PUT', path, body)
      onClose()
    },
    (problem) => setRefused(problem.message),
  )
  return {
    refused,
    pending: send.isPending,
    send: (body: object) => {
      setRefused(null)
      send.mutate(body)
    },
  }
}
