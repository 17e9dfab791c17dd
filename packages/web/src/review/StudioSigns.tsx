import { Button, Input, Modal } from 'antd'
import { useState } from 'react'
import type { StudioSettings } from '@bichroma/contract'
import { ask, request } from '../api/client'
import { useSend, useSettings } from '../api/queries'
import { ChooseFile } from '../parts/ChooseFile'

/** The name and the logo that reports carry; shown once it is known what the studio is called. */
export function StudioSigns({ onClose }: { onClose: () => void }) {
  const settings = useSettings().data
  return settings ? <Signs settings={settings} onClose={onClose} /> : null
}

function Signs({ settings, onClose }: { settings: StudioSettings; onClose: () => void }) {
  const [name, setName] = useState(settings.studioName)
  // Counts what was sent, so that the picture is asked for anew.
  const [sent, setSent] = useState(0)
  const [has, setHas] = useState(true)
  const save = useSend(async () => {
    await ask('PUT', '/settings', { ...settings, studioName: name })
    onClose()
  })
  const send = async (file: File) => {
    await request('PUT', '/settings/logo', file, file.type || 'application/octet-stream')
    setHas(true)
    setSent((n) => n + 1)
  }
  const remove = useSend(async () => {
    await ask('DELETE', '/settings/logo')
    setHas(false)
  })
  return (
    <Modal
      open
      title="What reports carry"
      okText="Save name"
      cancelText="Close"
      okButtonProps={{ loading: save.isPending }}
      onCancel={onClose}
      onOk={() => save.mutate(undefined)}
    >
      <label style={{ display: 'grid', gap: 4, marginBottom: 14 }}>
        Studio’s name
        <Input value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
      </label>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        {has ? (
          <img
            key={sent}
            src={`/api/settings/logo?${sent}`}
            alt="The studio’s logo"
            style={{ maxHeight: 40, maxWidth: 160 }}
            onError={() => setHas(false)}
          />
        ) : (
          <span className="second">No logo yet</span>
        )}
        <ChooseFile label="Logo" accept="image/png,image/jpeg" onChoose={send}>
          {has ? 'Change logo' : 'Add logo'}
        </ChooseFile>
        {has && (
          <Button loading={remove.isPending} onClick={() => remove.mutate(undefined)}>
            Remove logo
          </Button>
        )}
      </div>
    </Modal>
  )
}
