import { Link } from 'react-router'
import type { PeerSetListing } from '@bichroma/contract'
import { useList } from '../api/lists'

/** The peer sets that a display is in; nothing for one that is in none. */
export function InSets({ displayId }: { displayId: number }) {
  const { items, total } = useList<PeerSetListing>('/peer-sets', { display: displayId, limit: 3 })
  if (!items.length) return null
  return (
    <>
      {' '}
      · must look alike in{' '}
      {items.map((set, i) => (
        <span key={set.id}>
          {i > 0 && ', '}
          <Link to={`/peers/${set.id}`}>{set.name}</Link>
        </span>
      ))}
      {total > items.length && ` and ${total - items.length} more`}
    </>
  )
}
