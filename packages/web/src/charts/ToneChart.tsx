import { useState } from 'react'
import { Segmented } from 'antd'
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { ruleAtLevel, type Limits, type Metrics } from '@bichroma/core/aims'
import { niceTicks } from '@bichroma/core/review'
import {
  aimLine,
  axis,
  band,
  grid,
  label,
  measuredLine,
  namedSignalAxis,
  previousLine,
  signalAxis,
  signalLabel,
  tooltip,
} from './chartStyle'

/** Half the width of the band around the aim's exponent, where no rule limits the tone. */
const exponentBand = 0.05

type Lower = 'error' | 'exponent'

interface Point {
  level: number
  measured: number
  aim: number
  band: [number, number]
  previous?: number
}

/** Tone response: light against signal; below, the error of each grey in lightness with the band that its limits allow, or its exponent. */
export function ToneChart({
  metrics,
  previous,
  limits,
}: {
  metrics: Metrics
  previous: Metrics | null
  limits: Limits
}) {
  const [lower, setLower] = useState<Lower>('error')
  if (!metrics.greys.length) return <p className="none">No grey was read between black and white.</p>
  const curve = [
    { level: 0, light: 0, aim: 0 },
    ...metrics.greys.map((g) => ({ level: g.level * 100, light: g.light * 100, aim: g.targetLight * 100 })),
    { level: 100, light: 100, aim: 100 },
  ]
  const before = new Map(previous?.greys.map((g) => [g.level, g]))
  const nearOf = (level: number) => ruleAtLevel(limits, 'toneError', level)?.near ?? 1
  const points = metrics.greys.map((g): Point =>
    lower === 'error'
      ? {
          level: g.level * 100,
          measured: g.lightnessError,
          aim: 0,
          band: [-nearOf(g.level), nearOf(g.level)],
          previous: before.get(g.level)?.lightnessError,
        }
      : {
          level: g.level * 100,
          measured: g.exponent,
          aim: g.targetExponent,
          band: [g.targetExponent - exponentBand, g.targetExponent + exponentBand],
          previous: before.get(g.level)?.exponent,
        },
  )
  const all = points.flatMap((p) => [p.measured, ...p.band])
  const ticks = niceTicks(Math.min(...all), Math.max(...all))
  return (
    <>
      <ResponsiveContainer width="100%" height="42%">
        <ComposedChart data={curve} margin={{ top: 8, right: 16, bottom: 4, left: -8 }}>
          <CartesianGrid {...grid} />
          <XAxis {...signalAxis} />
          <YAxis
            domain={[0, 100]}
            ticks={[0, 25, 50, 75, 100]}
            {...axis}
            label={{ value: 'light, %', angle: -90, position: 'insideLeft', offset: 18, ...label }}
          />
          <Tooltip {...tooltip} labelFormatter={signalLabel} formatter={(v) => `${Number(v).toFixed(2)} %`} />
          <Line {...aimLine} type="monotone" dataKey="aim" name="aim" />
          <Line {...measuredLine} type="monotone" dataKey="light" name="measured" />
        </ComposedChart>
      </ResponsiveContainer>
      <div style={{ padding: '2px 12px' }}>
        <Segmented<Lower>
          size="small"
          aria-label="Below the curve"
          value={lower}
          onChange={setLower}
          options={[
            { value: 'error', label: 'Error, ΔL*' },
            { value: 'exponent', label: 'Exponent' },
          ]}
        />
      </div>
      <ResponsiveContainer width="100%" height="52%">
        <ComposedChart data={points} margin={{ top: 8, right: 16, bottom: 16, left: -8 }}>
          <CartesianGrid {...grid} />
          <XAxis {...namedSignalAxis} />
          <YAxis
            domain={[ticks[0], ticks[ticks.length - 1]]}
            ticks={ticks}
            tickFormatter={(v: number) => v.toFixed(2)}
            {...axis}
            label={{
              value: lower === 'error' ? 'ΔL*' : 'exponent',
              angle: -90,
              position: 'insideLeft',
              offset: 18,
              ...label,
            }}
          />
          <Tooltip
            {...tooltip}
            labelFormatter={signalLabel}
            formatter={(v) =>
              Array.isArray(v) ? v.map((x) => Number(x).toFixed(2)).join(' to ') : Number(v).toFixed(3)
            }
          />
          <Area {...band} dataKey="band" name="band" />
          <Line {...aimLine} dataKey="aim" name="aim" />
          {previous && <Line {...previousLine} dataKey="previous" name="previous" connectNulls />}
          <Line
            {...measuredLine}
            dataKey="measured"
            name="measured"
            dot={{ r: 2, fill: 'var(--text)', strokeWidth: 0 }}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </>
  )
}
