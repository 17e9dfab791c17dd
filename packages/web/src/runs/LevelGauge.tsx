import { niceTicks } from '@bichroma/core/review'
import { CartesianGrid, Line, LineChart, ReferenceArea, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import type { LevelGauge as Gauge } from '@bichroma/contract'
import { axis, grid, label, measuredLine } from '../charts/chartStyle'
import { Plane } from '../parts/Plane'

const turnWords: Readonly<Record<Gauge['turn'], { sign: string; words: string }>> = {
  up: { sign: '▲', words: 'Turn the brightness up' },
  down: { sign: '▼', words: 'Turn the brightness down' },
  hold: { sign: '■', words: 'Leave it as it is' },
}

/** What hands are to turn at the display, large enough to be read from it, and the light as it follows. */
export function LevelGauge({ gauge, display }: { gauge: Gauge; display: string }) {
  const { from, to, luminances, turn } = gauge
  const newest = luminances[luminances.length - 1]
  const points = luminances.map((luminance, i) => ({ reading: i + 1, luminance }))
  const lowest = Math.min(from * 0.9, ...luminances)
  const highest = Math.max(to * 1.1, ...luminances)
  const ticks = niceTicks(lowest, highest)
  return (
    <Plane title={`Brightness of ${display}`} aside="raw white, cd/m² · shaded: where it is to rest" className="gauge">
      <div className="turn" role="status">
        <span className={turn === 'hold' ? 'sign' : 'sign asks'} aria-hidden>
          {turnWords[turn].sign}
        </span>
        <span>
          <b>{turnWords[turn].words}</b>
          <br />
          <span className="second">
            <span className="fig big">{newest.toFixed(1)}</span> cd/m², to rest between{' '}
            <span className="fig">{from.toFixed(1)}</span> and <span className="fig">{to.toFixed(1)}</span>
          </span>
        </span>
      </div>
      <div style={{ flex: 1, minHeight: 120 }}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={points} margin={{ top: 6, right: 16, bottom: 16, left: -8 }}>
            <CartesianGrid {...grid} />
            <ReferenceArea y1={from} y2={to} fill="var(--lake-deep)" fillOpacity={1} />
            <XAxis
              dataKey="reading"
              type="number"
              domain={[1, Math.max(12, points.length)]}
              allowDecimals={false}
              {...axis}
              label={{ value: 'reading', position: 'insideBottom', offset: -10, ...label }}
            />
            <YAxis domain={[ticks[0], ticks[ticks.length - 1]]} ticks={ticks} {...axis} />
            <Line {...measuredLine} dataKey="luminance" dot={{ r: 2, fill: 'var(--text)', strokeWidth: 0 }} />
          </LineChart>
        </ResponsiveContainer>
      </div>
    </Plane>
  )
}
