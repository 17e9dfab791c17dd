import { Segmented } from 'antd'
import { useState } from 'react'
import { niceTicks } from '@bichroma/core/review'
import { groupings, type FleetGroup, type Grouping } from '@bichroma/contract'

const bar = { left: 4, width: 168 }

/** How groups of the fleet lie: quartiles of the average ΔE2000 by model, age, room or instrument. */
export function FleetGroups({ groups }: { groups: Record<Grouping, FleetGroup[]> }) {
  const [by, setBy] = useState<Grouping>('model')
  const shown = groups[by]
  const ticks = niceTicks(0, Math.max(0.5, ...shown.map((g) => g.most)))
  const most = ticks[ticks.length - 1]
  const x = (v: number) => bar.left + (v / most) * bar.width
  return (
    <section className="plane groups" aria-label="Distributions">
      <div className="head">
        <h2>Average ΔE2000</h2>
        <Segmented
          size="small"
          aria-label="Grouped by"
          value={by}
          onChange={setBy}
          options={groupings.map((value) => ({ value, label: value }))}
        />
      </div>
      <div className="scroll" tabIndex={0} role="region" aria-label={`Distribution by ${by}`}>
        <table className="figures">
          <thead>
            <tr>
              <th>{by === 'age' ? 'followed for' : by}</th>
              <th>slots</th>
              <th>
                <svg width={bar.width + 12} height="14" aria-hidden>
                  {[0, ticks[ticks.length >> 1], most].map((t) => (
                    <text
                      key={t}
                      x={x(t)}
                      y="11"
                      fontSize="11"
                      fill="var(--text-3)"
                      textAnchor={t === 0 ? 'start' : t === most ? 'end' : 'middle'}
                    >
                      {t}
                    </text>
                  ))}
                </svg>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((g) => (
              <tr key={g.name}>
                <td>
                  <span className="oneline" title={g.name} style={{ maxWidth: 124 }}>
                    {g.name}
                  </span>
                </td>
                <td className="fig">{g.slots}</td>
                <td>
                  <svg
                    width={bar.width + 12}
                    height="15"
                    role="img"
                    aria-label={`from ${g.least.toFixed(2)} to ${g.most.toFixed(2)}, median ${g.median.toFixed(2)}`}
                  >
                    <path d={`M${x(g.least)} 7.5H${x(g.most)}`} stroke="var(--text-3)" />
                    <rect
                      x={x(g.quarter)}
                      y="3"
                      width={Math.max(1.5, x(g.threeQuarters) - x(g.quarter))}
                      height="9"
                      fill="var(--line)"
                      stroke="var(--text-3)"
                    />
                    <path d={`M${x(g.median)} 1.5v12`} stroke="var(--text)" strokeWidth="2" />
                  </svg>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
