import { App, Button, Modal } from 'antd'
import { useState } from 'react'
import { roleCovers, type ProfilePolicy } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession, useSettings } from '../api/queries'
import { ProfileChoice } from '../parts/ProfileChoice'

/** Makes a profile anew from what a run proved, without calibrating. */
export function RebuildProfile({ runId, has }: { runId: number; has: boolean }) {
  const { message } = App.useApp()
  const [open, setOpen] = useState(false)
  const usual = useSettings().data?.profile
  const [chosen, setChosen] = useState<ProfilePolicy | null>(null)
  const asked = chosen ?? usual
  const role = useSession().data?.account?.role ?? 'viewer'
  const rebuild = useSend(async () => {
    const profile = { ...asked, readings: 'prove' as const }
    const { profileName } = await ask<{ profileName: string }>('POST', `/runs/${runId}/profile`, { profile })
    void message.success(`${profileName} was made. Place it in Rollout.`)
    setOpen(false)
  })
  if (!roleCovers(role, 'technician')) return null
  return (
    <>
      <Button onClick={() => setOpen(true)}>{has ? 'Make profile anew' : 'Make profile'}</Button>
      <Modal
        open={open && asked !== undefined}
        title="Make a profile from this run’s readings"
        okText="Make profile"
        cancelText="Not now"
        okButtonProps={{ loading: rebuild.isPending }}
        onCancel={() => setOpen(false)}
        onOk={() => rebuild.mutate(undefined)}
      >
        <p className="second" style={{ marginBottom: 12 }}>
          The slot stays as it is; only its profile is made {has ? 'anew' : 'from what the run read'}.
        </p>
        {asked && <ProfileChoice profile={asked} onChange={setChosen} />}
      </Modal>
    </>
  )
}
