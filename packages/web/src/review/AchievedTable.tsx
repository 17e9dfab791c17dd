import type { Judgement, Metrics } from '@bichroma/core/aims'
import { achievedRows, ruleRows } from '@bichroma/core/review'
import { DoubtWhisker } from '../parts/DoubtWhisker'
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
        {ruleRows(judgement).map((r, i) => (
          <tr key={r.name} title={r.reason || undefined}>
            <td>
              {r.name} {r.note && <span className="unit small">{r.note}</span>}
              <DoubtWhisker rule={judgement.rules[i]} />
            </td>
            <td className="fig" title={`hard edge ${r.hard}`}>
              {r.near}
            </td>
            <td className="fig" title={r.doubt || undefined}>
              {r.achieved}
              {r.doubt && !brief && <div className="unit small doubt">{r.doubt}</div>}
            </td>
            <td className="second">
              {brief ? (
                <VerdictSign verdict={r.verdict} />
              ) : (
                <>
                  <VerdictSign verdict={r.verdict} alone={false} /> <span className="word">{r.word}</span>
                </>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
