import { Button, Checkbox, Input, InputNumber, Segmented, Select } from 'antd'
import { useState } from 'react'
import type { RoundsHouse, RoundsPersonListing } from '@bichroma/contract'
import { HouseForm } from './HouseForm'
import { useHouseSend } from './useHouseSend'
import { WeekForm } from './WeekForm'

/** Whether somebody goes to displays, when, from where, and the days on which they are away. */
export function EditPerson({
  house,
  person,
  onClose,
}: {
  house: RoundsHouse
  person: RoundsPersonListing
  onClose: () => void
}) {
  const { id, name, ...known } = person
  const [value, setValue] = useState(known)
  const { send, pending, refused } = useHouseSend(`/rounds/people/${id}`, onClose)
  const put = (change: Partial<typeof value>) => setValue({ ...value, ...change })
  return (
    <HouseForm
      title={`Rounds of ${name}`}
      save="Save person"
      pending={pending}
      refused={refused}
      onClose={onClose}
      onSave={() => send(value)}
    >
      <div>
        <Checkbox checked={value.goes} onChange={(e) => put({ goes: e.target.checked })}>
          Goes to displays
        </Checkbox>
      </div>
      {value.goes && (
        <>
          <label>
            <span className="small second">Days begin and end in</span>
            <Select
              aria-label="Room"
              value={value.roomId ?? 0}
              onChange={(room) => put({ roomId: room || null })}
              options={[
                { value: 0, label: 'where instruments lie' },
                ...house.rooms.map((r) => ({ value: r.id, label: r.name })),
              ]}
            />
          </label>
          <label>
            <span className="small second">Mail for the day’s tour, sent in the morning</span>
            <Input
              aria-label="Mail"
              value={value.mail ?? ''}
              placeholder="none"
              onChange={(e) => put({ mail: e.target.value.trim() || null })}
            />
          </label>
          <label>
            <span className="small second">Carries at once, instruments</span>
            <InputNumber aria-label="Carries" value={value.carries} onChange={(v) => put({ carries: v ?? 1 })} />
          </label>
          <Segmented
            value={value.week ? 'own' : 'desk'}
            onChange={(which) => put({ week: which === 'own' ? [...house.hours.desk] : null })}
            options={[
              { value: 'desk', label: 'works desk hours' },
              { value: 'own', label: 'has a week of their own' },
            ]}
          />
          {value.week && <WeekForm week={value.week} onChange={(week) => put({ week })} />}
          <div className="offlist">
            <span className="small second">Days away, first and last</span>
            {value.off.map((o, n) => {
              const change = (c: Partial<typeof o>) =>
                put({ off: value.off.map((d, m) => (m === n ? { ...d, ...c } : d)) })
              return (
                <div key={n}>
                  <Input
                    aria-label={`Away ${n + 1}, first day`}
                    type="date"
                    value={o.from}
                    onChange={(e) => change({ from: e.target.value })}
                  />
                  <Input
                    aria-label={`Away ${n + 1}, last day`}
                    type="date"
                    value={o.to}
                    onChange={(e) => change({ to: e.target.value })}
                  />
                  <Input
                    aria-label={`Away ${n + 1}, why`}
                    value={o.why}
                    placeholder="why"
                    onChange={(e) => change({ why: e.target.value })}
                  />
                  <Button onClick={() => put({ off: value.off.filter((_, m) => m !== n) })}>Remove</Button>
                </div>
              )
            })}
            <Button
              style={{ justifySelf: 'start' }}
              onClick={() => put({ off: [...value.off, { from: '', to: '', why: '' }] })}
            >
              Add days away
            </Button>
          </div>
        </>
      )}
    </HouseForm>
  )
}
