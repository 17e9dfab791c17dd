import dayjs from 'dayjs'
import { useState } from 'react'
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import { limitedMetrics } from '@bichroma/core/aims'
import { figureAt, signedKey } from '@bichroma/core/drift'
import { niceTicks } from '@bichroma/core/review'
import type { RuleDrift, SlotHistory } from '@bichroma/contract'
import { axis, band, grid, label, tooltip } from '../charts/chartStyle'

const day = 86_400_000
/** Points at which the trend is drawn ahead. */
const steps = 24
/** How far ahead is shown: a third of the history again, at least three months, and not beyond what is of use. */
const aheadOf = (length: number) => Math.min(400 * day, Math.max(90 * day, length / 3))

interface Row {
  at: number
  value?: number
  trend?: number
  band?: [number, number]
  instrument?: string
  imported?: boolean
}

/** One figure of a slot over time: what was read, its trend with its band, its edges, and what happened in between. */
export function DriftChart({ history, rule }: { history: SlotHistory; rule: RuleDrift }) {
  const [now] = useState(Date.now)
  const { key, trend } = rule
  const { metric, near, hard } = rule.rule
  const points = history.history.filter((p) => key in p.figures)
  if (!points.length) return <p className="none">This figure was not read in any validation.</p>
  const [first, last] = [points[0].at, points[points.length - 1].at]
  const end = Math.max(last, now) + aheadOf(last - first)
  const read = points.map((p): Row => ({
    at: p.at,
    value: p.figures[key],
    instrument: p.instrument,
    imported: p.imported,
  }))
  const newest = history.history[history.history.length - 1].segment
  const from = points.find((p) => p.segment === newest)?.at ?? last
  const foretold = trend
    ? Array.from({ length: steps + 1 }, (_, i): Row => {
        const at = from + ((end - from) * i) / steps
        const { value, low, high } = figureAt(key, trend, at)
        return { at, trend: value, band: [low, high] }
      })
    : []
  const rows = [...read, ...foretold].sort((a, b) => a.at - b.at)
  const signed = key === signedKey
  const edges = signed ? [-hard, -near, near, hard] : [near, hard]
  const values = [...read.map((r) => r.value!), ...(signed ? [-near, near] : [near])]
  // Edges that are far away are left out rather than flattening the curve.
  const reach = Math.max(...values.map(Math.abs), hard)
  const far = Math.max(...values.map(Math.abs)) * 4
  const shown = hard > far ? values : [...values, ...(signed ? [-hard, hard] : [hard])]
  const atLeast = limitedMetrics[metric].atLeast ?? false
  const low = signed || atLeast ? Math.min(...shown) : 0
  const ticks = niceTicks(low, Math.max(...shown))
  const digits = reach < 0.05 ? 4 : reach < 1 ? 2 : limitedMetrics[metric].digits === 0 ? 0 : 1
  const domain: [number, number] = [ticks[0], ticks[ticks.length - 1]]
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ComposedChart data={rows} margin={{ top: 22, right: 20, bottom: 8, left: 0 }}>
        <CartesianGrid {...grid} />
        <XAxis
          dataKey="at"
          type="number"
          scale="time"
          domain={[first, end]}
          ticks={Array.from({ length: 7 }, (_, i) => first + ((end - first) * i) / 6)}
          tickFormatter={(at: number) => dayjs(at).format('MMM YY')}
          {...axis}
        />
        <YAxis
          domain={domain}
          ticks={ticks}
          allowDataOverflow
          width={64}
          tickFormatter={(v: number) => v.toFixed(digits)}
          {...axis}
          label={{ value: limitedMetrics[metric].unit || undefined, position: 'insideTopLeft', offset: -14, ...label }}
        />
        <Tooltip
          {...tooltip}
          labelFormatter={(at) => dayjs(Number(at)).format('D MMM YYYY')}
          formatter={(v) =>
            Array.isArray(v) ? v.map((x) => Number(x).toFixed(digits + 1)).join(' to ') : Number(v).toFixed(digits + 1)
          }
        />
        {edges.map((edge) => (
          <ReferenceLine
            key={edge}
            y={edge}
            stroke="var(--text-3)"
            strokeDasharray={Math.abs(edge) === hard ? undefined : '3 4'}
            strokeWidth={1}
            label={{
              value: Math.abs(edge) === hard ? 'hard edge' : 'near edge',
              position: edge < 0 ? 'insideBottomLeft' : 'insideTopLeft',
              ...label,
            }}
          />
        ))}
        <ReferenceLine x={now} stroke="var(--lake)" label={{ value: 'now', position: 'top', ...label }} />
        {history.events
          .filter((e) => e.kind !== 'instrument')
          .map((e) => (
            <ReferenceLine
              key={`${e.at} ${e.text}`}
              x={e.at}
              stroke="var(--line)"
              label={{ value: e.kind, position: 'top', ...label }}
            />
          ))}
        <Area {...band} dataKey="band" name="band" connectNulls />
        <Line
          dataKey="trend"
          name="trend"
          stroke="var(--text-2)"
          strokeWidth={1.2}
          dot={false}
          connectNulls
          isAnimationActive={false}
        />
        <Scatter dataKey="value" name="read" fill="var(--text)" isAnimationActive={false} shape={<Dot />} />
      </ComposedChart>
    </ResponsiveContainer>
  )
}

/** A reading; open where it was imported. */
function Dot({ cx, cy, payload }: { cx?: number; cy?: number; payload?: Row }) {
  if (cx === undefined || cy === undefined || payload?.value === undefined) return null
  return (
    <circle
      cx={cx}
      cy={cy}
      r="3.4"
      fill={payload.imported ? 'var(--plane)' : 'var(--text)'}
      stroke="var(--text)"
      strokeWidth="1.4"
    />
  )
}
