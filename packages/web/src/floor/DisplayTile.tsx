import { Link } from 'react-router'
import { formatTemperature, whiteChromaticity } from '@bichroma/core/aims'
import type { DisplayListing } from '@bichroma/contract'
import { AimRing } from '../parts/AimRing'
import { formatDueLine } from '../parts/times'
import { AstraySign } from '../parts/AstraySign'
import { VerdictSign } from '../parts/VerdictSign'

/** How much room there is: few displays tell more, many their figure and due line, a crowd only ring, name and sign. */
export type Density = 'roomy' | 'tiles' | 'chips'

/** One display on the floor. */
export function DisplayTile({ display, density }: { display: DisplayListing; density: Density }) {
  const chip = density === 'chips'
  const roomy = density === 'roomy'
  const { judged, white } = display
  const aimWhite =
    judged?.aimWhite ?? (white && white.kind !== 'panel' ? whiteChromaticity(white, { x: 0.3127, y: 0.329 }) : null)
  const ring = (
    <AimRing
      aim={aimWhite}
      measured={judged?.white ?? null}
      verdict={display.verdict}
      size={chip ? 20 : roomy ? 52 : 30}
    />
  )
  const name = (
    <span className="name">
      {display.name}
      {display.astray && <AstraySign astray={display.astray} />}
      <VerdictSign verdict={display.verdict} />
    </span>
  )
  const asks = display.verdict === 'outside'
  // Where there is little room, days are days by their letter.
  const due = roomy ? formatDueLine(display) : formatDueLine(display).replace(/ days? /, ' d ')
  const className = `tile ${asks ? 'ask' : ''} ${display.runId ? 'on' : ''} ${density}`
  if (chip)
    return (
      <Link className={className} to={`/register/${display.id}`}>
        {ring}
        {name}
      </Link>
    )
  return (
    <Link className={className} to={`/register/${display.id}`}>
      {ring}
      <div>
        {name}
        {roomy && (
          <span className="aim">{display.label ? `${display.label}, ${display.luminance} cd` : 'slot is empty'}</span>
        )}
        {roomy && judged && (
          <span className="aim">
            <span className="fig second">{judged.luminance.toFixed(1)}</span> cd/m²
            <br />
            <span className="fig second">{formatTemperature(judged.whiteTemperature)}</span> white
          </span>
        )}
      </div>
      <div className="foot">
        {judged ? (
          <span>
            <span className="fig">{judged.averageDeltaE.toFixed(2)}</span> {roomy && <span className="unit">ΔE</span>}
          </span>
        ) : (
          <span className="quiet">never read</span>
        )}
        {display.runId ? (
          <span className="runs">in a run</span>
        ) : (
          (judged || roomy) && <span className={display.dueState === 'overdue' ? 'asks' : 'quiet'}>{due}</span>
        )}
      </div>
    </Link>
  )
}
