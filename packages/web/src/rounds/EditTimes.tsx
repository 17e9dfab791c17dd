import { Checkbox, Segmented, Select } from 'antd'
import { useState } from 'react'
import { useTimeLabels, useTimeNames, type UseTime } from '@bichroma/core/rounds'
import type { RoundsHouse, UseLevel } from '@bichroma/contract'
import { WorkstationPicker } from '../parts/Picker'
import { HouseForm } from './HouseForm'
import { useHouseSend } from './useHouseSend'

/** When workstations may be used: of a room, of one, or everywhere else. */
export function EditTimes({
  house,
  times: known,
  onClose,
}: {
  house: RoundsHouse
  times: RoundsHouse['times'][number] | null
  onClose: () => void
}) {
  const [level, setLevel] = useState<UseLevel>(known?.level ?? 'room')
  const [of, setOf] = useState<number | null>(known?.of || null)
  const [times, setTimes] = useState<readonly UseTime[]>(known?.times ?? ['before', 'desk', 'after'])
  const { send, pending, refused } = useHouseSend('/rounds/times', onClose)
  const subject = { level, ...(level !== 'studio' && { of }) }
  return (
    <HouseForm
      title={known ? `When workstations of ${known.name} may be used` : 'When workstations may be used'}
      save="Save times"
      pending={pending}
      refused={refused}
      mayNot={level !== 'studio' && of === null}
      remove={known ? { label: 'As further out', onRemove: () => send({ ...subject, times: null }) } : undefined}
      onClose={onClose}
      onSave={() => send({ ...subject, times })}
    >
      {!known && (
        <Segmented
          block
          value={level}
          onChange={(value) => {
            setLevel(value as UseLevel)
            setOf(null)
          }}
          options={[
            { value: 'room', label: 'a room' },
            { value: 'workstation', label: 'a workstation' },
            { value: 'studio', label: 'everywhere else' },
          ]}
        />
      )}
      {!known && level === 'room' && (
        <Select
          aria-label="Room"
          placeholder="Which room"
          value={of}
          onChange={setOf}
          options={house.rooms.map((r) => ({ value: r.id, label: r.name }))}
        />
      )}
      {!known && level === 'workstation' && (
        <WorkstationPicker
          placeholder="Which workstation"
          value={of ?? undefined}
          onChange={(id: number) => setOf(id)}
        />
      )}
      <Checkbox.Group
        value={[...times]}
        onChange={(value) => setTimes(value as UseTime[])}
        options={useTimeNames.map((value) => ({ value, label: useTimeLabels[value] }))}
        style={{ display: 'grid', gap: 6 }}
      />
    </HouseForm>
  )
}
