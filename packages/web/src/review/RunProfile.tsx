import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { request } from '../api/client'
import { Loaded } from '../parts/Loaded'
import { ProfileFigures } from './ProfileFigures'

/** The profile that a run filed: its curves and what it tells. */
export function RunProfile({ runId, has }: { runId: number; has: boolean }) {
  const query = useQuery({
    queryKey: ['runs', String(runId), 'profile', 'bytes'],
    enabled: has,
    queryFn: async () => new Uint8Array(await (await request('GET', `/runs/${runId}/profile`)).arrayBuffer()),
  })
  if (!has)
    return (
      <p className="none">
        This run filed no profile. <Link to="/review/profiles">Look into a profile of your own</Link>
      </p>
    )
  return (
    <Loaded query={query}>
      {(bytes) => (
        <div className="runprofile">
          <ProfileFigures bytes={bytes} />
          <p style={{ padding: '8px 12px' }}>
            <Link to={`/review/profiles?run=${runId}`}>Look into its tags, or compare it with another</Link>
          </p>
        </div>
      )}
    </Loaded>
  )
}
