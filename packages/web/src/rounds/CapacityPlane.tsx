import { Button } from 'antd'
import { useState } from 'react'
import type { Capacity, PlanStanding, Week } from '@bichroma/contract'
import { useCapacity } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'

const percent = (share: number) => `${Math.round(100 * share)} %`

/** How busy everybody and everything is by this plan, and what one thing more would come to. */
export function CapacityPlane({ plan, week }: { plan: PlanStanding; week: Week }) {
  const [asked, ask] = useState(false)
  const capacity = useCapacity(asked)
  const loads = [
    ...plan.load.people.map((p) => ({ ...p, name: week.people.find((q) => q.id === p.id)?.name })),
    ...plan.load.instruments.map((i) => ({ ...i, name: week.instruments.find((q) => q.id === i.id)?.name })),
  ].flatMap(({ name, busy, of }) => (name && of ? [{ name, share: busy / of }] : []))
  return (
    <Plane title="What there is time for" aside={`${Math.round(plan.walk)} min of walking`}>
      <div className="inside">
        <table className="figures loads">
          <tbody>
            {loads.map((l) => (
              <tr key={l.name}>
                <td>{l.name}</td>
                <td style={{ width: '40%' }}>
                  <span className="loadbar" aria-hidden>
                    <i style={{ width: `${Math.min(100, 100 * l.share)}%` }} />
                  </span>
                </td>
                <td className="fig">{percent(l.share)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {asked ? (
          <Loaded query={capacity}>{(c) => <Outcomes capacity={c} />}</Loaded>
        ) : (
          <Button onClick={() => ask(true)} style={{ marginTop: 10 }}>
            What if there were one more?
          </Button>
        )}
      </div>
    </Plane>
  )
}

/** To one figure: it is reckoned from hours alone. */
const roughly = (count: number) => Number(count.toPrecision(count < 100 ? 2 : 1)).toLocaleString('en')

function Outcomes({ capacity: { displays, keeps, tightest, outcomes } }: { capacity: Capacity }) {
  const [asItIs, ...others] = outcomes
  const better = others.filter((o) => o.planned > asItIs.planned || o.lateness < asItIs.lateness - 0.05)
  return (
    <>
      <p style={{ margin: '10px 0' }}>
        {keeps >= displays
          ? `All ${displays} displays can be kept. By hours alone there is time for about ${roughly(keeps)}.`
          : `${keeps} of ${displays} displays can be kept in time.`}{' '}
        {tightest && (
          <>
            Busiest is {tightest.name}, {percent(tightest.share)} of the time.
          </>
        )}
      </p>
      {outcomes.length > 1 && better.length === 0 && (
        <p className="second">Nothing is short: one thing more of anything changes nothing.</p>
      )}
      {better.length > 0 && (
        <table className="figures">
          <thead>
            <tr>
              <th>With</th>
              <th>planned</th>
              <th>late</th>
              <th>days late</th>
            </tr>
          </thead>
          <tbody>
            {[asItIs, ...better].map((o) => (
              <tr key={o.name}>
                <td>{o.name}</td>
                <td className="fig">{o.planned}</td>
                <td className="fig">{o.late}</td>
                <td className="fig">{o.lateness.toFixed(1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
