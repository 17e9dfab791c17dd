import { Button, Select } from 'antd'
import { useState } from 'react'
import type { PeerRunKind, PeerSetDetail, StartedPeerRuns } from '@bichroma/contract'
import { ask } from '../api/client'
import { useInstruments, useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { aimNameFor, listed } from './words'

/** Puts a run of every member into the queue: which kind, with which instrument, and what is overwritten by it. */
export function StartTogether({ set, onClose }: { set: PeerSetDetail; onClose: () => void }) {
  const members = set.members.filter((m) => m.kept === 'in use')
  const holding = set.aim !== null && members.every((m) => m.label === aimNameFor(set, m.displayId))
  const [kind, setKind] = useState<PeerRunKind>(
    set.standing?.lack?.why === 'unknown' ? 'baseline' : set.aim && !holding ? 'full' : 'check',
  )
  const [instrument, setInstrument] = useState<number | null>(null)
  const [answer, setAnswer] = useState<StartedPeerRuns | null>(null)
  const instruments = useInstruments().data ?? []
  const start = useSend(async () => {
    setAnswer(
      await ask<StartedPeerRuns>('POST', `/peer-sets/${set.id}/runs`, {
        kind,
        ...(instrument !== null && { instrumentId: instrument }),
        holds: members.map((m) => ({ displayId: m.displayId, label: m.label ?? '' })),
      }),
    )
  })
  const others = members.filter((m) => m.label && m.label !== aimNameFor(set, m.displayId))
  if (answer)
    return (
      <Plane title="Runs are in the queue">
        <div style={{ padding: '0 12px 12px', display: 'grid', gap: 6 }}>
          <p>
            {answer.started.length} of {answer.started.length + answer.refused.length} members
          </p>
          {answer.refused.map((r) => (
            <p key={r.displayId} className="small asks">
              {r.name}: {r.why}
            </p>
          ))}
          <Button onClick={onClose}>Close</Button>
        </div>
      </Plane>
    )
  return (
    <Plane title="Start runs of all">
      <form
        style={{ padding: '0 12px 12px', display: 'grid', gap: 8, gridTemplateColumns: 'minmax(0, 1fr)' }}
        onSubmit={(e) => {
          e.preventDefault()
          start.mutate(undefined)
        }}
      >
        <label>
          <span className="small second">What each goes through</span>
          <Select<PeerRunKind>
            aria-label="Kind of run"
            value={kind}
            onChange={setKind}
            style={{ width: '100%' }}
            options={[
              { value: 'full', label: 'A full run to the set’s aim', disabled: !set.aim },
              { value: 'check', label: 'A check of what its slot holds' },
              { value: 'baseline', label: 'A baseline: all the light that it has' },
            ]}
          />
        </label>
        <label>
          <span className="small second">Read with</span>
          <Select<number>
            aria-label="Instrument"
            value={instrument ?? 0}
            onChange={(id) => setInstrument(id || null)}
            style={{ width: '100%' }}
            options={[
              { value: 0, label: 'What is plugged in at each' },
              ...instruments.map((i) => ({ value: i.id, label: `${i.model} ${i.serial}` })),
            ]}
          />
        </label>
        <p className="small quiet">
          {instrument === null
            ? 'With one instrument for all, what is wrong with it falls out of the differences.'
            : 'Each run waits in the queue until it lies at its display.'}
        </p>
        {kind === 'full' && others.length > 0 && (
          <p className="small asks">
            Overwrites {listed(others.map((m) => `“${m.label}” in slot ${m.slot} of ${m.name}`))}.
          </p>
        )}
        <span style={{ display: 'flex', gap: 8 }}>
          <Button type="primary" htmlType="submit" loading={start.isPending}>
            Start {members.length} {{ full: 'full runs', check: 'checks', baseline: 'baselines' }[kind]}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </span>
      </form>
    </Plane>
  )
}
