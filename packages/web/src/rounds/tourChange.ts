import { clockIn } from '@bichroma/core/rounds'
import type { Tour } from '@bichroma/contract'

type Told = Pick<Tour, 'zone'> & {
  visits: readonly Pick<Tour['visits'][number], 'id' | 'state' | 'at' | 'reason' | 'display'>[]
}

/** What changed of a tour since it was looked at last, in a sentence; null where nothing did. */
export function tourChange(before: Told, now: Told): string | null {
  const known = new Map(before.visits.map((v) => [v.id, v]))
  const ahead = (t: Told) => t.visits.filter((v) => v.state === 'planned')
  const fresh = ahead(now).filter((v) => !known.has(v.id))
  const moved = ahead(now).filter((v) => known.get(v.id)?.state === 'planned' && known.get(v.id)!.at !== v.at)
  const ended = now.visits.filter((v) => v.state !== 'begun' && known.get(v.id)?.state === 'begun')
  const still = new Set(now.visits.map((v) => v.id))
  const gone = ahead(before).filter((v) => !still.has(v.id))
  const one = (v: Told['visits'][number]) => `${v.display.name} at ${clockIn(v.at!, now.zone)}`
  const parts = [
    ...ended.map((v) => (v.reason ? `${v.display.name} asks for somebody: ${v.reason}` : `${v.display.name} is done`)),
    ...fresh.map((v) => `new: ${one(v)}`),
    ...moved.map((v) => `moved: ${one(v)}`),
    ...gone.map((v) => `not any more: ${v.display.name}`),
  ]
  if (!parts.length) return null
  const [first, ...rest] = parts
  return rest.length > 2 ? `${first}, and ${rest.length} more` : parts.join('; ')
}
