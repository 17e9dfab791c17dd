import { Button, Popconfirm } from 'antd'
import { Link, useParams } from 'react-router'
import { waveItemStates, type Wave, type WaveDetail, type WaveItem, type WaveItemState } from '@bichroma/contract'
import { ask } from '../api/client'
import { useRooms, useSend, useSession, useWave } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatLeft, formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { FindInput } from '../parts/FindInput'
import { Filter } from '../parts/Filter'
import { itemStateWords, mendWords, nameOfPath, selectionWords, waveStateWords } from './words'
import './rollout.css'
import '../parts/longtable.css'
import '../parts/sheet.css'

/** One wave: its steps, its displays, what each waits for, and the way back. */
export function WavePage() {
  const id = Number(useParams().id)
  const [asked, askFor] = useAddress(['search', 'state'])
  return <Loaded query={useWave(id, asked)}>{(wave) => <WaveOf wave={wave} asked={asked} onAsk={askFor} />}</Loaded>
}

type Asked = Readonly<Record<'search' | 'state', string>>

function WaveOf({ wave, asked, onAsk }: { wave: WaveDetail; asked: Asked; onAsk: (change: Partial<Asked>) => void }) {
  const rooms = useRooms().data ?? []
  const roomNames = (ids: readonly number[]) =>
    ids.map((id) => rooms.find((r) => r.id === id)?.name ?? `room ${id}`).join(', ')
  const total = Object.values(wave.counts).reduce((a, b) => a + b, 0)
  return (
    <>
      <div className="top">
        <div>
          <h1>
            {wave.name}{' '}
            <span style={{ fontSize: 13, fontWeight: 400 }} className={tone(wave.state)}>
              {waveStateWords[wave.state]}
            </span>
          </h1>
          <p>
            <Link to="/rollout">Rollout</Link> · {selectionWords(wave.selection, roomNames)} · started{' '}
            {formatMoment(wave.startedAt)} by {wave.startedBy}
            {wave.endedAt !== null && `, ended ${formatMoment(wave.endedAt)}`}
          </p>
          {wave.says && <p className={wave.state === 'stopped' ? 'asks' : 'second'}>{wave.says}</p>}
        </div>
        <WaveActs wave={wave} />
      </div>
      <div className="wave">
        <WaveSteps wave={wave} />
        <Plane title="Displays" aside={asked.search || asked.state ? `${wave.items.total} of ${total}` : String(total)}>
          <div className="listtools">
            <FindInput
              label="Find a display"
              placeholder="Find by name"
              value={asked.search}
              onFind={(search) => onAsk({ search })}
            />
            <Filter
              label="State"
              all="every state"
              value={asked.state}
              onChange={(state) => onAsk({ state })}
              options={waveItemStates.map((value) => ({ value, label: itemStateWords[value] }))}
            />
          </div>
          <div className="sideways">
            <table className="figures people top-aligned">
              <thead>
                <tr>
                  <th style={{ width: 150 }}>Display</th>
                  <th>Profile</th>
                  <th>Before</th>
                  <th style={{ width: 112 }}>State</th>
                  <th style={{ width: 130 }}>Waits for</th>
                </tr>
              </thead>
              <tbody>
                {wave.items.items.map((item) => (
                  <Item key={`${item.displayId} ${item.workstationName}`} item={item} />
                ))}
              </tbody>
            </table>
          </div>
          {wave.items.items.length === 0 && <p className="none">No display of this wave fits.</p>}
          {wave.items.next && (
            <p className="none">and {wave.items.total - wave.items.items.length} more; find them by name or state</p>
          )}
        </Plane>
      </div>
    </>
  )
}

const tone = (state: Wave['state']) =>
  state === 'stopped' || state === 'paused' ? 'asks' : state === 'under way' || state === 'undoing' ? 'runs' : 'second'

function Item({ item }: { item: WaveItem }) {
  return (
    <tr>
      <td>
        <Link to={`/rollout?display=${item.displayId}`}>{item.displayName}</Link>
        <br />
        <span className="small quiet">
          {item.workstationName}, {item.step === 1 ? 'first few' : 'rest'}
        </span>
      </td>
      <td style={{ overflowWrap: 'anywhere' }}>
        {item.action === 'release' ? 'ours is taken away' : item.fileName}
        {item.slot !== null && <span className="small quiet"> slot {item.slot}</span>}
      </td>
      <td style={{ overflowWrap: 'anywhere' }} className="small">
        {item.before === undefined ? (
          <span className="quiet">–</span>
        ) : item.before === null ? (
          'nothing'
        ) : (
          nameOfPath(item.before)
        )}
      </td>
      <td>
        <Square state={item.state} /> {itemStateWords[item.state]}
        <br />
        <span className="fig small quiet">
          {item.thereAt !== null
            ? formatMoment(item.thereAt)
            : item.outAt !== null
              ? `out ${formatMoment(item.outAt)}`
              : ''}
        </span>
      </td>
      <td className="small">
        {item.says ? (
          <span className={item.state === 'failed' ? 'asks' : 'second'}>{item.says}</span>
        ) : (
          item.mend && mendWords[item.mend].title
        )}
      </td>
    </tr>
  )
}

/** A display as a small square: open until it is let out, half while it is under way, filled once it was read back. */
export function Square({ state }: { state: WaveItemState }) {
  return <i className={`square ${state.replaceAll(' ', '-')}`} aria-hidden />
}

/** The steps in one column: the first few, their gate, the rest; as a run has its stages. */
export function WaveSteps({ wave }: { wave: WaveDetail }) {
  const { counts, first, gate, state } = wave
  const total = Object.values(counts).reduce((a, b) => a + b, 0)
  const held = counts['held back']
  const out = total - held - counts['left out']
  const firstOnly = held > 0
  const back = state === 'undoing' || state === 'undone'
  const squares = [...waveItemStates.filter((s) => s !== 'held back'), 'held back' as const].flatMap((s) =>
    Array.from({ length: Math.min(counts[s], 400) }, (_, i) => <Square key={`${s}${i}`} state={s} />),
  )
  return (
    <Plane
      title="Steps"
      aside={wave.leftMs === null ? undefined : wave.leftMs > 0 ? formatLeft(wave.leftMs / 1000) : undefined}
    >
      <ol className="sheet" aria-label="Steps of the wave">
        <li className={`stage ${firstOnly ? 'now' : 'done'}`}>
          <i />
          <h2>The first few</h2>
          <p>{first === total ? `all ${total} at once` : `${first} of ${total}, one of each system first`}</p>
        </li>
        <li className={`stage ${firstOnly ? (out > 0 ? 'now' : 'later') : 'done'}`}>
          <i />
          <h2>
            {gate === 'check' ? 'Read back and checked' : gate === 'word' ? 'Read back, and a word' : 'Read back'}
          </h2>
          <p>
            {
              {
                'read-back': 'the rest goes once every one of them was read back',
                check: 'the rest goes once a check run of each was within its limits',
                word: 'the rest goes once somebody says so',
              }[gate]
            }
            {wave.stopShare < 1 && `; more than ${Math.round(wave.stopShare * 100)}\u00a0% failed stop it`}
          </p>
        </li>
        <li
          className={`stage ${firstOnly ? 'later' : state === 'done' ? 'done' : state === 'under way' ? 'now' : 'broke'}`}
        >
          <i />
          <h2>The rest</h2>
          <p>
            {counts.there} there{counts['under way'] > 0 && `, ${counts['under way']} under way`}
            {counts.failed > 0 && `, ${counts.failed} failed`}
            {held > 0 && `, ${held} held back`}
            {counts['left out'] > 0 && `, ${counts['left out']} left out`}
          </p>
        </li>
        {back && (
          <li className={`stage ${state === 'undone' ? 'done' : 'now'}`}>
            <i />
            <h2>Given back</h2>
            <p>
              {counts.undone} given back{counts.undoing > 0 && `, ${counts.undoing} still to come`}
            </p>
          </li>
        )}
      </ol>
      <div
        className="squares"
        role="img"
        aria-label={waveItemStates
          .filter((s) => counts[s])
          .map((s) => `${counts[s]} ${itemStateWords[s]}`)
          .join(', ')}
      >
        {squares}
      </div>
      <p className="small quiet" style={{ padding: '0 14px 12px' }}>
        What has not gone by {formatMoment(wave.expiresAt)} does not go any more.
      </p>
    </Plane>
  )
}

function WaveActs({ wave }: { wave: WaveDetail }) {
  const admin = useSession().data?.account?.role === 'administrator'
  const act = useSend((what: 'pause' | 'go-on' | 'word' | 'undo') => ask('POST', `/waves/${wave.id}/${what}`))
  if (!admin) return null
  const { state, counts } = wave
  const undoable = state !== 'undoing' && state !== 'undone'
  const out = counts['under way'] + counts.there + counts.failed
  return (
    <div className="acts">
      {undoable && (
        <Popconfirm
          title="Undo this wave?"
          description={`${out === 1 ? 'One display gets' : `${out} displays get`} back the profile and the binding that they had before. What was put there since by others stays.`}
          okText="Undo it"
          cancelText="Leave it"
          onConfirm={() => act.mutate('undo')}
        >
          <Button loading={act.isPending}>Undo wave</Button>
        </Popconfirm>
      )}
      {state === 'under way' && <Button onClick={() => act.mutate('pause')}>Pause wave</Button>}
      {state === 'under way' && counts['held back'] > 0 && (
        <Button type={wave.gate === 'word' ? 'primary' : 'default'} onClick={() => act.mutate('word')}>
          Let the rest go
        </Button>
      )}
      {(state === 'paused' || state === 'stopped') && (
        <Button type="primary" onClick={() => act.mutate('go-on')}>
          Go on
        </Button>
      )}
    </div>
  )
}
