import { runKinds, type RunKind, type Sampling } from '@bichroma/core/runs'
import type { RunOutlook } from '@bichroma/contract'
import { useOutlook } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatLeft } from '../parts/times'

interface Choice {
  readonly kind: RunKind
  readonly sampling: Sampling | null
}

/** What each kind of run is likely to take on this display, and how exact earlier ones on its model were. */
export function OutlookTable({
  displayId,
  chosen,
  onChoose,
}: {
  displayId: number
  chosen: Choice
  onChoose: (choice: Choice) => void
}) {
  return (
    <Plane title="What to expect" aside="medians of earlier runs on this model or its kind; else reckoned">
      <Loaded query={useOutlook(displayId)}>
        {(rows) => (
          <div className="sideways">
            <table className="figures outlook">
              <thead>
                <tr>
                  <th>Run</th>
                  <th>Readings</th>
                  <th>Time</th>
                  <th>Average ΔE</th>
                  <th>Worst ΔE</th>
                  <th>From</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <Row
                    key={`${row.kind} ${row.sampling}`}
                    row={row}
                    chosen={row.kind === chosen.kind && row.sampling === chosen.sampling}
                    onChoose={onChoose}
                  />
                ))}
              </tbody>
            </table>
          </div>
        )}
      </Loaded>
    </Plane>
  )
}

function Row({ row, chosen, onChoose }: { row: RunOutlook; chosen: boolean; onChoose: (choice: Choice) => void }) {
  const figure = (value: number | null) => (value === null ? '–' : value.toFixed(2))
  return (
    <tr className={chosen ? 'chosen' : undefined}>
      <td>
        <button type="button" className="plain" aria-pressed={chosen} onClick={() => onChoose(row)}>
          {runKinds[row.kind].label}
          {row.sampling && `, ${row.sampling}`}
        </button>
      </td>
      <td className="fig">{row.readings}</td>
      <td className="fig">{formatLeft(row.minutes * 60)}</td>
      <td className="fig">{figure(row.averageDeltaE)}</td>
      <td className="fig">{figure(row.worstDeltaE)}</td>
      <td className="quiet small">
        {row.from
          ? `${row.from === 1 ? 'one run' : `${row.from} runs`}${row.alike === 'kind' ? ', its kind' : ''}`
          : 'reckoned'}
      </td>
    </tr>
  )
}
