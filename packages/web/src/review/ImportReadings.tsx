import { App, Button, DatePicker, Form, Input, Modal, Select } from 'antd'
import dayjs, { type Dayjs } from 'dayjs'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import {
  importReadingsSchema,
  longestReadingsFile,
  roleCovers,
  type DisplayListing,
  type ImportReadings as Input_,
} from '@bichroma/contract'
import { ask } from '../api/client'
import { useList } from '../api/lists'
import { useAims, useDisplay, useSend, useSession } from '../api/queries'
import { ChooseFile } from '../parts/ChooseFile'
import { DisplayPicker } from '../parts/Picker'
import { checked, showProblem } from '../parts/useYupForm'

interface Fields {
  displayId: number
  slot: number
  aimId?: number
  instrument: string
  readAt: Dayjs
}

/** Takes in readings that another tool measured: judged, kept and trended like a run, and marked as imported. */
export function ImportReadings() {
  const role = useSession().data?.account?.role ?? 'viewer'
  const [open, setOpen] = useState(false)
  if (!roleCovers(role, 'technician')) return null
  return (
    <>
      <Button onClick={() => setOpen(true)}>Import readings</Button>
      {open && <ImportDialog onClose={() => setOpen(false)} />}
    </>
  )
}

function ImportDialog({ onClose }: { onClose: () => void }) {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const [form] = Form.useForm<Fields>()
  const aims = useAims().data ?? []
  const [file, setFile] = useState<{ name: string; text: string } | null>(null)
  const displayId = Form.useWatch('displayId', form)
  const slotNumber = Form.useWatch('slot', form)
  const first = useList<DisplayListing>('/displays', { limit: 1 }).items[0]
  const display = useDisplay(displayId ?? first?.id ?? null).data
  useEffect(() => {
    if (!display) return
    const number = form.getFieldValue('displayId') === display.id ? slotNumber : undefined
    if (form.getFieldValue('displayId') === undefined) form.setFieldValue('displayId', display.id)
    if (number === undefined || !display.slots.some((s) => s.number === number))
      form.setFieldValue('slot', display.slots.find((s) => s.active)?.number ?? 1)
  }, [display, form, slotNumber])
  const slot = display?.slots.find((s) => s.number === slotNumber)
  const send = useSend(
    async ({ id, input }: { id: number; input: Input_ }) => {
      const made = await ask<{ id: number }>('POST', `/displays/${id}/validations`, input)
      void message.success('The readings were judged and kept, marked as imported.')
      onClose()
      void navigate(`/review/${made.id}`)
    },
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const { displayId: id, readAt, ...rest } = form.getFieldsValue(true) as Fields
    const input = checked(form, importReadingsSchema, {
      ...rest,
      readAt: readAt?.valueOf(),
      fileName: file?.name ?? '',
      text: file?.text ?? '',
    })
    if (input) send.mutate({ id, input })
  }
  return (
    <Modal
      open
      title="Import readings measured elsewhere"
      okText="Import readings"
      cancelText="Not now"
      onCancel={onClose}
      onOk={submit}
      okButtonProps={{ loading: send.isPending, disabled: !file || !displayId }}
    >
      <Form form={form} layout="vertical" initialValues={{ readAt: dayjs() }}>
        <Form.Item label="File" name="text" extra="CGATS.17, CxF3 or CSV: signals as RGB, readings as XYZ in cd/m²">
          <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
            <ChooseFile
              label="File of readings"
              accept=".txt,.ti3,.cgats,.cxf,.xml,.csv"
              most={longestReadingsFile}
              onChoose={async (chosen) => setFile({ name: chosen.name, text: await chosen.text() })}
            >
              Choose a file
            </ChooseFile>
            <span className="second">{file?.name ?? 'none chosen'}</span>
          </div>
        </Form.Item>
        <Form.Item label="Display" name="displayId">
          <DisplayPicker
            known={display && { value: display.id, label: display.name }}
            onChange={() => form.setFieldValue('slot', undefined)}
          />
        </Form.Item>
        <Form.Item label="Slot" name="slot">
          <Select
            options={display?.slots.map((s) => ({ value: s.number, label: `${s.number} ${s.label ?? 'empty'}` })) ?? []}
          />
        </Form.Item>
        <Form.Item
          label="Aim to judge by"
          name="aimId"
          extra={
            slot?.label ? `Left empty, it is the slot’s own: “${slot.label}”.` : 'This slot holds no aim: choose one.'
          }
        >
          <Select allowClear options={aims.map((a) => ({ value: a.id, label: a.name }))} />
        </Form.Item>
        <Form.Item label="Measured with" name="instrument">
          <Input placeholder="The instrument’s name" />
        </Form.Item>
        <Form.Item label="Measured on" name="readAt">
          <DatePicker showTime={{ format: 'HH:mm' }} format="D MMM YYYY, HH:mm" style={{ width: '100%' }} />
        </Form.Item>
      </Form>
    </Modal>
  )
}
