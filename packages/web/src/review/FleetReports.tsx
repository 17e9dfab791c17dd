import { DatePicker, Dropdown, Button, Modal, Segmented, type MenuProps } from 'antd'
import dayjs, { type Dayjs } from 'dayjs'
import { useState } from 'react'
import { useRooms, useSession } from '../api/queries'
import { StudioSigns } from './StudioSigns'

type Form = 'html' | 'pdf' | 'csv'

/** Reports of more than one display: the fleet on a date, and everything of a room as one ZIP. */
export function FleetReports() {
  const rooms = useRooms().data ?? []
  const [asking, setAsking] = useState(false)
  const [signs, setSigns] = useState(false)
  const admin = useSession().data?.account?.role === 'administrator'
  const items: MenuProps['items'] = [
    { key: 'fleet', label: 'State of the fleet on a date…', onClick: () => setAsking(true) },
    { type: 'divider' },
    ...rooms.map((room) => ({
      key: `room ${room.id}`,
      label: <a href={`/api/rooms/${room.id}/reports`}>{room.name}, all newest reports as ZIP</a>,
    })),
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
      {asking && <FleetDate onClose={() => setAsking(false)} />}
      {signs && <StudioSigns onClose={() => setSigns(false)} />}
    </>
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
