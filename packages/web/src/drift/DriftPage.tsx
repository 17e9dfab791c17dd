import { useState } from 'react'
import { useNavigate } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import type { Forecast } from '@bichroma/core/drift'
import type { FleetDrift, SlotOutlook } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useFleetDrift } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { Loaded } from '../parts/Loaded'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictSign } from '../parts/VerdictSign'
import { FleetGroups } from './FleetGroups'
import { Horizon, HorizonScale } from './Horizon'
import { InstrumentStandings } from './InstrumentStandings'
import './drift.css'

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

/** How displays change over months, and when they will leave their limits. */
export function DriftPage() {
  const fleet = useFleetDrift()
  const navigate = useNavigate()
  const [asked, askFor] = useAddress(['search', 'room'])
  const list = useList<SlotOutlook>('/drift/slots', asked)
  const [now] = useState(Date.now)
  return (
    <>
      <div className="top">
        <div>
          <h1>Drift</h1>
          <p>
            {fleet.data
              ? soonWords(fleet.data)
              : 'How displays change over months, and when they will leave their limits'}
          </p>
        </div>
      </div>
      <div className="driftpage">
        <Plane title="Slots, the soonest to leave first" aside={countWords(list)}>
          <ListTools label="Find a slot" by="display, model, room or aim" asked={asked} onAsk={askFor} />
          <LongTable
            label="Slots by what their histories foretell"
            list={list}
            keyOf={(s) => `${s.displayId} ${s.slot}`}
            rowHeight={29}
            onOpen={(s) => void navigate(`/drift/${s.displayId}?slot=${s.slot}`)}
            none={
              asked.search || asked.room
                ? 'No slot fits.'
                : 'No slot has been validated yet. A trend needs four checks.'
            }
            columns={[
              {
                title: 'Slot',
                show: (s) => (
                  <span className="oneline">
                    <b style={{ fontWeight: 500, marginRight: 8 }}>{s.displayName}</b>
                    <span className="fig">{s.slot}</span> <span className="second">{s.label}</span>
                  </span>
                ),
              },
              {
                title: <HorizonScale now={now} />,
                width: 136,
                show: (s) => <Horizon forecast={s.forecast} now={now} />,
              },
              {
                title: 'Leaves limits',
                width: 122,
                show: (s) => (
                  <span className={s.forecast?.kind === 'past' ? 'asks oneline' : 'oneline'}>
                    {forecastWords(s.forecast, now)}
                  </span>
                ),
              },
              {
                title: 'By',
                width: 138,
                show: (s) => (
                  <span className="second oneline" title={s.rule ?? undefined}>
                    {s.forecast?.kind === 'crosses' || s.forecast?.kind === 'past' ? s.rule : '–'}
                  </span>
                ),
              },
              {
                title: 'ΔE now',
                width: 78,
                right: true,
                show: (s) => (
                  <span className="fig">
                    <VerdictSign verdict={s.verdict} size={10} /> {s.averageDeltaE.toFixed(2)}
                  </span>
                ),
              },
              {
                title: 'Light',
                width: 78,
                right: true,
                show: (s) => <span className="fig">{formatSigned(s.luminanceOff, 1)} %</span>,
              },
            ]}
          />
        </Plane>
        <div className="side">
          <Loaded query={fleet}>
            {({ groups, instruments, changes }) => (
              <>
                <FleetGroups groups={groups} />
                <InstrumentStandings instruments={instruments} changes={changes} />
              </>
            )}
          </Loaded>
        </div>
      </div>
    </>
  )
}

function soonWords({ slots, soon }: FleetDrift): string {
  const leaving =
    soon === 0 ? 'none leaves its' : soon === 1 ? 'one leaves its' : `${soon.toLocaleString('en')} leave their`
  return `${slots.toLocaleString('en')} slots; ${leaving} limits within 60 days, if all go on as they have`
}
