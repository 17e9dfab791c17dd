import type { RunReading } from '@bichroma/contract'
import { Plane } from '../parts/Plane'

/** Readings that are drawn; the rest stay in the store and in the report. */
const shown = 120

/** The readings, newest first. */
export function ReadingsLog({ log }: { log: readonly RunReading[] }) {
  return (
    <Plane title="Readings" aside="newest first" className="log">
      {log.length ? (
        <div className="scroll" tabIndex={0} role="region" aria-label="Readings">
          <table className="figures small">
            <thead>
              <tr>
                <th>Patch</th>
                <th>cd/m²</th>
                <th>ΔE</th>
              </tr>
            </thead>
            <tbody>
              {log
                .slice(-shown)
                .reverse()
                .map((r) => (
                  <tr key={r.seq}>
                    <td>{r.name}</td>
                    <td className="fig">{r.xyz[1] < 10 ? r.xyz[1].toFixed(2) : r.xyz[1].toFixed(1)}</td>
                    <td className="fig">{r.deltaE === null ? '–' : r.deltaE.toFixed(2)}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </div>
      ) : (
        <p className="none">None yet.</p>
      )}
    </Plane>
  )
}
