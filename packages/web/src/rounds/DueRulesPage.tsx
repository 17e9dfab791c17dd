import { Button } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { panelKinds } from '@bichroma/core/register'
import type { DueRules } from '@bichroma/contract'
import { ask } from '../api/client'
import { useDueRules, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { AddDay, AddRule, levelWords } from './DueForms'
import { RoundsTop } from './RoundsTop'
import './house.css'

/** When displays fall due: rules of days, days that matter, and what rests. */
export function DueRulesPage() {
  return <Loaded query={useDueRules()}>{(rules) => <Rules rules={rules} />}</Loaded>
}

function Rules({ rules: { rules, usual, own, days, resting } }: { rules: DueRules }) {
  const admin = useSession().data?.account?.role === 'administrator'
  const [adding, add] = useState<'rule' | 'day' | null>(null)
  const remove = useSend((path: string) => ask('DELETE', path))
  const removeRule = useSend((r: DueRules['rules'][number]) =>
    ask('PUT', '/due-rules', {
      level: r.level,
      everyDays: null,
      ...(r.level === 'panel' ? { panel: r.subject } : r.level !== 'studio' && { of: Number(r.subject) }),
    }),
  )
  return (
    <>
      <RoundsTop title="Rules and days" />
      <div className="house">
        <div>
          <Plane
            title="Days between checks"
            aside={
              admin && (
                <Button size="small" onClick={() => add('rule')}>
                  Add a rule
                </Button>
              )
            }
          >
            <p className="second" style={{ padding: '0 12px 8px' }}>
              The nearest holds: a display’s own, then its room’s, its aim’s, its limits’, its panel’s, the studio’s,
              and last what is usual. {own} {own === 1 ? 'display has' : 'displays have'} days of{' '}
              {own === 1 ? 'its' : 'their'} own.
            </p>
            <table className="figures">
              <thead>
                <tr>
                  <th>For</th>
                  <th>days</th>
                  <th>displays</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {rules.map((r) => (
                  <tr key={`${r.level} ${r.subject}`}>
                    <td>
                      {r.level === 'studio' ? 'the studio' : `${levelWords[r.level]} ${r.name}`}
                      <br />
                      <span className="small quiet">
                        {formatDay(r.changedAt)}, {r.changedBy}
                      </span>
                    </td>
                    <td className="fig">{r.everyDays}</td>
                    <td className="fig">{r.displays}</td>
                    <td>
                      {admin && (
                        <Button size="small" onClick={() => removeRule.mutate(r)}>
                          Remove rule
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
                {usual.map((u) => (
                  <tr key={u.panel}>
                    <td>
                      {panelKinds[u.panel]} <span className="small quiet">as is usual. {u.why}</span>
                    </td>
                    <td className="fig quiet">{u.days}</td>
                    <td className="fig quiet">{u.displays}</td>
                    <td />
                  </tr>
                ))}
              </tbody>
            </table>
          </Plane>
        </div>
        <div>
          <Plane
            title="Days that matter"
            aside={
              admin && (
                <Button size="small" onClick={() => add('day')}>
                  Add a day
                </Button>
              )
            }
          >
            <ul className="waylist">
              {days.map((d) => (
                <li key={d.id}>
                  <span>
                    {d.name}, {formatDay(dayjs(d.date).valueOf())}
                    <br />
                    <span className={d.lacking ? 'small asks' : 'small quiet'}>
                      {d.ofName}:{' '}
                      {d.lacking
                        ? `${d.lacking} of ${d.displays} to be proven in the ${d.freshDays} days before`
                        : `all ${d.displays} are proven freshly enough`}
                    </span>
                  </span>
                  {admin && (
                    <Button size="small" onClick={() => remove.mutate(`/due-days/${d.id}`)}>
                      Remove day
                    </Button>
                  )}
                </li>
              ))}
              {!days.length && (
                <li className="quiet">
                  None: a delivery, a grading session, an exhibition that displays must be proven for.
                </li>
              )}
            </ul>
          </Plane>
          <Plane title="At rest" aside={resting.length || undefined} style={{ marginTop: 14 }}>
            <ul className="waylist">
              {resting.map((r) => (
                <li key={r.id}>
                  <span>
                    <Link to={`/register/${r.id}`}>{r.name}</Link> <span className="small quiet">{r.room}</span>
                    <br />
                    <span className="small quiet">
                      {r.kind}
                      {r.until && ` until ${r.until}`}, said {r.by}: {r.why}
                    </span>
                  </span>
                </li>
              ))}
              {!resting.length && <li className="quiet">None. A display is let rest on its own page.</li>}
            </ul>
          </Plane>
        </div>
      </div>
      {adding === 'rule' && <AddRule onClose={() => add(null)} />}
      {adding === 'day' && <AddDay onClose={() => add(null)} />}
    </>
  )
}
