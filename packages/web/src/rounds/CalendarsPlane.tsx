import { Button, Select } from 'antd'
import { useState } from 'react'
import type { FeedKind, LinkListing, RoundsHouse } from '@bichroma/contract'
import { CopyText } from '../access/CopyText'
import { ask } from '../api/client'
import { useLinks, useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'

const kindWords: Readonly<Record<FeedKind, string>> = { person: 'person', room: 'room', instrument: 'instrument' }

/** Calendars for other programs: each has a link that nobody can guess, told once, and ends when it is taken away. */
export function CalendarsPlane({ house }: { house: RoundsHouse }) {
  const account = useSession().data?.account
  const admin = account?.role === 'administrator'
  const links = useLinks().data ?? []
  const [of, setOf] = useState<string | null>(null)
  const [made, setMade] = useState<string | null>(null)
  const make = useSend(async (subject: string) => {
    const [kind, id] = subject.split(' ')
    const { token } = await ask<{ token: string }>('POST', '/links', { kind, of: Number(id) })
    setMade(`${window.location.origin}/api/feeds/${token}.ics`)
  })
  const end = useSend((link: LinkListing) => ask('DELETE', `/links/${link.id}`))
  const own = house.people.filter((p) => p.goes && (admin || p.id === account?.id))
  const options = [
    { label: 'People', options: own.map((p) => ({ value: `person ${p.id}`, label: p.name })) },
    ...(admin
      ? [
          { label: 'Rooms', options: house.rooms.map((r) => ({ value: `room ${r.id}`, label: r.name })) },
          {
            label: 'Instruments',
            options: house.instruments.map((i) => ({ value: `instrument ${i.id}`, label: i.name })),
          },
        ]
      : []),
  ]
  if (!admin && !own.length) return null
  return (
    <Plane title="Calendars for other programs" style={{ marginTop: 14 }}>
      <div className="inside">
        {made ? (
          <>
            <p className="second">This link is told once. Whoever has it sees these visits, and nothing else.</p>
            <p className="fig" style={{ whiteSpace: 'normal', overflowWrap: 'anywhere', margin: '6px 0' }}>
              {made}
            </p>
            <CopyText what="The link is" text={made} label="Copy link" />{' '}
            <Button size="small" onClick={() => setMade(null)}>
              I have it
            </Button>
          </>
        ) : (
          <span style={{ display: 'flex', gap: 8 }}>
            <Select
              aria-label="Calendar of"
              placeholder="Of whom or what"
              value={of}
              onChange={setOf}
              options={options}
              style={{ flex: 1 }}
            />
            <Button disabled={of === null} loading={make.isPending} onClick={() => make.mutate(of!)}>
              Make a link
            </Button>
          </span>
        )}
      </div>
      <ul className="waylist">
        {links.map((l) => (
          <li key={l.id}>
            <span>
              {l.name}{' '}
              <span className="small quiet">
                {kindWords[l.kind]}, given {formatDay(l.madeAt)} by {l.madeBy}
              </span>
            </span>
            <Button size="small" onClick={() => end.mutate(l)}>
              End link
            </Button>
          </li>
        ))}
      </ul>
    </Plane>
  )
}
