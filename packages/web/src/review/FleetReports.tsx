import { DatePicker, Dropdown, Button, Modal, Segmented, Select, type MenuProps } from 'antd'
import dayjs, { type Dayjs } from 'dayjs'
import { useState } from 'react'
import { useRooms, useSession } from '../api/queries'
import { StudioSigns } from './StudioSigns'

type Form = 'html' | 'pdf' | 'csv'

/** Reports of more than one display: the fleet on a date, and everything of a room as one ZIP. */
export function FleetReports() {
  const [ofRoom, setOfRoom] = useState(false)
  const [asking, setAsking] = useState(false)
  const [signs, setSigns] = useState(false)
  const admin = useSession().data?.account?.role === 'administrator'
  const items: MenuProps['items'] = [
    { key: 'fleet', label: 'State of the fleet on a date…', onClick: () => setAsking(true) },
    { type: 'divider' },
    { key: 'room', label: 'All newest reports of a room…', onClick: () => setOfRoom(true) },
    ...(admin
      ? [
          { type: 'divider' as const },
          { key: 'signs', label: 'Studio’s name and logo…', onClick: () => setSigns(true) },
        ]
      : []),
  ]
  return (
    <>
      <Dropdown trigger={['click']} menu={{ items }}>
        <Button>Reports</Button>
      </Dropdown>
      {ofRoom && <RoomReports onClose={() => setOfRoom(false)} />}
      {asking && <FleetDate onClose={() => setAsking(false)} />}
      {signs && <StudioSigns onClose={() => setSigns(false)} />}
    </>
  )
}

/** Everything of a room as one ZIP. */
function RoomReports({ onClose }: { onClose: () => void }) {
  const rooms = useRooms().data ?? []
  const [room, setRoom] = useState<number | undefined>()
  return (
    <Modal
      open
      title="All newest reports of a room"
      okText="Save as ZIP"
      cancelText="Not now"
      okButtonProps={{ disabled: room === undefined }}
      onCancel={onClose}
      onOk={() => {
        window.open(`/api/rooms/${room}/reports`, '_blank', 'noopener')
        onClose()
      }}
    >
      <Select
        aria-label="Room"
        showSearch={{ optionFilterProp: 'label' }}
        placeholder="Choose the room"
        style={{ width: '100%', margin: '8px 0' }}
        value={room}
        onChange={setRoom}
        options={rooms.map((r) => ({ value: r.id, label: r.name }))}
      />
    </Modal>
  )
}

function FleetDate({ onClose }: { onClose: () => void }) {
  const [on, setOn] = useState<Dayjs>(dayjs())
  const [form, setForm] = useState<Form>('pdf')
  return (
    <Modal
      open
      title="State of the fleet on a date"
      okText={form === 'html' ? 'Open report' : 'Save report'}
      cancelText="Not now"
      onCancel={onClose}
      onOk={() => {
        window.open(`/api/reports/fleet?as=${form}&on=${on.format('YYYY-MM-DD')}`, '_blank', 'noopener')
        onClose()
      }}
    >
      <div style={{ display: 'flex', gap: 12, padding: '8px 0' }}>
        <DatePicker
          aria-label="Date"
          value={on}
          onChange={(value) => setOn(value ?? dayjs())}
          disabledDate={(d) => d.isAfter(dayjs(), 'day')}
          format="D MMM YYYY"
          allowClear={false}
        />
        <Segmented<Form>
          aria-label="Form of the report"
          value={form}
          onChange={setForm}
          options={[
            { value: 'pdf', label: 'PDF' },
            { value: 'html', label: 'web page' },
            { value: 'csv', label: 'CSV' },
          ]}
        />
      </div>
    </Modal>
  )
}
