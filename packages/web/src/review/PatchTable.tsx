import { cssOfLab, type Metrics } from '@bichroma/core'
import { Plane } from '../parts/Plane'

/** Every patch, worst first: aim and reading as a pair, and their difference. */
export function PatchTable({ metrics }: { metrics: Metrics }) {
  const patches = [...metrics.patches].sort((a, b) => b.deltaE - a.deltaE)
  return (
    <Plane title={`${patches.length} patches`} aside="worst first; left aim, right read" className="patches">
      <div className="scroll" tabIndex={0} role="region" aria-label="Patches">
        <table className="figures">
          <thead>
            <tr>
              <th>Patch</th>
              <th>L*</th>
              <th>ΔE2000</th>
            </tr>
          </thead>
          <tbody>
            {patches.map((p) => (
              <tr key={p.name}>
                <td>
                  <span className="pairchip" aria-hidden>
                    <i style={{ background: cssOfLab(p.targetLab) }} />
                    <i style={{ background: cssOfLab(p.lab) }} />
                  </span>
                  {p.name}
                </td>
                <td className="fig quiet">{p.lab[0].toFixed(0)}</td>
                <td className="fig">{p.deltaE.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Plane>
  )
}
