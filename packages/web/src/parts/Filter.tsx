import { Select } from 'antd'
import { useRooms } from '../api/queries'

interface Props {
  label: string
  value: string
  /** What stands for no filter. */
  all: string
  options: readonly { value: string; label: string }[]
  onChange: (value: string) => void
}

/** One filter of a list; says what is shown now. */
export function Filter({ label, value, all, options, onChange }: Props) {
  return (
    <Select
      aria-label={label}
      value={value}
      onChange={onChange}
      showSearch={options.length > 12 ? { optionFilterProp: 'label' } : undefined}
      popupMatchSelectWidth={false}
      options={[{ value: '', label: all }, ...options]}
    />
  )
}

/** The room that a list is of. */
export function RoomFilter({ value, onChange }: { value: string; onChange: (room: string) => void }) {
  const rooms = useRooms().data ?? []
  return (
    <Filter
      label="Room"
      all="all rooms"
      value={value}
      onChange={onChange}
      options={rooms.map((r) => ({ value: String(r.id), label: r.name }))}
    />
  )
}
