import type { Placement } from '@bichroma/contract'
import { formatMoment } from '../parts/times'
import '../parts/sheet.css'

/** Queued, placed, in force: each with when, and how it is known. */
export function PlacementSteps({ placement }: { placement: Placement }) {
  const { state, requestedAt, placedAt, verifiedAt, path, profileHash } = placement
  const good = state === 'in force'
  const read = verifiedAt !== null && state !== 'queued'
  return (
    <ol className="sheet" aria-label="Placement" style={{ overflow: 'visible' }}>
      <li className="stage done">
        <i />
        <h2>
          Queued <span className="fig">{formatMoment(requestedAt)}</span>
        </h2>
      </li>
      <li className={`stage ${placedAt ? 'done' : 'now'}`}>
        <i />
        <h2>
          Placed <span className="fig">{placedAt ? formatMoment(placedAt) : ''}</span>
        </h2>
        <p style={{ overflowWrap: 'anywhere' }}>{path ? `written to ${path}` : 'waits for the courier'}</p>
      </li>
      <li className={`stage ${good ? 'done' : !read ? 'later' : state === 'waiting' ? 'now' : 'broke'}`}>
        <i />
        <h2>
          {read && !good ? state[0].toUpperCase() + state.slice(1) : 'In force'}{' '}
          <span className="fig">{verifiedAt ? formatMoment(verifiedAt) : ''}</span>
        </h2>
        <p>
          {good ? (
            <>
              {placement.why === 'hand' ? 'told by hand' : 'read back by the courier'}: bound to this display, SHA-256{' '}
              <span className="fig">{profileHash?.slice(0, 12)}…</span>
            </>
          ) : (
            words(placement)
          )}
        </p>
      </li>
    </ol>
  )
}

function words({ state, verifiedAt, slot }: Placement): string {
  if (verifiedAt === null || state === 'queued') return 'not read back yet'
  if (state === 'waiting') return 'bound to this display; it holds after a sign-out or a restart'
  if (state === 'out of step') return `bound to this display, and it describes slot ${slot}, which is not on show`
  return 'what the courier read back differs'
}
