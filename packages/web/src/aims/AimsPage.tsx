import { Button, Segmented } from 'antd'
import { useNavigate, useParams } from 'react-router'
import {
  describeAim,
  formatEdge,
  formatMetric,
  formulaOf,
  limitedMetrics,
  metricLabel,
  type Aim,
  type Limits,
} from '@bichroma/core/aims'
import { useAims, useLimits, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { AimEditor } from './AimEditor'
import { LimitsEditor } from './LimitsEditor'
import './aims.css'

const newAim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const newLimits: Limits = {
  rules: [
    { metric: 'averageDeltaE', near: 1, hard: 1.5 },
    { metric: 'worstDeltaE', near: 2.5, hard: 4 },
    { metric: 'whiteDeltaUv', near: 0.003, hard: 0.006 },
    { metric: 'luminanceOff', near: 4, hard: 8 },
  ],
}

/** What displays shall reach, and how far they may be off. */
export function AimsPage() {
  const { kind = 'aims', id } = useParams()
  const navigate = useNavigate()
  const mayEdit = useSession().data?.account?.role === 'administrator'
  const isAims = kind !== 'limits'
  return (
    <>
      <div className="top">
        <div>
          <h1>Aims and limits</h1>
          <p>
            {isAims
              ? 'What a slot shall reach. A run keeps the aim as it was when the run began.'
              : 'How far a figure may be off: to the near edge without a word, to the hard edge with one.'}
          </p>
        </div>
        <div className="acts">
          <Segmented
            aria-label="What is listed"
            value={isAims ? 'aims' : 'limits'}
            onChange={(value) => void navigate(`/aims/${value}`)}
            options={[
              { value: 'aims', label: 'Aims' },
              { value: 'limits', label: 'Limits' },
            ]}
          />
          {mayEdit && (
            <Button onClick={() => void navigate(`/aims/${isAims ? 'aims' : 'limits'}/new`)}>
              {isAims ? 'Add aim' : 'Add limits'}
            </Button>
          )}
        </div>
      </div>
      {isAims ? <AimsOf id={id} mayEdit={mayEdit} /> : <LimitsOf id={id} mayEdit={mayEdit} />}
    </>
  )
}

function AimsOf({ id, mayEdit }: { id: string | undefined; mayEdit: boolean }) {
  return (
    <Loaded query={useAims()}>
      {(aims) => {
        const chosen = id === 'new' ? null : (aims.find((a) => a.id === Number(id)) ?? aims[0] ?? null)
        return (
          <div className="split">
            <Plane>
              <Choices
                path="/aims/aims"
                chosen={chosen?.id ?? null}
                items={aims.map((a) => ({ id: a.id, name: a.name, lines: [describeAim(a.aim)] }))}
              />
            </Plane>
            <AimEditor
              key={chosen ? `${chosen.id}-${chosen.updatedAt}` : 'new'}
              stored={chosen}
              initial={chosen?.aim ?? newAim}
              mayEdit={mayEdit}
            />
          </div>
        )
      }}
    </Loaded>
  )
}

function LimitsOf({ id, mayEdit }: { id: string | undefined; mayEdit: boolean }) {
  return (
    <Loaded query={useLimits()}>
      {(limits) => {
        const chosen = id === 'new' ? null : (limits.find((l) => l.id === Number(id)) ?? limits[0] ?? null)
        return (
          <div className="split roomy">
            <Plane>
              <Choices
                path="/aims/limits"
                chosen={chosen?.id ?? null}
                items={limits.map((l) => ({
                  id: l.id,
                  name: l.name,
                  lines: l.limits.rules.map(
                    (r) =>
                      `${metricLabel(r.metric, { formula: formulaOf(l.limits), levels: r.levels })} ${formatEdge(r.metric, r.near)}, at ${limitedMetrics[r.metric].atLeast ? 'least' : 'most'} ${formatMetric(r.metric, r.hard)}`,
                  ),
                }))}
              />
            </Plane>
            <LimitsEditor
              key={chosen ? `${chosen.id}-${chosen.updatedAt}` : 'new'}
              stored={chosen}
              initial={chosen?.limits ?? newLimits}
              mayEdit={mayEdit}
            />
          </div>
        )
      }}
    </Loaded>
  )
}

function Choices({
  path,
  chosen,
  items,
}: {
  path: string
  chosen: number | null
  items: { id: number; name: string; lines: string[] }[]
}) {
  const navigate = useNavigate()
  if (!items.length) return <p className="none">Nothing here yet. Add the first.</p>
  return (
    <ul className="choices">
      {items.map((item) => (
        <li key={item.id}>
          <button type="button" aria-current={item.id === chosen} onClick={() => void navigate(`${path}/${item.id}`)}>
            <b>{item.name}</b>
            {item.lines.map((line) => (
              <small key={line}>{line}</small>
            ))}
          </button>
        </li>
      ))}
    </ul>
  )
}
