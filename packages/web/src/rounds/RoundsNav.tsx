import { NavLink } from 'react-router'
import './week.css'

/** The views of rounds. */
export function RoundsNav() {
  return (
    <span className="roundsnav">
      <NavLink to="/rounds" end>
        Due lines
      </NavLink>
      <NavLink to="/rounds/week">Week</NavLink>
      <NavLink to="/rounds/tour">Tour</NavLink>
      <NavLink to="/rounds/rules">Rules and days</NavLink>
      <NavLink to="/rounds/house">Hours and ways</NavLink>
    </span>
  )
}
