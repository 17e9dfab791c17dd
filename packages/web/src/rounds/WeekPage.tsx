import { App, Button, Segmented, Select } from 'antd'
import { useState } from 'react'
import { dayWords, daysAfter } from '@bichroma/core/rounds'
import { roleCovers, type PlanStanding, type Visit, type Week } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession, useWeek } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { useAddress } from '../parts/useAddress'
import { CapacityPlane } from './CapacityPlane'
import { ReportsPlane } from './ReportsPlane'
import { RoundsTop } from './RoundsTop'
import { UnplannedPlane } from './UnplannedPlane'
import { VisitPlane } from './VisitPlane'
import { WeekGrid } from './WeekGrid'
import { rowKinds, type RowKind } from './weekRows'

/** Who goes where with which instrument, when: planned, moved, told. */
export function WeekPage() {
  const [asked, askFor] = useAddress(['from', 'day', 'rows'])
  return (
    <Loaded query={useWeek(asked.from ?? '')}>
      {(week) => <WeekView week={week} asked={asked} askFor={askFor} />}
    </Loaded>
  )
}

function WeekView({
  week,
  asked,
  askFor,
}: {
  week: Week
  asked: Partial<Record<'from' | 'day' | 'rows', string>>
  askFor: (change: Partial<Record<'from' | 'day' | 'rows', string>>) => void
}) {
  const { message } = App.useApp()
  const role = useSession().data?.account?.role ?? 'viewer'
  const admin = role === 'administrator'
  const [days, setDays] = useState(7)
  const [chosenId, choose] = useState<number | null>(null)
  const rows = (rowKinds as readonly string[]).includes(asked.rows ?? '') ? (asked.rows as RowKind) : 'people'
  const day = asked.day || null
  const make = useSend((count: number) => ask<{ plan: PlanStanding }>('POST', '/rounds/plan', { days: count }))
  const tell = useSend(async () => {
    const { told } = await ask<{ told: number }>('POST', '/rounds/told')
    void message.success(told === 1 ? 'One visit was told.' : `${told} visits were told.`)
  })
  const move = useSend(
    ({ visit, ...to }: { visit: Visit; at: number; personId: number | null; instrumentId: number }) =>
      ask('PUT', `/visits/${visit.id}`, to),
  )
  const first = week.days[0].date
  const step = (by: number) => askFor({ from: daysAfter(first, by), day: '' })
  const chosen = week.visits.find((v) => v.id === chosenId) ?? null
  return (
    <>
      <RoundsTop title={heading(week.plan)}>
        {admin && (
          <>
            {week.plan !== null && week.plan.untold > 0 && (
              <Button loading={tell.isPending} onClick={() => tell.mutate(undefined)}>
                Tell {week.plan.untold} {week.plan.untold === 1 ? 'visit' : 'visits'}
              </Button>
            )}
            <Select
              aria-label="Days to plan"
              value={days}
              onChange={setDays}
              options={[7, 14, 28].map((n) => ({ value: n, label: `${n} days` }))}
            />
            <Button type="primary" loading={make.isPending} onClick={() => make.mutate(days)}>
              {week.plan ? 'Plan anew' : 'Plan rounds'}
            </Button>
          </>
        )}
      </RoundsTop>
      <div className="weektools">
        <Segmented
          aria-label="Rows"
          value={rows}
          onChange={(value) => askFor({ rows: value === 'people' ? '' : value })}
          options={[...rowKinds]}
        />
        <span className="stepper">
          <Button
            size="small"
            onClick={() => (day ? askFor({ day: daysAfter(day, -1) }) : step(-7))}
            aria-label="Before"
          >
            ←
          </Button>
          <span>
            {day ? (
              <>
                {dayWords(day)}{' '}
                <Button size="small" type="link" onClick={() => askFor({ day: '' })}>
                  Show the week
                </Button>
              </>
            ) : (
              `${dayWords(first)} – ${dayWords(week.days[6].date)}`
            )}
          </span>
          <Button size="small" onClick={() => (day ? askFor({ day: daysAfter(day, 1) }) : step(7))} aria-label="After">
            →
          </Button>
          {(asked.from || day) && (
            <Button size="small" type="link" onClick={() => askFor({ from: '', day: '' })}>
              Today on
            </Button>
          )}
        </span>
        <span className="small quiet">
          all times in {week.hours.zone}
          {week.plan?.working ? ' · being planned anew' : ''}
        </span>
      </div>
      <WeekGrid
        week={week}
        rows={rows}
        day={week.days.some((d) => d.date === day) ? day : null}
        chosen={chosenId}
        mayMove={admin && !move.isPending}
        onDay={(next) => askFor({ day: next ?? '' })}
        onChoose={(visit) => choose(visit.id)}
        onMove={(visit, to) => move.mutate({ visit, ...to })}
      />
      <div className="belowweek">
        <VisitPlane
          visit={chosen}
          week={week}
          may={{ start: roleCovers(role, 'technician'), plan: admin }}
          onMove={(visit, to) => move.mutate({ visit, ...to })}
        />
        <div style={{ display: 'grid', gap: 14 }}>
          <ReportsPlane zone={week.hours.zone} may={roleCovers(role, 'technician')} />
          {week.plan !== null && <UnplannedPlane week={week} />}
          {week.plan !== null && <CapacityPlane plan={week.plan} week={week} />}
        </div>
      </div>
    </>
  )
}

/** The question of the week, answered in a sentence. */
function heading(plan: PlanStanding | null): string {
  if (!plan) return 'Nothing is planned yet'
  const { planned, unplanned, late, overdue } = plan
  if (!planned && !unplanned) return 'Nothing falls due'
  const visits = `${planned} ${planned === 1 ? 'visit' : 'visits'} planned`
  if (unplanned) return `${visits}, ${unplanned} without room`
  if (late) return `${visits}, ${late} of them late for want of time`
  return overdue ? `${visits}, ${overdue} overdue by now, the rest in time` : `${visits}, all in time`
}
