import { Link, useParams } from 'react-router'
import { describeAim, verdictWords } from '@bichroma/core/aims'
import { panelKinds } from '@bichroma/core/register'
import { runKinds, stageLabels } from '@bichroma/core/runs'
import type { Correction, LedgerEntry, RunDetail, RunReview } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useDisplay, useReview, useRun } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { VerdictSign } from '../parts/VerdictSign'
import { AchievedTable } from './AchievedTable'

/** Everything that a verdict rests on, on one page: from its figures down to each raw reading. */
export function EvidencePage() {
  const id = Number(useParams().id)
  const run = useRun(id)
  return (
    <Loaded query={useReview(id)}>
      {(review) => <Loaded query={run}>{(detail) => <EvidenceOf review={review} run={detail} />}</Loaded>}
    </Loaded>
  )
}

function EvidenceOf({ review, run }: { review: RunReview; run: RunDetail }) {
  const display = useDisplay(run.displayId).data
  const { items: entries } = useList<LedgerEntry>(`/ledger/run/${run.id}`, { limit: 20 })
  // What was written down in the ledger when it was proved: as things were then.
  const proved = entries.find((e) => e.act === 'proved' || e.act === 'imported')?.evidence ?? {}
  const conditions = run.stages.flatMap((s) => s.conditions ?? [])
  return (
    <>
      <div className="top">
        <div>
          <h1>
            What the verdict rests on: {review.displayName}, slot {run.slot}
          </h1>
          <p>
            <Link to={`/review/${run.id}`}>Review</Link> · <VerdictSign verdict={review.judgement.verdict} />{' '}
            {review.judgement.sentence}
          </p>
        </div>
      </div>
      <div className="evidence">
        <div className="stack">
          <Plane title="Judged" aside={verdictWords[review.judgement.verdict]}>
            <AchievedTable metrics={review.metrics} judgement={review.judgement} />
          </Plane>
          <Facts
            title="By"
            rows={[
              ['aim', describeAim(run.aim)],
              [
                'run',
                `${run.imported ? 'imported' : runKinds[run.kind].label}, ${formatMoment(run.startedAt)}, started by ${run.startedBy}`,
              ],
              ['readings', String(run.log.length)],
              ...(run.imported
                ? [
                    ['file', `${run.imported.fileName}, ${run.imported.format}`],
                    ['SHA-256', run.imported.hash],
                  ]
                : []),
              ['software', proved.version],
            ]}
          />
          <Facts
            title="Instrument"
            rows={[
              ['instrument', run.instrument],
              ['certified', typeof proved.certified === 'number' ? dayOf(proved.certified) : 'it does not tell'],
              ['correction', correctionWords(run.correction)],
              ...(run.correction?.kind === 'made'
                ? run.correction.matrix.map((row, i): Row => [
                    i ? '' : 'matrix',
                    row.map((v) => v.toFixed(5)).join('  '),
                  ])
                : []),
            ]}
          />
          <Facts
            title="Display"
            rows={[
              ['display', display ? `${display.maker} ${display.model}` : review.displayName],
              ['serial', display?.serial],
              ['panel', display && panelKinds[display.panelKind]],
              ['firmware then', proved.firmware],
              ['tables', proved.tables],
              ['profile', run.profileHash],
            ]}
          />
        </div>
        <div className="stack">
          <Plane title="Conditions" aside={conditions.length ? String(conditions.length) : 'none were looked at'}>
            {conditions.length > 0 && (
              <table className="figures people">
                <tbody>
                  {conditions.map((c) => (
                    <tr key={c.id}>
                      <td>{c.label}</td>
                      <td className={c.ok ? 'second' : 'asks'} style={{ textAlign: 'left' }}>
                        {c.found}
                        {typeof c.confirm === 'object' && (
                          <span className="quiet">
                            , looked at by {c.confirm.by}, {formatMoment(c.confirm.at)}
                          </span>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </Plane>
          <Plane title="Raw readings" aside={<a href={`/api/runs/${run.id}/report?as=cgats`}>save as CGATS</a>}>
            <div className="sidescroll readings" tabIndex={0} role="region" aria-label="Raw readings">
              <table className="figures">
                <thead>
                  <tr>
                    <th>Patch</th>
                    <th>R, G, B</th>
                    <th>X</th>
                    <th>Y</th>
                    <th>Z</th>
                    <th>Stage</th>
                  </tr>
                </thead>
                <tbody>
                  {run.log.slice(0, shownReadings).map((r) => (
                    <tr key={r.seq}>
                      <td>{r.name}</td>
                      <td className="fig">{r.rgb.map((v) => v.toFixed(3)).join(' ')}</td>
                      {r.xyz.map((v, i) => (
                        <td key={i} className="fig">
                          {v.toFixed(4)}
                        </td>
                      ))}
                      <td className="second">{stageLabels[r.stage]}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {run.log.length > shownReadings && (
                <p className="small quiet" style={{ padding: 12 }}>
                  and {(run.log.length - shownReadings).toLocaleString('en')} more in the file
                </p>
              )}
            </div>
          </Plane>
        </div>
      </div>
    </>
  )
}

/** Readings that are shown; imported runs have thousands. */
const shownReadings = 600

const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10)

function correctionWords(correction: Correction | null): string {
  if (!correction || correction.kind === 'none') return 'none'
  if (correction.kind === 'own') return `the instrument’s own, for ${panelKinds[correction.panelKind]}`
  return `made on ${correction.displayName}, ${dayOf(correction.madeAt)}, leaves ${correction.residual.toFixed(4)} Δu′v′`
}

type Row = readonly [name: string, value: string | number | null | undefined]

const Facts = ({
  title,
  rows,
}: {
  title: string
  rows: readonly (readonly (string | number | null | undefined)[])[]
}) => (
  <Plane title={title}>
    <table className="figures people facts">
      <tbody>
        {rows
          .filter(([, value]) => value !== undefined && value !== null)
          .map(([name, value], i) => (
            <tr key={`${name} ${i}`}>
              <td className="second">{name}</td>
              <td className={/^[0-9a-f]{64}$/.test(String(value)) ? 'fig' : ''}>{value}</td>
            </tr>
          ))}
      </tbody>
    </table>
  </Plane>
)
