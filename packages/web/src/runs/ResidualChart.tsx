import { CartesianGrid, Line, LineChart, ReferenceArea, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { shapeLevels } from '@bichroma/core'
import type { RunDetail } from '@bichroma/contract'
import { axis, grid, label, measuredLine } from '../charts/chartStyle'
import { niceTicks } from '../charts/niceTicks'
import { Plane } from '../parts/Plane'

/** A residual that no eye sees on a grey. */
const good = 0.5

/** How far each grey level is from the aim, round after round. */
export function ResidualChart({ run }: { run: RunDetail }) {
  const proved = run.log.filter((r) => r.stage === 'prove' && /^Grey/.test(r.name))
  const rounds = run.stages.find((s) => s.stage === 'shape')?.rounds ?? []
  // The round that is being read comes from the log; the stage stores a round once it is whole.
  const current = run.log.filter(
    (r) =>
      r.stage === 'shape' &&
      r.name.endsWith(`round ${rounds.length + (rounds[rounds.length - 1]?.length === shapeLevels.length ? 1 : 0)}`),
  )
  const lines = run.kind === 'check' ? [] : rounds.filter((r) => r.length === shapeLevels.length)
  const points = shapeLevels.map((level, i) => ({
    level: level * 100,
    ...Object.fromEntries(lines.map((round, k) => [`r${k}`, round[i].deltaE])),
    ...(current[i] ? { now: current[i].deltaE } : {}),
  }))
  const shown =
    run.kind === 'check'
      ? proved
          .map((r) => ({ level: Number(/[\d.]+/.exec(r.name)?.[0]), now: r.deltaE }))
          .sort((a, b) => a.level - b.level)
      : points
  const ticks = niceTicks(
    0,
    Math.max(1, ...lines.flat().map((r) => r.deltaE), ...shown.map((p) => ('now' in p && p.now) || 0)),
  )
  const empty = run.kind === 'check' ? !proved.length : !lines.length && !current.length
  return (
    <Plane
      title="Grey residual by level, ΔE2000"
      aside={run.kind === 'check' ? 'shaded: hard to see' : 'shaded: hard to see · first rounds dashed, last bold'}
      style={{ display: 'flex', flexDirection: 'column' }}
    >
      {empty ? (
        <p className="none" style={{ margin: 'auto' }}>
          {run.kind === 'check' ? 'Greys appear here as Prove reads them.' : 'Greys appear here once Shape reads them.'}
        </p>
      ) : (
        <div style={{ flex: 1, minHeight: 180 }}>
          <ResponsiveContainer width="100%" height="100%">
            <LineChart data={shown} margin={{ top: 6, right: 16, bottom: 16, left: -16 }}>
              <CartesianGrid {...grid} />
              <ReferenceArea y1={0} y2={good} fill="var(--raised)" fillOpacity={1} />
              <XAxis
                dataKey="level"
                type="number"
                domain={[0, 100]}
                ticks={[0, 25, 50, 75, 100]}
                {...axis}
                label={{ value: 'signal, %', position: 'insideBottom', offset: -10, ...label }}
              />
              <YAxis
                domain={[0, ticks[ticks.length - 1]]}
                ticks={ticks}
                tickFormatter={(v: number) => v.toFixed(1)}
                {...axis}
              />
              {lines.map((_, k) => (
                <Line
                  key={k}
                  {...measuredLine}
                  dataKey={`r${k}`}
                  stroke={k === lines.length - 1 && !current.length ? 'var(--lake)' : 'var(--text-3)'}
                  strokeWidth={k === lines.length - 1 && !current.length ? 2 : 1.1}
                  strokeDasharray={k === lines.length - 1 ? undefined : '4 4'}
                />
              ))}
              {(run.kind === 'check' || current.length > 0) && (
                <Line
                  {...measuredLine}
                  dataKey="now"
                  stroke="var(--lake)"
                  strokeWidth={2}
                  dot={{ r: 2, fill: 'var(--lake)', strokeWidth: 0 }}
                />
              )}
            </LineChart>
          </ResponsiveContainer>
        </div>
      )}
    </Plane>
  )
}
