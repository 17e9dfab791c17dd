import type { Judgement, Metrics } from '@bichroma/core/aims'
import { achievedRows, ruleRows } from '@bichroma/core/review'
import { VerdictSign } from '../parts/VerdictSign'

/** Aim, achieved and difference side by side; below, the figures that limits rule. `brief`: without the finer rows. */
export function AchievedTable({
  metrics,
  judgement,
  brief = false,
}: {
  metrics: Metrics
  judgement: Pick<Judgement, 'rules' | 'formula'>
  brief?: boolean
}) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th />
          <th>aim</th>
          <th>achieved</th>
          <th>difference</th>
        </tr>
      </thead>
      <tbody>
        {achievedRows(metrics)
          .filter((r) => !(brief && r.fine))
          .map((r) => (
            <tr key={r.name}>
              <td>
                {r.name} {r.unit && <span className="unit small">{r.unit}</span>}
              </td>
              <td className="fig">{r.aim}</td>
              <td className="fig">{r.achieved}</td>
              <td className="fig">{r.difference}</td>
            </tr>
          ))}
        {ruleRows(judgement).map((r) => (
          <tr key={r.name} title={r.reason || undefined}>
            <td>
              {r.name} {r.note && <span className="unit small">{r.note}</span>}
            </td>
            <td className="fig" title={`hard edge ${r.hard}`}>
              {r.near}
            </td>
            <td className="fig">{r.achieved}</td>
            <td className="second" style={{ whiteSpace: 'nowrap' }}>
              <VerdictSign verdict={r.verdict} alone={false} /> {r.word}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
