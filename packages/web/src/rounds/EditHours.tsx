import { Button, Checkbox, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { RoundsHouse } from '@bichroma/contract'
import { HouseForm } from './HouseForm'
import { useHouseSend } from './useHouseSend'
import { SpanForm, WeekForm } from './WeekForm'

const zones = Intl.supportedValuesOf('timeZone')

/** The studio's hours, closed days, what hands take, and how far it usually is. */
export function EditHours({ house, onClose }: { house: RoundsHouse; onClose: () => void }) {
  const [hours, setHours] = useState(house.hours)
  const [minutes, setMinutes] = useState(house.minutes)
  const [walk, setWalk] = useState(house.walk)
  const [heads, setHeads] = useState(house.heads)
  const { send, pending, refused } = useHouseSend('/rounds/settings', onClose)
  const number = (label: string, value: number, put: (value: number) => void) => (
    <label>
      <span className="small second">{label}</span>
      <InputNumber aria-label={label} value={value} onChange={(v) => put(v ?? 0)} style={{ width: '100%' }} />
    </label>
  )
  return (
    <HouseForm
      title="The studio’s hours"
      save="Save hours"
      pending={pending}
      refused={refused}
      onClose={onClose}
      onSave={() => send({ hours, minutes, walk, heads })}
    >
      <label>
        <span className="small second">Time zone of all times here</span>
        <Select
          aria-label="Time zone"
          showSearch
          value={hours.zone}
          onChange={(zone) => setHours({ ...hours, zone })}
          options={[...new Set([hours.zone, 'UTC', ...zones])].map((value) => ({ value, label: value }))}
        />
      </label>
      <WeekForm week={hours.desk} onChange={(desk) => setHours({ ...hours, desk })} />
      <span>
        <Checkbox
          checked={hours.lunch !== null}
          onChange={(e) => setHours({ ...hours, lunch: e.target.checked ? { from: '12:00', to: '12:45' } : null })}
        >
          Lunch
        </Checkbox>{' '}
        {hours.lunch && <SpanForm of="Lunch" span={hours.lunch} onChange={(lunch) => setHours({ ...hours, lunch })} />}
      </span>
      <div className="offlist">
        <span className="small second">Closed days</span>
        {hours.closed.map((c, n) => {
          const put = (change: Partial<typeof c>) =>
            setHours({ ...hours, closed: hours.closed.map((d, m) => (m === n ? { ...d, ...change } : d)) })
          return (
            <div key={n} style={{ gridTemplateColumns: '128px minmax(0, 1fr) auto' }}>
              <Input
                aria-label={`Closed day ${n + 1}`}
                type="date"
                value={c.date}
                onChange={(e) => put({ date: e.target.value })}
              />
              <Input
                aria-label={`Name of closed day ${n + 1}`}
                value={c.name}
                onChange={(e) => put({ name: e.target.value })}
              />
              <Button onClick={() => setHours({ ...hours, closed: hours.closed.filter((_, m) => m !== n) })}>
                Remove
              </Button>
            </div>
          )
        })}
        <Button
          style={{ justifySelf: 'start' }}
          onClick={() => setHours({ ...hours, closed: [...hours.closed, { date: '', name: 'Closed' }] })}
        >
          Add closed day
        </Button>
      </div>
      <label>
        <span className="small second">Told once a month how well it is kept, by mail</span>
        <Select
          mode="tags"
          aria-label="Heads of department"
          value={heads}
          onChange={setHeads}
          open={false}
          suffixIcon={null}
          tokenSeparators={[',', ' ', ';']}
          placeholder="name@studio.example"
        />
      </label>
      <div className="trio">
        {number('Minutes to seat', minutes.seat, (seat) => setMinutes({ ...minutes, seat }))}
        {number('Minutes to take down', minutes.takeDown, (takeDown) => setMinutes({ ...minutes, takeDown }))}
        {number('Minutes on before', minutes.warm, (warm) => setMinutes({ ...minutes, warm }))}
        {number('Minutes between rooms', walk.rooms, (rooms) => setWalk({ ...walk, rooms }))}
        {number('Minutes between buildings', walk.buildings, (buildings) => setWalk({ ...walk, buildings }))}
      </div>
    </HouseForm>
  )
}
