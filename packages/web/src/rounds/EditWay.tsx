import { InputNumber, Segmented, Select } from 'antd'
import { useState } from 'react'
import type { RoundsHouse } from '@bichroma/contract'
import { HouseForm } from './HouseForm'
import { useHouseSend } from './useHouseSend'

type Way = RoundsHouse['between'][number]

/** Minutes between two rooms or two buildings, where they are not as usual. */
export function EditWay({ house, way: known, onClose }: { house: RoundsHouse; way: Way | null; onClose: () => void }) {
  const buildings = [...new Set(house.rooms.flatMap((r) => r.building ?? []))]
  const [kind, setKind] = useState<Way['kind']>(known?.kind ?? 'room')
  const [a, setA] = useState(known?.a)
  const [b, setB] = useState(known?.b)
  const [minutes, setMinutes] = useState(known?.minutes ?? house.walk.rooms)
  const { send, pending, refused } = useHouseSend('/rounds/ways', onClose)
  const things =
    kind === 'room'
      ? house.rooms.map((r) => ({ value: String(r.id), label: r.name }))
      : buildings.map((name) => ({ value: name, label: name }))
  const choice = (label: string, value: string | undefined, put: (value: string) => void) => (
    <Select
      aria-label={label}
      placeholder={label}
      value={value}
      onChange={put}
      options={things}
      disabled={known !== null}
    />
  )
  return (
    <HouseForm
      title="A way"
      save="Save way"
      pending={pending}
      refused={refused}
      mayNot={!a || !b}
      remove={known ? { label: 'As usual', onRemove: () => send({ kind, a, b, minutes: null }) } : undefined}
      onClose={onClose}
      onSave={() => send({ kind, a, b, minutes })}
    >
      {!known && buildings.length > 1 && (
        <Segmented
          block
          value={kind}
          onChange={(value) => {
            setKind(value as Way['kind'])
            setA(undefined)
            setB(undefined)
          }}
          options={[
            { value: 'room', label: 'between rooms' },
            { value: 'building', label: 'between buildings' },
          ]}
        />
      )}
      {choice('From', a, setA)}
      {choice('To', b, setB)}
      <label>
        <span className="small second">Minutes</span>
        <InputNumber aria-label="Minutes" value={minutes} min={0} max={240} onChange={(v) => setMinutes(v ?? 0)} />
      </label>
    </HouseForm>
  )
}
