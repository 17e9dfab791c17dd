import { Button, Popconfirm } from 'antd'
import { Link } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import type { PeerMatch, PeerSetDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'

/** What was matched in a set, by whom and when. */
export function Matches({ set, mayTakeBack }: { set: PeerSetDetail; mayTakeBack: boolean }) {
  const takeBack = useSend((id: number) => ask('DELETE', `/peer-matches/${id}`))
  return (
    <Plane title="Matched so far">
      {set.matches.length ? (
        <ul className="looks">
          {set.matches.map((match) => (
            <li key={match.id} className={match.state === 'ended' ? 'quiet' : undefined}>
              <span>
                {match.name} beside {match.besideName}
                {match.state === 'ended' && ', taken back'}
              </span>
              <MatchFigures match={match} />
              <span className="small quiet">
                {formatMoment(match.at)}, {match.by}
              </span>
              {match.aim && match.state === 'in force' && (
                <span className="small">
                  <Link to={`/aims/aims/${match.aim.id}`}>{match.aim.name}</Link>
                </span>
              )}
              {mayTakeBack && match.state === 'in force' && (
                <Popconfirm
                  title={`Take this match of ${match.name} back?`}
                  description="Its slot stays as it is until its next run."
                  okText="Take it back"
                  onConfirm={() => takeBack.mutate(match.id)}
                >
                  <Button size="small" style={{ justifySelf: 'start', marginTop: 4 }}>
                    Take back
                  </Button>
                </Popconfirm>
              )}
            </li>
          ))}
        </ul>
      ) : (
        <p className="none" style={{ padding: '8px 12px 14px' }}>
          No members of this set were matched by eye.
        </p>
      )}
    </Plane>
  )
}

/** An offset by eye in figures. */
export function MatchFigures({ match: { offset, settled, repeats } }: { match: PeerMatch }) {
  return (
    <span className="small second">
      by eye u′ <span className="fig">{formatSigned(offset.u, 4)}</span>, v′{' '}
      <span className="fig">{formatSigned(offset.v, 4)}</span>, scatter{' '}
      <span className="fig">{settled.scatter.toFixed(4)}</span> of {repeats.length}
    </span>
  )
}
