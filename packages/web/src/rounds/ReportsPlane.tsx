import { Button, Input } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { momentIn } from '@bichroma/core/rounds'
import type { DeskReport } from '@bichroma/contract'
import { ask } from '../api/client'
import { useList } from '../api/lists'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'

/** What looks wrong to people at their desks, and is not answered yet; nothing where there is nothing. */
export function ReportsPlane({ zone, may }: { zone: string; may: boolean }) {
  const list = useList<DeskReport>('/desk-reports', { state: 'open', limit: 20 })
  if (!list.items.length) return null
  return (
    <Plane title="Looks wrong to somebody" aside={list.total}>
      <ul className="unplanned">
        {list.items.map((r) => (
          <li key={r.id}>
            <Link to={`/register/${r.displayId}`}>{r.displayName}</Link>{' '}
            <span className="small quiet">
              {r.room}, {r.workstation}, {momentIn(r.at, zone)}
            </span>
            <br />
            {r.text}{' '}
            {r.picture && (
              <a href={`/api/desk-reports/${r.id}/picture`} target="_blank" rel="noreferrer">
                Its picture
              </a>
            )}
            {may && <Answer id={r.id} />}
          </li>
        ))}
      </ul>
    </Plane>
  )
}

function Answer({ id }: { id: number }) {
  const [answer, setAnswer] = useState('')
  const send = useSend(() => ask('POST', `/desk-reports/${id}/answer`, { answer }))
  return (
    <span style={{ display: 'flex', gap: 6, marginTop: 4 }}>
      <Input
        size="small"
        aria-label="Answer at the desk"
        placeholder="Answer at the desk; a check answers by itself"
        value={answer}
        maxLength={300}
        onChange={(e) => setAnswer(e.target.value)}
      />
      <Button
        size="small"
        disabled={answer.trim().length < 3}
        loading={send.isPending}
        onClick={() => send.mutate(undefined)}
      >
        Answer
      </Button>
    </span>
  )
}
