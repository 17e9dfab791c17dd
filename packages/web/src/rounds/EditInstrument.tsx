import { Segmented, Select } from 'antd'
import { useState } from 'react'
import type { RoundsHouse, RoundsInstrumentListing } from '@bichroma/contract'
import { DisplayPicker } from '../parts/Picker'
import { HouseForm } from './HouseForm'
import { useHouseSend } from './useHouseSend'

type Keeping = 'lies' | 'carried' | 'hangs'

/** Where an instrument lies, who has it with them always, or the display at which it hangs for good. */
export function EditInstrument({
  house,
  instrument,
  onClose,
}: {
  house: RoundsHouse
  instrument: RoundsInstrumentListing
  onClose: () => void
}) {
  const [keeping, setKeeping] = useState<Keeping>(
    instrument.hangsAt !== null ? 'hangs' : instrument.carrierId !== null ? 'carried' : 'lies',
  )
  const [roomId, setRoom] = useState(instrument.roomId)
  const [carrierId, setCarrier] = useState(instrument.carrierId)
  const [hangsAt, setHangs] = useState(instrument.hangsAt)
  const { send, pending, refused } = useHouseSend(`/rounds/instruments/${instrument.id}`, onClose)
  return (
    <HouseForm
      title={instrument.name}
      save="Save instrument"
      pending={pending}
      refused={refused}
      mayNot={(keeping === 'carried' && carrierId === null) || (keeping === 'hangs' && hangsAt === null)}
      onClose={onClose}
      onSave={() =>
        send({
          roomId,
          carrierId: keeping === 'carried' ? carrierId : null,
          hangsAt: keeping === 'hangs' ? hangsAt : null,
        })
      }
    >
      <Segmented
        block
        value={keeping}
        onChange={(value) => setKeeping(value as Keeping)}
        options={[
          { value: 'lies', label: 'lies in a room' },
          { value: 'carried', label: 'is with somebody' },
          { value: 'hangs', label: 'hangs at a display' },
        ]}
      />
      {keeping === 'lies' && (
        <Select
          aria-label="Room"
          value={roomId ?? 0}
          onChange={(id) => setRoom(id || null)}
          options={[
            { value: 0, label: 'where it was seen last' },
            ...house.rooms.map((r) => ({ value: r.id, label: r.name })),
          ]}
        />
      )}
      {keeping === 'carried' && (
        <Select
          aria-label="Carrier"
          placeholder="Whose it is"
          value={carrierId}
          onChange={setCarrier}
          options={house.people.filter((p) => p.goes).map((p) => ({ value: p.id, label: p.name }))}
        />
      )}
      {keeping === 'hangs' && (
        <DisplayPicker placeholder="Which display" value={hangsAt ?? undefined} onChange={(id) => setHangs(id)} />
      )}
    </HouseForm>
  )
}
