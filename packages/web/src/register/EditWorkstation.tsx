import { Button, Form, Input, Modal, Popconfirm, Select } from 'antd'
import { useState } from 'react'
import { operatingSystemNames, operatingSystems } from '@bichroma/core/register'
import { changeWorkstationSchema, type ChangeWorkstation, type Workstation } from '@bichroma/contract'
import { ask } from '../api/client'
import { useRooms, useSend } from '../api/queries'
import { useSchemaForm } from '../parts/useSchemaForm'
import { CopyText } from '../access/CopyText'
import { CourierKey } from './CourierKey'

/** A workstation's name, room and system; a new key for its courier; and its end. */
export function EditWorkstation({ workstation, onClose }: { workstation: Workstation; onClose: () => void }) {
  const { id, name, roomId, operatingSystem, systemVersion } = workstation
  const rooms = useRooms().data ?? []
  const [key, setKey] = useState<string | null>(null)
  const { form, submit, pending } = useSchemaForm<ChangeWorkstation>(changeWorkstationSchema, (input) =>
    ask('PUT', `/workstations/${id}`, input).then(onClose),
  )
  const newKey = useSend(async () =>
    setKey((await ask<{ key: string }>('POST', `/workstations/${id}/courier-key`)).key),
  )
  const [desk, setDesk] = useState<string | null>(null)
  const newDesk = useSend(async () => {
    const { token } = await ask<{ token: string }>('POST', `/workstations/${id}/desk-link`)
    setDesk(`${window.location.origin}/desk/${token}`)
  })
  const retire = useSend(() => ask('DELETE', `/workstations/${id}`).then(onClose))
  if (key) return <CourierKey workstation={name} courierKey={key} onClose={onClose} />
  return (
    <Modal
      open
      title={`The workstation ${name}`}
      okText="Save"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={440}
    >
      <Form
        form={form}
        layout="vertical"
        initialValues={{ name, roomId, operatingSystem, systemVersion }}
        onFinish={submit}
      >
        <Form.Item label="Name" name="name" extra="as its system calls it">
          <Input />
        </Form.Item>
        <Form.Item label="Room" name="roomId">
          <Select options={rooms.map((r) => ({ value: r.id, label: r.name }))} />
        </Form.Item>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 12 }}>
          <Form.Item label="System" name="operatingSystem">
            <Select options={operatingSystemNames.map((value) => ({ value, label: operatingSystems[value].label }))} />
          </Form.Item>
          <Form.Item label="Version of the system" name="systemVersion">
            <Input />
          </Form.Item>
        </div>
      </Form>
      <span className="row">
        <Popconfirm
          title="Make a new key for its courier?"
          description="The courier that runs there with the old one is sent away."
          okText="Make the key"
          cancelText="Leave it"
          onConfirm={() => newKey.mutate(undefined)}
        >
          <Button size="small" loading={newKey.isPending}>
            New courier key
          </Button>
        </Popconfirm>
        <Popconfirm
          title="Make a new link to the page of this desk?"
          description="Whoever works there opens it without an account. The link of before ends; the courier is told the new one."
          okText="Make the link"
          cancelText="Leave it"
          onConfirm={() => newDesk.mutate(undefined)}
        >
          <Button size="small" loading={newDesk.isPending}>
            New desk link
          </Button>
        </Popconfirm>
        <Popconfirm
          title={`Retire ${name}?`}
          description="Its courier’s key ends with it. What stood there keeps its history."
          okText="Retire it"
          cancelText="Leave it"
          onConfirm={() => retire.mutate(undefined)}
        >
          <Button size="small" loading={retire.isPending}>
            Retire workstation
          </Button>
        </Popconfirm>
      </span>
      {desk && (
        <p style={{ marginTop: 10 }}>
          <span className="fig" style={{ whiteSpace: 'normal', overflowWrap: 'anywhere' }}>
            {desk}
          </span>{' '}
          <CopyText what="The link is" text={desk} label="Copy link" />
        </p>
      )}
    </Modal>
  )
}
