import { niceTicks } from '@bichroma/core/review'
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import type { StageRecord } from '@bichroma/contract'
import { axis, grid, label, measuredLine } from '../charts/chartStyle'
import { Plane } from '../parts/Plane'

/** White's luminance while the run waits for the display to come to rest. */
export function WarmUpChart({ warmUp }: { warmUp: NonNullable<StageRecord['warmUp']> }) {
  const luminances = warmUp.map((p) => p.luminance)
  const middle = (Math.max(...luminances) + Math.min(...luminances)) / 2
  // Never so close that noise looks like drift.
  const half = Math.max((Math.max(...luminances) - Math.min(...luminances)) / 2, middle * 0.004)
  const ticks = niceTicks(middle - half, middle + half)
  return (
    <Plane
      title="Warming up"
      aside="white, cd/m² · the run goes on once it holds still"
      style={{ display: 'flex', flexDirection: 'column' }}
    >
      <div style={{ flex: 1, minHeight: 160 }}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={warmUp} margin={{ top: 6, right: 16, bottom: 16, left: -2 }}>
            <CartesianGrid {...grid} />
            <XAxis
              dataKey="minutes"
              type="number"
              domain={[0, Math.max(4, Math.ceil(warmUp[warmUp.length - 1].minutes))]}
              {...axis}
              label={{ value: 'minutes', position: 'insideBottom', offset: -10, ...label }}
            />
            <YAxis
              domain={[ticks[0], ticks[ticks.length - 1]]}
              ticks={ticks}
              tickFormatter={(v: number) => v.toFixed(1)}
              {...axis}
            />
            <Line {...measuredLine} dataKey="luminance" dot={{ r: 2.5, fill: 'var(--text)', strokeWidth: 0 }} />
          </LineChart>
        </ResponsiveContainer>
      </div>
    </Plane>
  )
}
