import { Button, Checkbox } from 'antd'
import { useState } from 'react'
import { roleCovers, type Condition, type RunDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession } from '../api/queries'

/** Conditions that a run waits for somebody to look at. */
export const toLookAt = (run: RunDetail): Condition[] =>
  run.state === 'waiting' && run.stage === 'ready'
    ? run.stages.flatMap((s) => s.conditions ?? []).filter((c) => c.confirm === 'needed' && !c.ok && !c.advisory)
    : []

/** Settings that the workstation does not tell: a technician looks and confirms each. */
export function Confirmations({ runId, open }: { runId: number; open: readonly Condition[] }) {
  const [looked, setLooked] = useState<readonly string[]>([])
  const role = useSession().data?.account?.role ?? 'viewer'
  const resume = useSend((confirm: readonly string[]) => ask('POST', `/runs/${runId}/resume`, { confirm }))
  if (!roleCovers(role, 'technician')) return null
  return (
    <div className="confirm">
      <Checkbox.Group<string> value={[...looked]} onChange={setLooked}>
        {open.map((c) => (
          <Checkbox key={c.id} value={c.id}>
            <b>{c.label}</b>
            <br />
            <span className="small second">{c.found}</span>
          </Checkbox>
        ))}
      </Checkbox.Group>
      <Button
        type="primary"
        size="small"
        disabled={open.some((c) => !looked.includes(c.id))}
        loading={resume.isPending}
        onClick={() => resume.mutate(looked)}
      >
        Confirm {open.length === 1 ? 'it' : `all ${open.length}`} and go on
      </Button>
    </div>
  )
}
