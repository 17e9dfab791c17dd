import { CartesianGrid, ComposedChart, Line, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { Metrics } from '@bichroma/core'
import { niceTicks } from './niceTicks'
import { axis, grid, label, measuredLine, previousLine, tooltip } from './chartStyle'

/** Bands in which a grey counts as neutral: Δu′v′, and chroma difference in CIELAB. */
const bands = { deltaUv: 0.003, chroma: 1 }

/** Grey tracking: how far from the aim's white each grey is, as Δu′v′ and as chroma. */
export function GreyChart({ metrics, previous }: { metrics: Metrics; previous: Metrics | null }) {
  const points = metrics.greys.map((g, i) => ({
    level: g.level * 100,
    deltaUv: g.deltaUv,
    chroma: g.chroma,
    previousUv: previous?.greys[i]?.deltaUv,
    previousChroma: previous?.greys[i]?.chroma,
  }))
  const ticksOf = (key: 'deltaUv' | 'chroma') => niceTicks(0, Math.max(bands[key] * 1.3, ...points.map((p) => p[key])))
  const panel = (key: 'deltaUv' | 'chroma', before: string, name: string, digits: number, last: boolean) => (
    <ResponsiveContainer width="100%" height={last ? '54%' : '46%'}>
      <ComposedChart data={points} margin={{ top: 8, right: 16, bottom: last ? 16 : 4, left: 0 }}>
        <CartesianGrid {...grid} />
        <ReferenceArea
          y1={0}
          y2={bands[key]}
          fill="var(--raised)"
          fillOpacity={1}
          stroke="var(--line)"
          strokeWidth={0.5}
        />
        <XAxis
          dataKey="level"
          type="number"
          domain={[0, 100]}
          ticks={[0, 25, 50, 75, 100]}
          {...axis}
          label={last ? { value: 'signal, %', position: 'insideBottom', offset: -10, ...label } : undefined}
        />
        <YAxis
          width={76}
          domain={[0, ticksOf(key)[ticksOf(key).length - 1]]}
          ticks={ticksOf(key)}
          tickFormatter={(v: number) => v.toFixed(digits)}
          {...axis}
          label={{ value: name, angle: -90, position: 'insideLeft', offset: 14, ...label }}
        />
        <Tooltip
          {...tooltip}
          labelFormatter={(v) => `signal ${v} %`}
          formatter={(v) => Number(v).toFixed(digits + 1)}
        />
        {previous && <Line {...previousLine} dataKey={before} name="previous" />}
        <Line {...measuredLine} dataKey={key} name="measured" dot={{ r: 2, fill: 'var(--text)', strokeWidth: 0 }} />
      </ComposedChart>
    </ResponsiveContainer>
  )
  return (
    <>
      {panel('deltaUv', 'previousUv', 'Δu′v′ to the aim’s white', 4, false)}
      {panel('chroma', 'previousChroma', 'chroma difference', 1, true)}
    </>
  )
}
