import { Button, Segmented } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { describeAim, runKinds } from '@bichroma/core'
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
import './review.css'

/** What one run achieved. */
export function ReviewPage() {
  const id = Number(useParams().id)
  return <Loaded query={useReview(id)}>{(review) => <ReviewOf key={review.run.id} review={review} />}</Loaded>
}

const charts = [
  { value: 'tone', label: 'Tone' },
  { value: 'grey', label: 'Greys' },
  { value: 'colour', label: 'Chromaticity' },
] as const
type Chart = (typeof charts)[number]['value']

function ReviewOf({ review }: { review: RunReview }) {
  const { run, metrics, judgement } = review
  const [chart, setChart] = useState<Chart>('tone')
  const navigate = useNavigate()
  const role = useSession().data?.account?.role ?? 'viewer'
  const place = useSend(async () => {
    await ask('POST', '/placements', { runId: run.id })
    void navigate('/rollout')
  })
  return (
    <div className="reviewpage">
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
            <VerdictSign verdict={judgement.verdict} /> {judgement.sentence}
          </p>
          <p className="second">
            {runKinds[run.kind].label}, {formatDay(run.judged?.at ?? run.endedAt ?? run.startedAt)} ·{' '}
            {describeAim(review.aim)} · {run.instrument} · {run.startedBy}
          </p>
        </div>
        <div className="acts">
          <Button onClick={() => void navigate(`/runs/${run.id}`)}>Run sheet</Button>
          <Button href={`/api/runs/${run.id}/report`} target="_blank">
            Open report
          </Button>
          {runKinds[run.kind].settles && judgement.verdict !== 'outside' && (
            <RebuildProfile runId={run.id} has={review.profileHash !== null} />
          )}
          {review.profileHash && (
            <>
              <Button href={`/api/runs/${run.id}/profile`}>Save profile</Button>
              {roleCovers(role, 'technician') && (
                <Button type="primary" loading={place.isPending} onClick={() => place.mutate(undefined)}>
                  Place profile
                </Button>
              )}
            </>
          )}
        </div>
      </header>
      <div className="left">
        <Plane title="Aim and achieved">
          <AchievedTable metrics={metrics} judgement={judgement} />
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
      <section className="plane chartplane" aria-label="Curves">
        <div className="head">
          <Segmented size="small" aria-label="Curve shown" value={chart} onChange={setChart} options={[...charts]} />
          <span className="quiet small">
            {chart !== 'colour' && review.previous ? 'previous dashed' : 'measured solid, aim thin'}
          </span>
        </div>
        <div className="chart">
          {chart === 'tone' && <ToneChart metrics={metrics} previous={review.previous} />}
          {chart === 'grey' && <GreyChart metrics={metrics} previous={review.previous} />}
          {chart === 'colour' && <ChromaticityDiagram metrics={metrics} baseline={review.baseline} />}
        </div>
      </section>
      <PatchTable metrics={metrics} />
    </div>
  )
}
