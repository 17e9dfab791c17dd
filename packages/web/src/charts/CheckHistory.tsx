import dayjs from 'dayjs'
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { niceTicks } from '@bichroma/core/review'
import { runKinds } from '@bichroma/core/runs'
import type { RunSummary } from '@bichroma/contract'
import { axis, grid, label, measuredLine, tooltip } from './chartStyle'

/** Average and worst ΔE2000 of one slot, judgement by judgement; the day of each run that wrote the slot is marked. */
export function CheckHistory({ runs }: { runs: readonly RunSummary[] }) {
  const points = [...runs]
    .sort((a, b) => a.startedAt - b.startedAt)
    .map((r) => ({
      at: r.judged!.at,
      average: r.judged!.averageDeltaE,
      worst: r.judged!.worstDeltaE,
      full: runKinds[r.kind].writes,
    }))
  if (points.length < 2) return <p className="none">A curve begins with the second judgement of this slot.</p>
  const middle = (points[0].at + points[points.length - 1].at) / 2
  const ticks = niceTicks(0, Math.max(...points.map((p) => p.worst)))
  // Steps of a quarter need a digit more than others.
  const digits = ticks.every((t) => Number.isInteger(Math.round(t * 1e6) / 1e5)) ? 1 : 2
  return (
    <ResponsiveContainer width="100%" height={206}>
      <LineChart data={points} margin={{ top: 14, right: 42, bottom: 6, left: -14 }}>
        <CartesianGrid {...grid} />
        <XAxis
          dataKey="at"
          type="number"
          scale="time"
          domain={['dataMin', 'dataMax']}
          tickFormatter={(at: number) => dayjs(at).format('D MMM YY')}
          {...axis}
        />
        <YAxis
          domain={[0, ticks[ticks.length - 1]]}
          ticks={ticks}
          tickFormatter={(v: number) => v.toFixed(digits)}
          {...axis}
        />
        <Tooltip
          {...tooltip}
          labelFormatter={(at) => dayjs(Number(at)).format('D MMM YYYY')}
          formatter={(v) => Number(v).toFixed(2)}
        />
        {points
          .filter((p) => p.full)
          .map((p) => (
            <ReferenceLine
              key={p.at}
              x={p.at}
              stroke="var(--line)"
              // Written towards the middle, where there is room for the word.
              label={{ value: 'calibrated', position: p.at > middle ? 'insideTopRight' : 'insideTopLeft', ...label }}
            />
          ))}
        <Line {...measuredLine} dataKey="worst" name="worst" stroke="var(--text-3)" strokeWidth={1.2} />
        <Line
          {...measuredLine}
          dataKey="average"
          name="average"
          dot={{ r: 2.6, fill: 'var(--text)', strokeWidth: 0 }}
        />
      </LineChart>
    </ResponsiveContainer>
  )
}
