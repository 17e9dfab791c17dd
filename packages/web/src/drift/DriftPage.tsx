import { Select, Table } from 'antd'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { formatSigned, type Forecast } from '@bichroma/core'
import type { FleetDrift, SlotOutlook } from '@bichroma/contract'
import { useFleetDrift } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { VerdictSign } from '../parts/VerdictSign'
import { FleetGroups } from './FleetGroups'
import { Horizon, HorizonScale } from './Horizon'
import { InstrumentStandings } from './InstrumentStandings'
import './drift.css'

/** How displays change over months, and when they will leave their limits. */
export function DriftPage() {
  return <Loaded query={useFleetDrift()}>{(fleet) => <Fleet fleet={fleet} />}</Loaded>
}

/** When a slot leaves its limits, in few words. */
export function forecastWords(forecast: Forecast | null, now = Date.now()): string {
  if (!forecast) return 'no rule decides'
  switch (forecast.kind) {
    case 'past':
      return 'past, by its trend'
    case 'steady':
      return 'not within five years'
    case 'not enough history':
      return `after ${4 - forecast.observations} more ${forecast.observations === 3 ? 'check' : 'checks'}`
    case 'crosses':
      return forecast.at <= now ? 'about now' : formatDay(forecast.at, now)
  }
}

function Fleet({ fleet }: { fleet: FleetDrift }) {
  const navigate = useNavigate()
  const [room, setRoom] = useState<string | null>(null)
  const rooms = useMemo(() => [...new Set(fleet.slots.map((s) => s.room))].sort(), [fleet])
  const shown = useMemo(() => fleet.slots.filter((s) => room === null || s.room === room), [fleet, room])
  const [now] = useState(Date.now)
  const open = (s: SlotOutlook) => void navigate(`/drift/${s.displayId}?slot=${s.slot}`)
  const soon = shown.filter(
    ({ forecast: f }) => f?.kind === 'past' || (f?.kind === 'crosses' && f.at < now + 60 * 86_400_000),
  ).length
  return (
    <>
      <div className="top">
        <div>
          <h1>Drift</h1>
          <p>
            {shown.length} slots;{' '}
            {soon === 0 ? 'none leaves its' : soon === 1 ? 'one leaves its' : `${soon} leave their`} limits within 60
            days, if all go on as they have
          </p>
        </div>
        <div className="acts">
          <Select
            aria-label="Room"
            value={room ?? ''}
            onChange={(value) => setRoom(value || null)}
            style={{ width: 180 }}
            options={[{ value: '', label: 'all rooms' }, ...rooms.map((value) => ({ value, label: value }))]}
          />
        </div>
      </div>
      <div className="driftpage">
        <Plane>
          <Table<SlotOutlook>
            size="small"
            virtual
            scroll={{ y: 566 }}
            rowKey={(s) => `${s.displayId} ${s.slot}`}
            dataSource={shown}
            pagination={false}
            locale={{ emptyText: 'No slot has been validated yet. A trend needs four checks.' }}
            onRow={(s) => ({
              className: 'goes',
              tabIndex: 0,
              onClick: () => open(s),
              onKeyDown: (e) => e.key === 'Enter' && open(s),
            })}
            columns={[
              {
                title: 'Slot',
                width: 182,
                render: (_, s) => (
                  <span className="oneline">
                    <b style={{ fontWeight: 500, marginRight: 8 }}>{s.displayName}</b>
                    <span className="fig">{s.slot}</span> <span className="second">{s.label}</span>
                  </span>
                ),
              },
              {
                title: <HorizonScale now={now} />,
                width: 176,
                render: (_, s) => <Horizon forecast={s.forecast} now={now} />,
              },
              {
                title: 'Leaves limits',
                width: 116,
                render: (_, s) => (
                  <span className={s.forecast?.kind === 'past' ? 'asks oneline' : 'oneline'}>
                    {forecastWords(s.forecast, now)}
                  </span>
                ),
              },
              {
                title: 'By',
                width: 122,
                render: (_, s) => (
                  <span className="second oneline" title={s.rule ?? undefined}>
                    {s.forecast?.kind === 'crosses' || s.forecast?.kind === 'past' ? s.rule : '–'}
                  </span>
                ),
              },
              {
                title: 'ΔE now',
                width: 70,
                align: 'right',
                render: (_, s) => (
                  <span className="fig">
                    <VerdictSign verdict={s.verdict} size={10} /> {s.averageDeltaE.toFixed(2)}
                  </span>
                ),
              },
              {
                title: 'Light',
                width: 62,
                align: 'right',
                render: (_, s) => <span className="fig">{formatSigned(s.luminanceOff, 1)} %</span>,
              },
            ]}
          />
        </Plane>
        <div className="side">
          <FleetGroups groups={fleet.groups} />
          <InstrumentStandings instruments={fleet.instruments} />
        </div>
      </div>
    </>
  )
}
