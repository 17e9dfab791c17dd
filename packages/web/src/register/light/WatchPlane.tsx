import { Button, Select } from 'antd'
import { useState } from 'react'
import { roleCovers, type Room, type RoomWatch, type Workstation } from '@bichroma/contract'
import { ask } from '../../api/client'
import { useList } from '../../api/lists'
import { useInstruments, useRooms, useSend, useSession } from '../../api/queries'
import { Plane } from '../../parts/Plane'
import { formatDay, formatMoment } from '../../parts/times'

/** What keeps an instrument from reading, and what to do. */
function stateWords({ state, says, instrument, stateSince }: RoomWatch, room: string): string | null {
  const since = formatMoment(stateSince)
  switch (state) {
    case 'reading':
      return null
    case 'in a run':
      return `A run has ${instrument} since ${since}. Afterwards lay it back, its diffuser in front.`
    case 'elsewhere':
      return `${instrument} is at ${says} since ${since}. Bring it back to ${room}.`
    case 'away':
      return `${instrument} is not plugged in since ${since}. Plug it into a workstation in ${room}.`
    case 'refused':
      return `${instrument} does not read since ${since}: ${says}`
  }
}

/** What watches a room's light, and leaving an instrument there or ending that. */
export function WatchPlane({ room }: { room: Room }) {
  const { watch } = room
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'technician')
  const [said, setSaid] = useState<string | null>(null)
  const refused = (problem: Error) => setSaid(problem.message)
  const end = useSend(() => ask('DELETE', `/rooms/${room.id}/watch`), refused)
  const wrong = watch && stateWords(watch, room.name)
  return (
    <Plane title="Watched" aside={watch ? 'every five minutes' : 'by nothing'}>
      <div className="inside">
        {watch ? (
          <>
            <p>
              {watch.instrument}{' '}
              <span className="second">
                since {formatDay(watch.since)}, by {watch.by}
              </span>
            </p>
            {wrong && (
              <p className="asks" style={{ marginTop: 4 }}>
                {wrong}
              </p>
            )}
            {watch.out && (
              <p className={watch.standing === 'out too long' ? 'asks' : 'second'} style={{ marginTop: 4 }}>
                Out since {formatMoment(watch.out.since)}, at worst {watch.out.problem}.
                {watch.standing === 'out too long' &&
                  ` The desks are told, and ${room.holdsRuns === 'all' ? 'runs in this room' : 'runs that need the light'} wait.`}
              </p>
            )}
            {may && (
              <Button
                size="small"
                style={{ marginTop: 8 }}
                loading={end.isPending}
                onClick={() => end.mutate(undefined)}
              >
                End the watch
              </Button>
            )}
          </>
        ) : (
          <p className="second">
            Lay an instrument on a desk here, its diffuser in front: it reads the light every five minutes, and runs may
            take it away and give it back.
          </p>
        )}
        {may && !watch && <LeaveOne room={room} onRefused={refused} />}
        {said && (
          <p className="asks" role="alert" style={{ marginTop: 6 }}>
            {said}
          </p>
        )}
      </div>
    </Plane>
  )
}

function LeaveOne({ room, onRefused }: { room: Room; onRefused: (problem: Error) => void }) {
  const instruments = useInstruments().data ?? []
  const watching = new Set((useRooms().data ?? []).map((r) => r.watch?.instrumentId))
  // Where instruments are plugged in; those are few.
  const here = useList<Workstation>('/workstations', { courier: 'online', room: room.id, limit: 200 }).items
  const [chosen, choose] = useState<number | null>(null)
  const leave = useSend((instrumentId: number) => ask('POST', `/rooms/${room.id}/watch`, { instrumentId }), onRefused)
  const free = instruments.filter((i) => !watching.has(i.id))
  const isHere = (i: (typeof free)[number]) => here.some((w) => w.id === i.workstationId)
  const id = chosen ?? free.find(isHere)?.id ?? null
  if (!free.length) return <p className="quiet">No instrument is free for it.</p>
  return (
    <span style={{ display: 'flex', gap: 8, marginTop: 8 }}>
      <Select
        aria-label="Instrument"
        placeholder="Which instrument"
        value={id}
        onChange={choose}
        style={{ flex: 1 }}
        options={free.map((i) => ({
          value: i.id,
          label: `${i.model} ${i.serial}${isHere(i) ? `, at ${i.workstation}` : ''}`,
        }))}
      />
      <Button disabled={id === null} loading={leave.isPending} onClick={() => leave.mutate(id!)}>
        Leave it here
      </Button>
    </span>
  )
}
