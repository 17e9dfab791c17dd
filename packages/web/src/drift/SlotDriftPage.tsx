import { Button, Segmented } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { formatMetric, metricLabel, formatSigned, type LimitedMetric } from '@bichroma/core/aims'
import { signedKey } from '@bichroma/core/drift'
import type { RuleDrift, SlotHistory } from '@bichroma/contract'
import { useSlotHistory } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { DriftChart } from './DriftChart'
import { forecastWords } from './DriftPage'
import './drift.css'

/** How one slot changed, figure by figure, and what its trends foretell. */
export function SlotDriftPage() {
  const id = Number(useParams().id)
  const [params] = useSearchParams()
  const slot = params.get('slot')
  return (
    <Loaded query={useSlotHistory(id, slot === null ? null : Number(slot))}>
      {(history) => <History key={`${id} ${history.slot}`} displayId={id} history={history} />}
    </Loaded>
  )
}

/** The newest figure of a rule as it is shown; luminance with its sign. */
function newestOf({ rule, key }: RuleDrift, { history }: SlotHistory): string {
  const value = history[history.length - 1]?.figures[key]
  if (value === undefined) return '–'
  return key === signedKey ? `${formatSigned(value, 1)} %` : formatMetric(rule.metric, value)
}

function History({ displayId, history }: { displayId: number; history: SlotHistory }) {
  const navigate = useNavigate()
  const [, setParams] = useSearchParams()
  const { rules, formula } = history
  // The figure that will be past its edge first is what one came for.
  const first = rules.reduce<number>((best, r, i) => (rank(r) < rank(rules[best]) ? i : best), 0)
  const [chosen, setChosen] = useState(first)
  const rule = rules[chosen]
  const points = history.history
  return (
    <>
      <div className="top">
        <div>
          <h1>
            <Link to={`/register/${displayId}`} style={{ textDecoration: 'none' }}>
              {history.displayName}
            </Link>
            , slot {history.slot}, {history.label || 'empty'}
          </h1>
          <p>
            {points.length
              ? `${points.length} validations since ${formatDay(points[0].at)}, judged by “${history.limitsName}”`
              : 'Not validated yet'}
          </p>
        </div>
        <div className="acts">
          {history.slots.length > 1 && (
            <Segmented
              aria-label="Slot shown"
              value={history.slot}
              onChange={(slot) => setParams({ slot: String(slot) })}
              options={history.slots.map((s) => ({ value: s.number, label: `${s.number} ${s.label}` }))}
            />
          )}
          {points.length > 1 && (
            <Button
              onClick={() =>
                void navigate(
                  `/review/compare?a=${points[points.length - 2].runId}&b=${points[points.length - 1].runId}`,
                )
              }
            >
              Compare the last two
            </Button>
          )}
        </div>
      </div>
      {!rule ? (
        <p className="none">A curve begins with the first validation of this slot.</p>
      ) : (
        <div className="slotdrift">
          <Plane
            title={metricLabel(rule.rule.metric, { formula, levels: rule.rule.levels })}
            aside="dots read, line and band the trend, thin lines the edges"
          >
            <div className="chart">
              <DriftChart history={history} rule={rule} />
            </div>
            <p style={{ padding: '0 14px 12px' }}>{rule.forecast.sentence}</p>
          </Plane>
          <div style={{ display: 'grid', gap: 14 }}>
            <Plane title="Figures with limits" aside="newest; leaves its limits">
              <ul className="rulechoice">
                {rules.map((r, i) => (
                  <li key={r.key}>
                    <button type="button" aria-pressed={i === chosen} onClick={() => setChosen(i)}>
                      <span>{metricLabel(r.rule.metric, { formula, levels: r.rule.levels })}</span>
                      <span className="fig">{newestOf(r, history)}</span>
                      <small>{movement(r)}</small>
                    </button>
                  </li>
                ))}
              </ul>
            </Plane>
            <Plane title="What happened to it">
              <ul className="eventlist" tabIndex={0} aria-label="What happened to it">
                {[...history.events].reverse().map((e) => (
                  <li key={`${e.at} ${e.text}`}>
                    <span className="fig second" style={{ minWidth: 84 }}>
                      {formatDay(e.at)}
                    </span>
                    {e.text}
                  </li>
                ))}
              </ul>
            </Plane>
          </div>
        </div>
      )}
    </>
  )
}

const rank = ({ forecast: f }: RuleDrift) => (f.kind === 'past' ? 0 : f.kind === 'crosses' ? f.at : Infinity)

/** How a figure moves in a month, and when it is past its hard edge. */
function movement({ rule, trend, forecast }: RuleDrift): string {
  const when =
    forecast.kind === 'crosses' && forecast.at > Date.now()
      ? `leaves ${forecastWords(forecast)}`
      : forecastWords(forecast)
  if (!trend) return when
  return `${formatSigned(30 * trend.slope, digitsOf(rule.metric))} a month; ${when}`
}

const digitsOf = (metric: LimitedMetric) => (metric.endsWith('Uv') ? 5 : metric === 'contrast' ? 0 : 3)
