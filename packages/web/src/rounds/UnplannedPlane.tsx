import { Link } from 'react-router'
import type { Visit, Week } from '@bichroma/contract'
import { useList } from '../api/lists'
import { Plane } from '../parts/Plane'
import { dueSentence, unplannedSentence } from './words'

/** What no plan could hold, why, and what would make room for it. */
export function UnplannedPlane({ week }: { week: Week }) {
  const list = useList<Visit>('/rounds/unplanned', { limit: 50 })
  const ignored = week.plan?.ignored ?? []
  if (list.empty) return null
  return (
    <>
      {ignored.length > 0 && (
        <Plane title="Nobody answered at the desk" aside={ignored.length}>
          <p className="second" style={{ padding: '0 12px 10px' }}>
            {ignored.map((v) => v.display).join(', ')}: told three times. Ring them up, or come all the same.
          </p>
        </Plane>
      )}
      <Plane title="Without room" aside={list.total > 50 ? `50 of ${list.total}` : list.total || undefined}>
        {list.items.length ? (
          <ul className="unplanned">
            {list.items.map((v) => (
              <li key={v.id}>
                <Link to={`/register/${v.display.id}`}>{v.display.name}</Link>{' '}
                <span className="small quiet">{dueSentence(v, week.hours.zone)}</span>
                <br />
                <span className="small second">{unplannedSentence(v, week.instruments)}</span>
              </li>
            ))}
          </ul>
        ) : (
          <p className="none">Everything that falls due has its time.</p>
        )}
      </Plane>
    </>
  )
}
