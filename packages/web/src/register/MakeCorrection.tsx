import { Alert, App, Form, Modal } from 'antd'
import { useState } from 'react'
import type { Instrument, MakeCorrection as Input } from '@bichroma/contract'
import { ask, type ApiProblem } from '../api/client'
import { useDisplay, useInstruments, useSend } from '../api/queries'
import { DisplayPicker } from '../parts/Picker'

/** A correction with which white is off by less than this is as good as the instruments are. */
const good = 0.002

const nameOf = (i: Instrument) => `${i.model} ${i.serial}`

/** Chooses display, colorimeter and spectroradiometer; both must be plugged in at the display. */
export function MakeCorrection({ onClose }: { onClose: () => void }) {
  const { message } = App.useApp()
  const instruments = useInstruments().data ?? []
  const [displayId, setDisplayId] = useState<number | null>(null)
  const [problem, setProblem] = useState<ApiProblem | null>(null)
  const display = useDisplay(displayId).data
  const here = instruments.filter((i) => i.workstationId === display?.workstationId)
  const [colorimeter, reference] = (['colorimeter', 'spectroradiometer'] as const).map((kind) =>
    here.find((i) => i.kind === kind),
  )
  const make = useSend(
    async (input: Input) => {
      const { residual } = await ask<{ residual: number }>('POST', '/corrections', input)
      void message.success(
        `The correction leaves ${residual.toFixed(4)} Δu′v′ on colours that it was not made from${residual > good ? ': more than usual; see that both instruments lie flat' : ''}.`,
      )
      onClose()
    },
    (refused) => setProblem(refused),
  )
  const missing = [...(colorimeter ? [] : ['a colorimeter']), ...(reference ? [] : ['a spectroradiometer'])]
  return (
    <Modal
      open
      title="Make a correction"
      okText="Make correction"
      cancelText="Not now"
      onCancel={onClose}
      okButtonProps={{ disabled: !display || missing.length > 0, loading: make.isPending }}
      onOk={() => make.mutate({ displayId: display!.id, instrumentId: colorimeter!.id, referenceId: reference!.id })}
    >
      <p className="second" style={{ marginBottom: 12 }}>
        White, the primaries and four more colours are read with both instruments on one display. The colorimeter then
        reads displays of that model as the spectroradiometer does.
      </p>
      <Form layout="vertical">
        <Form.Item
          label="Display"
          extra={
            display &&
            (missing.length
              ? `Plug ${missing.join(' and ')} in where ${display.name} is.`
              : `${nameOf(colorimeter!)} is corrected to ${nameOf(reference!)}. It takes about a minute.`)
          }
        >
          <DisplayPicker
            placeholder="Choose the display"
            value={displayId}
            onChange={(id) => {
              setProblem(null)
              setDisplayId(id)
            }}
          />
        </Form.Item>
      </Form>
      {problem && <Alert type="warning" title={problem.message} role="alert" />}
    </Modal>
  )
}
