import { CartesianGrid, Line, LineChart, ReferenceArea, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { niceTicks } from '@bichroma/core/review'
import { runKinds } from '@bichroma/core/runs'
import type { RunDetail } from '@bichroma/contract'
import { axis, grid, measuredLine, namedSignalAxis } from '../charts/chartStyle'
import { Plane } from '../parts/Plane'

/** A residual that no eye sees on a grey. */
const good = 0.5

/** A run that shapes nothing. */
const provesOnly = ({ kind }: Pick<RunDetail, 'kind'>) => !runKinds[kind].writes

interface Point {
  /** % */
  readonly level: number
  readonly deltaE: number
}

/** What is drawn: the greys of each round of Shape, or of Prove in a check run. A level read again counts as read last. */
function greyLines(run: Pick<RunDetail, 'kind' | 'log'>): Point[][] {
  const rounds = new Map<number, Map<number, number>>()
  for (const { stage, name, deltaE } of run.log) {
    const grey = provesOnly(run) ? /^Grey ([\d.]+) %()$/.exec(name) : /^Grey ([\d.]+) %, round (\d+)$/.exec(name)
    if (!grey || deltaE === null || stage !== (provesOnly(run) ? 'prove' : 'shape')) continue
    const round = Number(grey[2])
    rounds.set(round, (rounds.get(round) ?? new Map<number, number>()).set(Number(grey[1]), deltaE))
  }
  return [...rounds.entries()]
    .sort(([one], [other]) => one - other)
    .map(([, levels]) =>
      [...levels].map(([level, deltaE]) => ({ level, deltaE })).sort((one, other) => one.level - other.level),
    )
}

/** How far each grey level is from the aim, round after round. */
export function ResidualChart({ run }: { run: RunDetail }) {
  const lines = greyLines(run)
  const ticks = niceTicks(0, Math.max(1, ...lines.flat().map((p) => p.deltaE)))
  const going = run.stage === (provesOnly(run) ? 'prove' : 'shape')
  return (
    <Plane
      title="Grey residual by level, ΔE2000"
      aside={provesOnly(run) ? 'shaded: hard to see' : 'shaded: hard to see · first rounds dashed, last bold'}
      style={{ display: 'flex', flexDirection: 'column' }}
    >
      {!lines.length ? (
        <p className="none" style={{ margin: 'auto' }}>
          {provesOnly(run) ? 'Greys appear here as Prove reads them.' : 'Greys appear here once Shape reads them.'}
        </p>
      ) : (
        <div style={{ flex: 1, minHeight: 180 }}>
          <ResponsiveContainer width="100%" height="100%">
            <LineChart margin={{ top: 6, right: 16, bottom: 16, left: -16 }}>
              <CartesianGrid {...grid} />
              <ReferenceArea y1={0} y2={good} fill="var(--raised)" fillOpacity={1} />
              <XAxis {...namedSignalAxis} />
              <YAxis
                domain={[0, ticks[ticks.length - 1]]}
                ticks={ticks}
                tickFormatter={(v: number) => v.toFixed(1)}
                {...axis}
              />
              {lines.map((line, k) => {
                const last = k === lines.length - 1
                return (
                  <Line
                    key={k}
                    {...measuredLine}
                    data={line}
                    dataKey="deltaE"
                    stroke={last ? 'var(--lake)' : 'var(--text-3)'}
                    strokeWidth={last ? 2 : 1.1}
                    strokeDasharray={last ? undefined : '4 4'}
                    dot={last && going ? { r: 2, fill: 'var(--lake)', strokeWidth: 0 } : false}
                  />
                )
              })}
            </LineChart>
          </ResponsiveContainer>
        </div>
      )}
    </Plane>
  )
}
