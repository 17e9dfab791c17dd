import { App, Input, Modal } from 'antd'
import { useState } from 'react'
import { formatSigned } from '@bichroma/core/aims'
import { runKinds } from '@bichroma/core/runs'
import { roleCovers, type RunSummary } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession } from '../api/queries'
import { formatDay } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'

/** That a validation was withdrawn, by whom and why. */
export function Withdrawn({ withdrawn }: { withdrawn: NonNullable<RunSummary['withdrawn']> }) {
  return (
    <p className="asks">
      Withdrawn by {withdrawn.by} on {formatDay(withdrawn.at)}: {withdrawn.reason} It is kept, and counts no longer.
    </p>
  )
}

/** That a validation was judged anew with its instrument's offset taken out, and what it came to as it was read. */
export function Anew({ anew, instrument }: { anew: NonNullable<RunSummary['anew']>; instrument: string }) {
  return (
    <p className="second">
      Judged anew: {instrument} has read {formatSigned(100 * anew.luminance, 1)} % since {formatDay(anew.since)}, which{' '}
      {anew.by} took into account on {formatDay(anew.at)}. As it was read: <VerdictLabel verdict={anew.verdict} />,{' '}
      <span className="fig">{anew.averageDeltaE.toFixed(2)}</span> ΔE on average.
    </p>
  )
}

/** Lets an administrator take a validation out of what counts, with a reason. */
export function WithdrawValidation({ run }: { run: RunSummary }) {
  const { message } = App.useApp()
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState('')
  const role = useSession().data?.account?.role ?? 'viewer'
  const withdraw = useSend(async () => {
    await ask('POST', `/runs/${run.id}/withdraw`, { reason })
    void message.success('The validation was withdrawn.')
    setOpen(false)
  })
  if (!roleCovers(role, 'administrator') || !runKinds[run.kind].settles || run.withdrawn || run.takenBack) return null
  return (
    <>
      <button type="button" className="quietact" onClick={() => setOpen(true)}>
        Withdraw validation
      </button>
      <Modal
        open={open}
        title="Withdraw this validation"
        okText="Withdraw validation"
        cancelText="Let it count"
        okButtonProps={{ loading: withdraw.isPending, disabled: reason.trim().length < 3 }}
        onCancel={() => setOpen(false)}
        onOk={() => withdraw.mutate(undefined)}
      >
        <p className="second" style={{ marginBottom: 12 }}>
          Its readings and its report stay. The slot’s verdict, its due line and its trends go by the validation before
          it. What the slot holds stays as it is.
        </p>
        <label htmlFor="withdraw-reason">Why it shall not count</label>
        <Input.TextArea
          id="withdraw-reason"
          value={reason}
          maxLength={300}
          autoSize={{ minRows: 2, maxRows: 4 }}
          placeholder="The instrument was knocked, and nobody saw it."
          onChange={(e) => setReason(e.target.value.replace(/\s*\n\s*/g, ' '))}
        />
      </Modal>
    </>
  )
}
