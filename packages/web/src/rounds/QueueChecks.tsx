import { App, Button, Dropdown } from 'antd'
import { useNavigate } from 'react-router'
import type { Begins, DisplayListing } from '@bichroma/contract'
import { ApiProblem, ask } from '../api/client'
import { useSend } from '../api/queries'

/** Queues check runs of displays whose slot can be checked: each in its turn, as the instrument comes to it, or at night. */
export function QueueChecks({ displays }: { displays: readonly DisplayListing[] }) {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const ready = displays.filter((d) => d.label !== null && !d.unsure && !d.runId)
  const queue = useSend(async (begins: Begins) => {
    const refused: string[] = []
    for (const display of ready)
      await ask('POST', '/runs', { displayId: display.id, kind: 'check', slot: display.slot, begins }).catch(
        (error: unknown) => {
          if (!(error instanceof ApiProblem)) throw error
          refused.push(`${display.name}: ${error.message}`)
        },
      )
    const queued = ready.length - refused.length
    if (queued) void message.success(`${queued} check ${queued === 1 ? 'run is' : 'runs are'} queued.`)
    if (refused.length) void message.warning(refused.join(' '))
    void navigate('/runs')
  })
  if (!ready.length) return null
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          { key: 'turn', label: 'Each in its turn, as the instrument comes to it' },
          { key: 'night', label: 'At night, as workstations are left alone' },
        ],
        onClick: ({ key }) => queue.mutate(key as Begins),
      }}
    >
      <Button loading={queue.isPending}>
        Queue {ready.length} check {ready.length === 1 ? 'run' : 'runs'}…
      </Button>
    </Dropdown>
  )
}
