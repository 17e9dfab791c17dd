import { Link } from 'react-router'
import { usePutAway } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'

/** Displays that are stored or retired, the newest first. */
export function PutAwayPage() {
  return (
    <>
      <div className="top">
        <div>
          <h1>Put away</h1>
          <p>
            <Link to="/register">Register</Link> · displays that are stored or retired, with their history
          </p>
        </div>
      </div>
      <Loaded query={usePutAway()}>
        {(displays) => (
          <Plane title="Displays" aside={String(displays.length)}>
            {displays.length ? (
              <div className="sideways">
                <table className="figures people">
                  <thead>
                    <tr>
                      <th>Display</th>
                      <th>Model</th>
                      <th>Is</th>
                      <th>Stood at</th>
                      <th>Why</th>
                    </tr>
                  </thead>
                  <tbody>
                    {displays.map((d) => (
                      <tr key={d.id}>
                        <td>
                          <Link to={`/register/${d.id}`}>{d.name}</Link> <span className="fig quiet">{d.serial}</span>
                        </td>
                        <td>
                          {d.maker} {d.model}
                        </td>
                        <td>
                          {d.kept} <span className="quiet">since {formatDay(d.keptSince)}</span>
                        </td>
                        <td className="second">
                          {d.workstation}, {d.room}
                        </td>
                        <td className="second">{d.keptWhy}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            ) : (
              <p className="none">No display is stored or retired.</p>
            )}
          </Plane>
        )}
      </Loaded>
    </>
  )
}
