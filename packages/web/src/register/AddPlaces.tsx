import { Form, Input, Modal, Select } from 'antd'
import { useEffect, useState } from 'react'
import { operatingSystemNames, operatingSystems } from '@bichroma/core/register'
import { saveRoomSchema, saveWorkstationSchema, type SaveRoom, type SaveWorkstation } from '@bichroma/contract'
import { ask } from '../api/client'
import { useRooms, useSend } from '../api/queries'
import { checked, showProblem } from '../parts/useYupForm'
import { CourierKey } from './CourierKey'

/** A new room. */
export function AddRoom({ onClose }: { onClose: () => void }) {
  const [form] = Form.useForm<SaveRoom>()
  const add = useSend(
    (input: SaveRoom) => ask('POST', '/rooms', input).then(onClose),
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const { name, building } = form.getFieldsValue()
    const input = checked(form, saveRoomSchema, {
      name,
      ...(building && { building }),
    })
    if (input) add.mutate(input)
  }
  return (
    <Modal
      open
      title="Add a room"
      okText="Add room"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={add.isPending}
      width={380}
    >
      <Form form={form} layout="vertical" onFinish={submit}>
        <Form.Item label="Name" name="name">
          <Input autoFocus />
        </Form.Item>
        <Form.Item label="Building" name="building" extra="only where a studio has several">
          <Input />
        </Form.Item>
      </Form>
    </Modal>
  )
}

/** A new workstation; once it is there, the key with which its courier connects. */
export function AddWorkstation({ onClose }: { onClose: () => void }) {
  const [form] = Form.useForm<SaveWorkstation>()
  const rooms = useRooms().data ?? []
  // The list may come after the form.
  const firstRoom = rooms[0]?.id
  useEffect(() => {
    if (form.getFieldValue('roomId') === undefined) form.setFieldValue('roomId', firstRoom)
  }, [form, firstRoom])
  const [made, setMade] = useState<{ name: string; key: string } | null>(null)
  const add = useSend(
    async (input: SaveWorkstation) => {
      const { id } = await ask<{ id: number }>('POST', '/workstations', input)
      const { key } = await ask<{ key: string }>('POST', `/workstations/${id}/courier-key`)
      setMade({ name: input.name, key })
    },
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const input = checked(form, saveWorkstationSchema, form.getFieldsValue())
    if (input) add.mutate(input)
  }
  if (made) return <CourierKey workstation={made.name} courierKey={made.key} onClose={onClose} />
  return (
    <Modal
      open
      title="Add a workstation"
      okText="Add workstation"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={add.isPending}
      width={400}
    >
      <Form form={form} layout="vertical" onFinish={submit}>
        <Form.Item label="Name" name="name" extra="as its system calls it">
          <Input autoFocus />
        </Form.Item>
        <Form.Item label="Room" name="roomId">
          <Select options={rooms.map((r) => ({ value: r.id, label: r.name }))} notFoundContent="Add a room first." />
        </Form.Item>
        <Form.Item label="System" name="operatingSystem">
          <Select options={operatingSystemNames.map((value) => ({ value, label: operatingSystems[value].label }))} />
        </Form.Item>
        <Form.Item label="Version of the system" name="systemVersion">
          <Input placeholder="12" />
        </Form.Item>
      </Form>
    </Modal>
  )
}
