import { Button } from 'antd'
import { CartesianGrid, Line, LineChart, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { clockIn, dayWords, daysAfter } from '@bichroma/core/rounds'
import { niceTicks } from '@bichroma/core/review'
import { formatTemperature, watchSilenceMs } from '@bichroma/core/aims'
import type { LightDay, Room } from '@bichroma/contract'
import { axis, grid, label, measuredLine, tooltip } from '../../charts/chartStyle'
import { Plane } from '../../parts/Plane'
import { curveOf } from './curveOf'

/** One day of a room's light: illuminance over its wanted band, temperature below, and when it was out. */
export function DayLight({ day, room, onDate }: { day: LightDay; room: Room; onDate: (date: string) => void }) {
  const { date, zone, from, until, times } = day
  const points = curveOf(day, room.watch ? watchSilenceMs : Infinity)
  const toldOf = (t: LightDay['times'][number]) => {
    const begins = clockIn(Math.max(t.from, from), zone)
    const ends = t.until === null ? 'now' : clockIn(Math.min(t.until, until), zone)
    return `${begins === ends ? begins : `${begins}–${ends}`}: ${t.problem}${t.told ? ', told' : ''}`
  }
  const hours = Array.from({ length: 9 }, (_, i) => from + ((until - from) * i) / 8)
  const { light } = room
  const lux = niceTicks(0, Math.max(...points.map((p) => p.lux ?? 0), light?.lux.to ?? 0, 10))
  const kelvins = points.flatMap((p) => (p.kelvin === null ? [] : [p.kelvin]))
  const [low, high] = [
    Math.min(...kelvins, light?.kelvin?.from ?? Infinity),
    Math.max(...kelvins, light?.kelvin?.to ?? -Infinity),
  ]
  const kelvin = kelvins.length ? niceTicks(low - 200, high + 200) : []
  const time = {
    dataKey: 'at',
    type: 'number',
    domain: [from, until],
    ticks: hours,
    minTickGap: 14,
    tickFormatter: (at: number) => (at === until ? '24:00' : clockIn(at, zone)),
    ...axis,
  } as const
  const told = {
    ...tooltip,
    labelFormatter: (at: unknown) => clockIn(Number(at), zone),
  }
  return (
    <Plane
      title={
        <span className="daynav">
          <Button size="small" aria-label="The day before" onClick={() => onDate(daysAfter(date, -1))}>
            ←
          </Button>
          {dayWords(date)}
          <Button size="small" aria-label="The day after" onClick={() => onDate(daysAfter(date, 1))}>
            →
          </Button>
        </span>
      }
      aside={
        points.length
          ? day.readings.length
            ? `${day.readings.length} readings; shaded: as it is wanted`
            : 'one point an hour: readings are kept for a month'
          : undefined
      }
    >
      {points.length ? (
        <div className="inside">
          <ResponsiveContainer width="100%" height={196}>
            <LineChart data={points} margin={{ top: 10, right: 16, bottom: 0, left: -4 }}>
              <CartesianGrid {...grid} />
              {light && <ReferenceArea y1={light.lux.from} y2={light.lux.to} fill="var(--line)" fillOpacity={0.5} />}
              {times.map((t) => (
                <ReferenceArea
                  key={t.from}
                  x1={Math.max(t.from, from)}
                  x2={Math.min(t.until ?? points[points.length - 1].at, until)}
                  fill="var(--ochre)"
                  fillOpacity={0.16}
                />
              ))}
              <XAxis {...time} />
              <YAxis
                domain={[0, lux[lux.length - 1]]}
                ticks={lux}
                {...axis}
                label={{ value: 'lx', angle: -90, position: 'insideLeft', offset: 16, ...label }}
              />
              <Tooltip {...told} formatter={(v) => [`${Number(v).toFixed(0)} lx`, 'light']} />
              <Line {...measuredLine} dataKey="lux" connectNulls={false} dot={points.length < 30 ? dot : false} />
            </LineChart>
          </ResponsiveContainer>
          {kelvin.length > 0 && (
            <ResponsiveContainer width="100%" height={104}>
              <LineChart data={points} margin={{ top: 6, right: 16, bottom: 0, left: -4 }}>
                <CartesianGrid {...grid} />
                {light?.kelvin && (
                  <ReferenceArea y1={light.kelvin.from} y2={light.kelvin.to} fill="var(--line)" fillOpacity={0.5} />
                )}
                <XAxis {...time} tick={false} height={6} />
                <YAxis
                  domain={[kelvin[0], kelvin[kelvin.length - 1]]}
                  ticks={kelvin}
                  {...axis}
                  label={{ value: 'K', angle: -90, position: 'insideLeft', offset: 16, ...label }}
                />
                <Tooltip {...told} formatter={(v) => [formatTemperature(Number(v)), 'temperature']} />
                <Line {...measuredLine} dataKey="kelvin" connectNulls={false} dot={points.length < 30 ? dot : false} />
              </LineChart>
            </ResponsiveContainer>
          )}
          {times.length > 0 && (
            <ul className="lighttimes">
              {times.map((t) => (
                <li key={t.from} className={t.told ? 'asks' : 'second'}>
                  {toldOf(t)}
                </li>
              ))}
            </ul>
          )}
        </div>
      ) : (
        <p className="none">Nobody read the light on this day.</p>
      )}
    </Plane>
  )
}

const dot = { r: 2.2, fill: 'var(--text)', strokeWidth: 0 }
