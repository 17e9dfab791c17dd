import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import { restKinds, type DisplayDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'

/** Whether a display is looked at at all: never, not while it is away, or not until further notice. */
export function DisplayRest({ display }: { display: DisplayDetail }) {
  const { id, rests } = display
  const [kind, setKind] = useState<(typeof restKinds)[number]>('paused')
  const [why, setWhy] = useState('')
  const [until, setUntil] = useState('')
  const save = useSend((body: object) => ask('PUT', `/displays/${id}/rest`, body))
  return (
    <Plane title="Rest" aside={rests ? undefined : 'it is looked at as it falls due'}>
      <div style={{ padding: '0 12px 12px', display: 'grid', gap: 8 }}>
        {rests ? (
          <>
            <p>
              {rests.kind}
              {rests.until && ` until ${rests.until}`}: {rests.why}
            </p>
            <Button
              style={{ justifySelf: 'start' }}
              loading={save.isPending}
              onClick={() => save.mutate({ kind: null })}
            >
              Look at it again
            </Button>
          </>
        ) : (
          <>
            <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
              <Select
                aria-label="How it rests"
                value={kind}
                onChange={setKind}
                options={restKinds.map((value) => ({ value, label: value }))}
              />
              {kind === 'paused' && (
                <Input
                  aria-label="Until"
                  type="date"
                  value={until}
                  onChange={(e) => setUntil(e.target.value)}
                  title="Left empty, until somebody says so"
                />
              )}
            </div>
            <Input
              aria-label="Why it rests"
              placeholder="Why"
              value={why}
              maxLength={200}
              onChange={(e) => setWhy(e.target.value)}
            />
            <Button
              style={{ justifySelf: 'start' }}
              disabled={why.trim().length < 3}
              loading={save.isPending}
              onClick={() => save.mutate({ kind, why, until: kind === 'paused' && until ? until : null })}
            >
              Let it rest
            </Button>
          </>
        )}
      </div>
    </Plane>
  )
}
