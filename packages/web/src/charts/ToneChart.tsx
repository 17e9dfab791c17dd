import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { Metrics } from '@bichroma/core'
import { niceTicks } from './niceTicks'
import { aimLine, axis, band, grid, label, measuredLine, previousLine, tooltip } from './chartStyle'

/** Half the width of the band around the aim's exponent. */
const tolerance = 0.05

/** Tone response: the exponent that each grey level has, against the aim's with its band; above, light against signal. */
export function ToneChart({ metrics, previous }: { metrics: Metrics; previous: Metrics | null }) {
  const curve = [
    { level: 0, light: 0, aim: 0 },
    ...metrics.greys.map((g) => ({ level: g.level * 100, light: g.light * 100, aim: g.targetLight * 100 })),
    { level: 100, light: 100, aim: 100 },
  ]
  const exponents = metrics.greys.map((g, i) => ({
    level: g.level * 100,
    measured: g.exponent,
    aim: g.targetExponent,
    band: [g.targetExponent - tolerance, g.targetExponent + tolerance],
    previous: previous?.greys[i]?.exponent,
  }))
  const all = exponents.flatMap((e) => [e.measured, ...e.band])
  const ticks = niceTicks(Math.min(...all), Math.max(...all))
  return (
    <>
      <ResponsiveContainer width="100%" height="46%">
        <ComposedChart data={curve} margin={{ top: 8, right: 16, bottom: 4, left: -8 }}>
          <CartesianGrid {...grid} />
          <XAxis dataKey="level" type="number" domain={[0, 100]} ticks={[0, 25, 50, 75, 100]} {...axis} />
          <YAxis
            domain={[0, 100]}
            ticks={[0, 25, 50, 75, 100]}
            {...axis}
            label={{ value: 'light, %', angle: -90, position: 'insideLeft', offset: 18, ...label }}
          />
          <Tooltip
            {...tooltip}
            labelFormatter={(v) => `signal ${v} %`}
            formatter={(v) => `${Number(v).toFixed(2)} %`}
          />
          <Line {...aimLine} type="monotone" dataKey="aim" name="aim" />
          <Line {...measuredLine} type="monotone" dataKey="light" name="measured" />
        </ComposedChart>
      </ResponsiveContainer>
      <ResponsiveContainer width="100%" height="54%">
        <ComposedChart data={exponents} margin={{ top: 8, right: 16, bottom: 16, left: -8 }}>
          <CartesianGrid {...grid} />
          <XAxis
            dataKey="level"
            type="number"
            domain={[0, 100]}
            ticks={[0, 25, 50, 75, 100]}
            {...axis}
            label={{ value: 'signal, %', position: 'insideBottom', offset: -10, ...label }}
          />
          <YAxis
            domain={[ticks[0], ticks[ticks.length - 1]]}
            ticks={ticks}
            tickFormatter={(v: number) => v.toFixed(2)}
            {...axis}
            label={{ value: 'exponent', angle: -90, position: 'insideLeft', offset: 18, ...label }}
          />
          <Tooltip
            {...tooltip}
            labelFormatter={(v) => `signal ${v} %`}
            formatter={(v) =>
              Array.isArray(v) ? v.map((x) => Number(x).toFixed(2)).join(' to ') : Number(v).toFixed(3)
            }
          />
          <Area {...band} dataKey="band" name="band" />
          <Line {...aimLine} dataKey="aim" name="aim" />
          {previous && <Line {...previousLine} dataKey="previous" name="previous" />}
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
