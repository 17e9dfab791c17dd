import { Link } from 'react-router'
import { useAims, useLimits, usePulse, useRooms, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'

/** What an empty studio needs, in the order in which it is done; what is there already is ticked. */
export function FirstSteps() {
  const administrator = useSession().data?.account?.role === 'administrator'
  const rooms = useRooms().data?.length ?? 0
  const aims = useAims().data?.length ?? 0
  const limits = useLimits().data?.length ?? 0
  const pulse = usePulse().data
  const steps = [
    {
      done: rooms > 0,
      what: 'Add a room',
      why: 'Displays stand in rooms; their light is looked at too.',
      to: '/register',
    },
    {
      done: (pulse?.couriers ?? 0) > 0,
      what: 'Add a workstation',
      why: 'It gets a key, with which its courier connects to this server.',
      to: '/register',
    },
    {
      done: (pulse?.couriersOnline ?? 0) > 0,
      what: 'Start its courier',
      why: 'Then it reports its displays and instruments by itself.',
      to: '/register',
    },
    { done: limits > 0, what: 'Set limits', why: 'How far a figure may be off before it is told.', to: '/aims/limits' },
    { done: aims > 0, what: 'Set an aim', why: 'What a slot shall reach: white, light, tone and gamut.', to: '/aims' },
    { done: false, what: 'Add the first display', why: 'With its serial number, as it stands on it.', to: '/register' },
  ]
  const next = steps.find((s) => !s.done)
  return (
    <>
      <div className="top">
        <div>
          <h1>No screen is here yet</h1>
          <p>
            {administrator
              ? `Six steps to the first one; next: ${next?.what.toLowerCase()}`
              : 'An administrator adds rooms, workstations and displays'}
          </p>
        </div>
      </div>
      <Plane title="First steps" aside={`${steps.filter((s) => s.done).length} of ${steps.length} done`}>
        <ol className="firststeps">
          {steps.map((s) => (
            <li key={s.what} className={s.done ? 'done' : s === next ? 'now' : ''}>
              <i aria-hidden />
              <div>
                <b>{s.what}</b>
                {s.done && <span className="quiet"> · done</span>}
                <p className="second">{s.why}</p>
              </div>
              {administrator && s === next && (
                <Link className="act" to={s.to}>
                  {s.what}
                </Link>
              )}
            </li>
          ))}
        </ol>
      </Plane>
    </>
  )
}
