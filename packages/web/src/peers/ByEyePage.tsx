import { Button, Select } from 'antd'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import type { PeerSetDetail } from '@bichroma/contract'
import { usePeerSet, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { Matches } from './Matches'
import { Matching } from './Matching'
import { nameIn } from './words'
import './peers.css'

/** Matching the white of a member by eye: displays of different light can measure alike and not look it. */
export function ByEyePage() {
  const id = Number(useParams().id)
  return <Loaded query={usePeerSet(id)}>{(set) => <MatchOf key={set.id} set={set} />}</Loaded>
}

function MatchOf({ set }: { set: PeerSetDetail }) {
  const members = set.members.filter((m) => m.kept === 'in use')
  const [besideId, setBeside] = useState(set.reference ?? members[0]?.displayId ?? null)
  const [displayId, setDisplay] = useState(members.find((m) => m.displayId !== besideId)?.displayId ?? null)
  const [begun, setBegun] = useState(false)
  const role = useSession().data?.account?.role
  const mayMatch = role === 'administrator' || role === 'technician'
  const options = members.map((m) => ({ value: m.displayId, label: m.name }))
  return (
    <>
      <div className="top">
        <div>
          <h1>Match by eye</h1>
          <p>
            <Link to="/peers">Peer sets</Link> · <Link to={`/peers/${set.id}`}>{set.name}</Link> · whites that measure
            alike and do not look it
          </p>
        </div>
      </div>
      <div className="rings">
        {mayMatch && begun && displayId !== null && besideId !== null ? (
          <Matching
            {...{ set, displayId, besideId }}
            names={[nameIn(set.members, displayId), nameIn(set.members, besideId)]}
            onStop={() => setBegun(false)}
          />
        ) : (
          <Plane title="Two members side by side">
            {mayMatch ? (
              <div className="ringform matchform">
                <label>
                  <span className="small second">The white that is moved</span>
                  <Select
                    aria-label="The white that is moved"
                    options={options}
                    value={displayId}
                    onChange={setDisplay}
                  />
                </label>
                <label>
                  <span className="small second">until it looks like that of</span>
                  <Select
                    aria-label="Until it looks like that of"
                    options={options}
                    value={besideId}
                    onChange={setBeside}
                  />
                </label>
                <ul className="small second matchrules">
                  <li>Both are warm, in the slots in which they belong to the set, and side by side.</li>
                  <li>
                    The room is as it is at work; nothing coloured is in sight. Wait two minutes until eyes have
                    settled.
                  </li>
                  <li>Look from the front, at both, and away in between. Let whoever judges pictures here do it.</li>
                </ul>
                <Button
                  type="primary"
                  disabled={displayId === null || besideId === null || displayId === besideId}
                  onClick={() => setBegun(true)}
                  style={{ justifySelf: 'start' }}
                >
                  Begin
                </Button>
              </div>
            ) : (
              <p className="none">Technicians and administrators match members by eye.</p>
            )}
          </Plane>
        )}
        <Matches set={set} mayTakeBack={role === 'administrator'} />
      </div>
    </>
  )
}
