import { Segmented } from 'antd'
import { useState } from 'react'
import { CartesianGrid, ComposedChart, Line, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { LimitedMetric, Limits, Metrics } from '@bichroma/core/aims'
import { convertXyzToChromaticity, correlatedColorTemperature } from '@bichroma/core/color'
import { niceTicks } from '@bichroma/core/review'
import {
  aimLine,
  axis,
  grid,
  label,
  measuredLine,
  namedSignalAxis,
  previousLine,
  signalLabel,
  tooltip,
} from './chartStyle'

type Measure = 'deltaUv' | 'chroma' | 'temperature'

/** What is drawn of greys: its name, digits, and the rule whose near edge is its band (else the band given). */
const measures: Readonly<
  Record<Measure, { label: string; axis: string; digits: number; metric?: LimitedMetric; band: number }>
> = {
  deltaUv: { label: 'Δu′v′', axis: 'Δu′v′ to the aim’s white', digits: 4, metric: 'worstGreyDeltaUv', band: 0.003 },
  chroma: { label: 'Chroma', axis: 'chroma difference', digits: 1, metric: 'worstGreyChroma', band: 1 },
  temperature: { label: 'Temperature', axis: 'K', digits: 0, band: 0 },
}
/** Greys darker than this have too little light for a temperature to mean anything, signal. */
const darkest = 0.08

interface Point {
  level: number
  value: number | null
  previous?: number | null
}

/** Correlated temperature of each grey, K; null where it has none. */
function temperaturesOf(m: Metrics): Map<number, number | null> {
  return new Map(
    m.patches
      .filter(({ rgb: [r, g, b] }) => r === g && g === b && r >= darkest && r < 1)
      .map((p) => [p.rgb[0], correlatedColorTemperature(convertXyzToChromaticity(p.xyz))?.cct ?? null]),
  )
}

/** Grey tracking by level: how far each grey is from the aim's white as Δu′v′ and as chroma, or its temperature. */
export function GreyChart({
  metrics,
  previous,
  limits,
}: {
  metrics: Metrics
  previous: Metrics | null
  limits: Limits
}) {
  const [measure, setMeasure] = useState<Measure>('chroma')
  if (!metrics.greys.length) return <p className="none">No grey was read between black and white.</p>
  const { axis: name, digits, metric, band } = measures[measure]
  const valuesOf = (m: Metrics): Map<number, number | null> =>
    measure === 'temperature' ? temperaturesOf(m) : new Map(m.greys.map((g) => [g.level, g[measure]]))
  const [own, before] = [valuesOf(metrics), previous && valuesOf(previous)]
  const points = metrics.greys.map((g): Point => ({
    level: g.level * 100,
    value: own.get(g.level) ?? null,
    previous: before?.get(g.level),
  }))
  const near = limits.rules.find((r) => r.metric === metric && !r.levels)?.near ?? band
  const values = points.flatMap((p) => (p.value === null ? [] : [p.value]))
  const aim = measure === 'temperature' ? metrics.aimWhiteTemperature : 0
  const ticks = niceTicks(
    measure === 'temperature' ? Math.min(...values, aim ?? Infinity) : 0,
    Math.max(near * 1.3, ...values, aim ?? 0),
  )
  return (
    <>
      <div style={{ padding: '2px 12px 0' }}>
        <Segmented<Measure>
          size="small"
          aria-label="Grey figure shown"
          value={measure}
          onChange={setMeasure}
          options={(Object.keys(measures) as Measure[]).map((value) => ({ value, label: measures[value].label }))}
        />
      </div>
      <ResponsiveContainer width="100%" height="94%">
        <ComposedChart data={points} margin={{ top: 12, right: 16, bottom: 16, left: 0 }}>
          <CartesianGrid {...grid} />
          {measure !== 'temperature' && (
            <ReferenceArea
              y1={0}
              y2={near}
              fill="var(--raised)"
              fillOpacity={1}
              stroke="var(--line)"
              strokeWidth={0.5}
            />
          )}
          <XAxis {...namedSignalAxis} />
          <YAxis
            width={76}
            domain={[ticks[0], ticks[ticks.length - 1]]}
            ticks={ticks}
            tickFormatter={(v: number) => (digits ? v.toFixed(digits) : v.toLocaleString('en'))}
            {...axis}
            label={{ value: name, angle: -90, position: 'insideLeft', offset: 14, ...label }}
          />
          <Tooltip
            {...tooltip}
            labelFormatter={signalLabel}
            formatter={(v) => Number(v).toFixed(digits ? digits + 1 : 0)}
          />
          {measure === 'temperature' && aim !== null && (
            <Line {...aimLine} dataKey={() => aim} name="aim" legendType="none" />
          )}
          {previous && <Line {...previousLine} dataKey="previous" name="previous" connectNulls />}
          <Line {...measuredLine} dataKey="value" name="measured" dot={{ r: 2, fill: 'var(--text)', strokeWidth: 0 }} />
        </ComposedChart>
      </ResponsiveContainer>
    </>
  )
}
