import { Button, Input, Modal } from 'antd'
import { useState } from 'react'
import type { FoundByHandAnswer, Selection } from '@bichroma/contract'
import { ask, request } from '../api/client'
import { useSend } from '../api/queries'
import { ChooseFile } from '../parts/ChooseFile'

/** Fetches a ZIP for workstations where no courier runs, and keeps it as a file. */
async function fetchHandFiles(selection: Selection, does: 'place' | 'look'): Promise<void> {
  const response = await request('POST', '/rollout/files', JSON.stringify({ selection, does }), 'application/json')
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = /filename="?([^";]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'rollout.zip'
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

/** Takes the profiles of a selection along as files, with a script for each system. */
export function TakeAlong({ selection, disabled }: { selection: Selection; disabled: boolean }) {
  const fetching = useSend(() => fetchHandFiles(selection, 'place'))
  return (
    <Button block disabled={disabled} loading={fetching.isPending} onClick={() => fetching.mutate(undefined)}>
      Take it along as files (ZIP)
    </Button>
  )
}

/** What a script printed on a workstation where no courier runs: pasted or from a file, it is taken for what is found. */
export function ReadBackByHand({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('')
  const [told, setTold] = useState<FoundByHandAnswer | null>(null)
  const [wrong, setWrong] = useState<string | null>(null)
  const look = useSend(() => fetchHandFiles({}, 'look'))
  const send = useSend(
    async () => {
      setWrong(null)
      setTold(await ask<FoundByHandAnswer>('POST', '/rollout/found', { text }))
      setText('')
    },
    (problem) => setWrong(problem.message),
  )
  return (
    <Modal
      open
      width={620}
      title="Read back by hand"
      onCancel={onClose}
      footer={[
        <Button key="look" loading={look.isPending} onClick={() => look.mutate(undefined)}>
          Fetch scripts that look (ZIP)
        </Button>,
        <Button key="done" onClick={onClose}>
          Close
        </Button>,
        <Button
          key="take"
          type="primary"
          disabled={!text.trim()}
          loading={send.isPending}
          onClick={() => send.mutate(undefined)}
        >
          Take it as found
        </Button>,
      ]}
    >
      <p className="second" style={{ marginBottom: 8 }}>
        For workstations where no courier runs: paste what the script printed there. It is marked as told by hand.
      </p>
      <Input.TextArea
        aria-label="What the script printed"
        rows={9}
        className="fig"
        value={text}
        onChange={(e) => setText(e.target.value)}
        placeholder={'bichroma-found 1\nhost\tsedge-09\n…'}
      />
      <div style={{ marginTop: 8 }}>
        <ChooseFile
          label="What the script printed, as a file"
          accept=".txt,.log"
          onChoose={async (file) => setText(await file.text())}
        >
          From a file…
        </ChooseFile>
      </div>
      {wrong && (
        <p className="asks" role="alert" style={{ marginTop: 8 }}>
          {wrong}
        </p>
      )}
      {told && (
        <p role="status" style={{ marginTop: 8 }}>
          {told.workstation}: {told.displays === 1 ? 'one display' : `${told.displays} displays`} read back
          {told.placed > 0 && `, ${told.placed} newly placed as wanted`}.
          {told.unknown.length > 0 && (
            <span className="asks"> Not in the register there: {told.unknown.join(', ')}.</span>
          )}
        </p>
      )}
    </Modal>
  )
}
