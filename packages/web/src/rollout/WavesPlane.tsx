import { Link } from 'react-router'
import type { Wave } from '@bichroma/contract'
import { useList } from '../api/lists'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { waveStateWords } from './words'

/** The newest waves, those under way first among them by their words. */
export function WavesPlane() {
  const list = useList<Wave>('/waves', { limit: 8 })
  return (
    <Plane title="Waves" aside={list.total > 8 ? `the newest 8 of ${list.total}` : undefined}>
      {list.items.length ? (
        <ul className="waves">
          {list.items.map((w) => (
            <li key={w.id}>
              <Link to={`/rollout/waves/${w.id}`}>{w.name}</Link>
              <span
                className={
                  w.state === 'stopped' || w.state === 'paused' ? 'asks' : w.state === 'under way' ? 'runs' : 'quiet'
                }
              >
                {waveStateWords[w.state]}
              </span>
              <br />
              <span className="small quiet">
                {formatMoment(w.startedAt)}, {w.startedBy} · {w.counts.there + w.counts.undone} of{' '}
                {Object.values(w.counts).reduce((a, b) => a + b, 0)} {w.state === 'undone' ? 'given back' : 'there'}
              </span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="none">No wave has gone out yet.</p>
      )}
    </Plane>
  )
}
