import { Button } from 'antd'
import { useNavigate } from 'react-router'
import type { PeerSetListing } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useSession } from '../api/queries'
import { FindInput } from '../parts/FindInput'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatAgo } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel } from '../parts/VerdictSign'
import { moveWords } from './words'
import './peers.css'

/** Displays that must look alike, set by set. */
export function PeersPage() {
  const [asked, askFor] = useAddress(['search'])
  const list = useList<PeerSetListing>('/peer-sets', asked)
  const navigate = useNavigate()
  const mayEdit = useSession().data?.account?.role === 'administrator'
  const apart = list.items.filter((s) => s.verdict === 'outside').length
  const moved = list.items.filter((s) => s.moved.length).length
  return (
    <>
      <div className="top">
        <div>
          <h1>Peer sets</h1>
          <p>
            {list.items.length
              ? `${apart ? `${apart} not alike` : 'All that were read look alike'}${moved ? `; the ground of ${moved === 1 ? 'one has' : `${moved} have`} moved` : ''}`
              : 'Displays side by side that must look alike'}
          </p>
        </div>
        <div className="acts">
          <Button onClick={() => void navigate('/peers/rings')}>Rings of instruments</Button>
          {mayEdit && (
            <Button type="primary" onClick={() => void navigate('/peers/new')}>
              Add peer set
            </Button>
          )}
        </div>
      </div>
      <Plane title="Sets" aside={countWords(list)}>
        <div className="listtools">
          <FindInput
            label="Find a set"
            placeholder="Find by name"
            value={asked.search}
            onFind={(search) => askFor({ search })}
          />
        </div>
        <LongTable
          label="Peer sets by name"
          list={list}
          keyOf={(s) => s.id}
          rowHeight={42}
          onOpen={(s) => void navigate(`/peers/${s.id}`)}
          none={
            asked.search
              ? 'No set fits.'
              : 'No set has been made yet. A wall, a suite, a pen display beside a flagship: whatever somebody compares by eye.'
          }
          columns={[
            {
              title: 'Set',
              show: (s) => (
                <>
                  <b style={{ fontWeight: 500 }}>{s.name}</b>
                  <br />
                  <span className="small quiet">{s.members.join(', ')}</span>
                </>
              ),
            },
            {
              title: 'Verdict',
              width: 128,
              show: (s) => <VerdictLabel verdict={s.verdict ?? 'unproven'} />,
            },
            {
              title: 'Furthest pair, ΔE',
              width: 124,
              right: true,
              show: (s) => <span className="fig">{s.furthest ? s.furthest.average.toFixed(2) : '–'}</span>,
            },
            {
              title: 'White, Δu′v′',
              width: 104,
              right: true,
              show: (s) => <span className="fig">{s.furthest ? s.furthest.white.toFixed(4) : '–'}</span>,
            },
            {
              title: 'Common light',
              width: 112,
              right: true,
              show: (s) =>
                s.luminance === null ? (
                  <span className="quiet">–</span>
                ) : (
                  <span className="fig">
                    {s.luminance.toFixed(1)} <span className="unit">cd/m²</span>
                  </span>
                ),
            },
            {
              title: 'Ground',
              width: 196,
              show: (s) =>
                s.moved.length ? (
                  <span className="asks small">{s.moved.map((m) => moveWords[m]).join('; ')}</span>
                ) : (
                  <span className="small second">{s.aimName ? 'as it was adopted' : 'not adopted yet'}</span>
                ),
            },
            {
              title: 'Read',
              width: 96,
              right: true,
              show: (s) => (
                <span className="small second">{s.judgedAt === null ? 'never' : formatAgo(s.judgedAt)}</span>
              ),
            },
          ]}
        />
      </Plane>
    </>
  )
}
