import { Button, Dropdown, Segmented, Select } from 'antd'
import { lazy, Suspense, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { describeAim, edgesUnder, formulaOf, judgeRule, type Judgement } from '@bichroma/core/aims'
import { differenceFormulas, differenceLabels, type DifferenceFormula } from '@bichroma/core/color'
import { runKinds } from '@bichroma/core/runs'
import { roleCovers, type RunReview } from '@bichroma/contract'
import { ask } from '../api/client'
import { useReview, useSend, useSession } from '../api/queries'
import { ChromaticityDiagram } from '../charts/ChromaticityDiagram'
import { GreyChart } from '../charts/GreyChart'
import { ToneChart } from '../charts/ToneChart'
import { AimRing } from '../parts/AimRing'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { VerdictSign } from '../parts/VerdictSign'
import { AchievedTable } from './AchievedTable'
import { PatchTable } from './PatchTable'
import { RebuildProfile } from './RebuildProfile'
import { RunProfile } from './RunProfile'
import { ScreenMap } from './ScreenMap'
import { Anew, WithdrawValidation, Withdrawn } from './WithdrawValidation'
import './review.css'

// The parts that carry a library or a worker of their own come when they are looked at.
const GamutView = lazy(() => import('./gamut/GamutView'))
const Pictures = lazy(() => import('./pictures/Pictures'))

/** What one run achieved. */
export function ReviewPage() {
  const id = Number(useParams().id)
  return <Loaded query={useReview(id)}>{(review) => <ReviewOf key={review.run.id} review={review} />}</Loaded>
}

const views = [
  { value: 'tone', label: 'Tone' },
  { value: 'grey', label: 'Greys' },
  { value: 'colour', label: 'Chromaticity' },
  { value: 'gamut', label: 'Gamut' },
  { value: 'screen', label: 'Screen' },
  { value: 'pictures', label: 'Pictures' },
  { value: 'profile', label: 'Profile' },
] as const
type View = (typeof views)[number]['value']
/** Views that take the room of the patches too. */
const wide: readonly View[] = ['gamut', 'pictures', 'profile']

/** The judgement under another formula: its own edges, or none. */
function under(
  { metrics, judgement, limits }: RunReview,
  formula: DifferenceFormula,
): Pick<Judgement, 'rules' | 'formula'> {
  if (formula === formulaOf(limits)) return judgement
  const edges = edgesUnder(limits, formula) ?? []
  return { formula, rules: edges.map((rule) => judgeRule(metrics, rule, formula)) }
}

function ReviewOf({ review }: { review: RunReview }) {
  const { run, metrics, limits } = review
  const [view, setView] = useState<View>('tone')
  const [formula, setFormula] = useState(formulaOf(limits))
  const isWide = wide.includes(view)
  return (
    <div className={`reviewpage${isWide ? ' wide' : ''}`}>
      <Head review={review} />
      <div className="left">
        <Plane
          title="Aim and achieved"
          aside={
            <Select<DifferenceFormula>
              size="small"
              aria-label="Colour differences shown by"
              value={formula}
              onChange={setFormula}
              popupMatchSelectWidth={false}
              options={differenceFormulas.map((value) => ({
                value,
                label: value === formulaOf(limits) ? `${differenceLabels[value]}, judged by` : differenceLabels[value],
              }))}
            />
          }
        >
          <AchievedTable metrics={metrics} judgement={under(review, formula)} />
          {formula !== formulaOf(limits) && (
            <p className="second small" style={{ padding: '6px 12px 10px' }}>
              The verdict is by {differenceLabels[formulaOf(limits)]}.{' '}
              {edgesUnder(limits, formula)
                ? `Figures by ${differenceLabels[formula]} have edges of their own here.`
                : `These limits have no edges for ${differenceLabels[formula]}, so its figures are only shown.`}
            </p>
          )}
        </Plane>
        {review.baseline && runKinds[run.kind].writes && (
          <Plane title="Before, tables bypassed" aside="the raw panel">
            <p style={{ padding: '0 12px 10px' }} className="second">
              Average <span className="fig">{review.baseline.averageDeltaE.toFixed(2)}</span>, worst{' '}
              <span className="fig">{review.baseline.worstDeltaE.toFixed(2)}</span> ΔE; white off by{' '}
              <span className="fig">{review.baseline.whiteDeltaUv.toFixed(4)}</span> Δu′v′,{' '}
              {review.baseline.luminance.toFixed(1)} cd/m².
            </p>
          </Plane>
        )}
      </div>
      <section className="plane chartplane" aria-label="View">
        <div className="head">
          <Segmented<View> size="small" aria-label="View shown" value={view} onChange={setView} options={[...views]} />
        </div>
        <div className="chart">
          {(view === 'tone' || view === 'grey') && review.previous?.run.judged && (
            <p className="quiet small dashedword">dashed: {formatDay(review.previous.run.judged.at)}</p>
          )}
          {view === 'tone' && (
            <ToneChart metrics={metrics} previous={review.previous?.metrics ?? null} limits={limits} />
          )}
          {view === 'grey' && (
            <GreyChart metrics={metrics} previous={review.previous?.metrics ?? null} limits={limits} />
          )}
          {view === 'colour' && (
            <ChromaticityDiagram metrics={metrics} baseline={review.baseline} trail={review.trail} />
          )}
          {view === 'screen' && <ScreenMap uniformity={review.uniformity} displayId={run.displayId} slot={run.slot} />}
          {view === 'profile' && <RunProfile runId={run.id} has={review.profileHash !== null} />}
          <Suspense fallback={<p className="none">Loading…</p>}>
            {view === 'gamut' && <GamutView review={review} />}
            {view === 'pictures' && <Pictures review={review} />}
          </Suspense>
        </div>
      </section>
      {!isWide && <PatchTable metrics={metrics} formula={formula} />}
    </div>
  )
}

function Head({ review }: { review: RunReview }) {
  const { run, metrics, judgement } = review
  const navigate = useNavigate()
  const role = useSession().data?.account?.role ?? 'viewer'
  const place = useSend(async () => {
    await ask('POST', '/placements', { runId: run.id })
    void navigate(`/rollout?display=${run.displayId}`)
  })
  const report = (query: string) => `/api/runs/${run.id}/report${query}`
  return (
    <header>
      <AimRing aim={metrics.aimWhite} measured={metrics.white} verdict={judgement.verdict} size={52} />
      <div style={{ minWidth: 0 }}>
        <h1>
          <Link to={`/register/${run.displayId}`} style={{ textDecoration: 'none' }}>
            {review.displayName}
          </Link>
          , slot {run.slot}, {run.label}
        </h1>
        <p className="verdict" style={{ whiteSpace: 'normal' }}>
          <VerdictSign verdict={judgement.verdict} /> <span>{judgement.sentence}</span>
        </p>
        <p className="second">
          {run.imported ? `Imported from ${run.imported.fileName}` : runKinds[run.kind].label},{' '}
          {formatDay(run.judged?.at ?? run.endedAt ?? run.startedAt)} · {describeAim(review.aim)} · {run.instrument} ·{' '}
          {run.startedBy} <WithdrawValidation run={run} />
        </p>
        {run.withdrawn && <Withdrawn withdrawn={run.withdrawn} />}
        {run.anew && <Anew anew={run.anew} instrument={run.instrument} />}
      </div>
      <div className="acts">
        {review.previous && (
          <Button onClick={() => void navigate(`/review/compare?a=${review.previous!.run.id}&b=${run.id}`)}>
            Compare
          </Button>
        )}
        <Dropdown
          trigger={['click']}
          menu={{
            items: [
              {
                key: 'html',
                label: (
                  <a href={report('')} target="_blank" rel="noreferrer">
                    Open report
                  </a>
                ),
              },
              { key: 'pdf', label: <a href={report('?as=pdf')}>Save as PDF</a> },
              { key: 'whole', label: <a href={report('?as=pdf&evidence=1')}>Save as PDF with all evidence</a> },
              ...(review.profileHash
                ? [{ key: 'icc', label: <a href={`/api/runs/${run.id}/profile`}>Save the profile</a> }]
                : []),
              { key: 'csv', label: <a href={report('?as=csv')}>Save figures as CSV</a> },
              { key: 'cgats', label: <a href={report('?as=cgats')}>Save readings as CGATS</a> },
            ],
          }}
        >
          <Button>Save or open</Button>
        </Dropdown>
        <Button onClick={() => void navigate(`/review/${run.id}/evidence`)}>Evidence</Button>
        {!run.imported && <Button onClick={() => void navigate(`/runs/${run.id}`)}>Run sheet</Button>}
        {!run.imported && !run.withdrawn && runKinds[run.kind].settles && judgement.verdict !== 'outside' && (
          <RebuildProfile runId={run.id} has={review.profileHash !== null} />
        )}
        {review.profileHash && !run.withdrawn && roleCovers(role, 'technician') && (
          <Button type="primary" loading={place.isPending} onClick={() => place.mutate(undefined)}>
            Place profile
          </Button>
        )}
      </div>
    </header>
  )
}
