import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { Loaded } from '../parts/Loaded'
import { ProfileFigures } from './ProfileFigures'

/** The profile that a run filed: its curves and what it tells. */
export function RunProfile({ runId, has }: { runId: number; has: boolean }) {
  const query = useQuery({
    queryKey: ['runs', String(runId), 'profile', 'bytes'],
    enabled: has,
    queryFn: async () => {
      const response = await fetch(`/api/runs/${runId}/profile`)
      if (!response.ok) throw new Error('The profile could not be had from the server.')
      return new Uint8Array(await response.arrayBuffer())
    },
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
