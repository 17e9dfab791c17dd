import { describeAim, whiteChromaticity, formatTemperature } from '@bichroma/core/aims'
import type { Slot } from '@bichroma/contract'
import { AimRing } from '../parts/AimRing'
import { formatDay } from '../parts/times'
import { VerdictLabel } from '../parts/VerdictSign'
import './rack.css'

interface Props {
  slots: readonly Slot[]
  /** When given, slots can be chosen. */
  onChoose?: (slot: number) => void
  chosen?: number
}

/** The slots of one display drawn together, each with what it holds. */
export function Rack({ slots, onChoose, chosen }: Props) {
  return (
    <div className="rack" role={onChoose ? 'radiogroup' : undefined} aria-label={onChoose ? 'Slot' : undefined}>
      {slots.map((slot) => {
        const content = <Drawer slot={slot} />
        const className = `drawer ${slot.active ? 'shown' : ''} ${chosen === slot.number ? 'chosen' : ''}`
        return onChoose ? (
          <button
            key={slot.number}
            type="button"
            role="radio"
            aria-checked={chosen === slot.number}
            className={className}
            onClick={() => onChoose(slot.number)}
          >
            {content}
          </button>
        ) : (
          <div key={slot.number} className={className}>
            {content}
          </div>
        )
      })}
    </div>
  )
}

function Drawer({ slot }: { slot: Slot }) {
  const { judged, aim } = slot
  const aimWhite =
    judged?.aimWhite ?? (aim && aim.white.kind !== 'panel' ? whiteChromaticity(aim.white, { x: 0, y: 0 }) : null)
  return (
    <>
      <span className="no">{slot.number}</span>
      <AimRing aim={aimWhite} measured={judged?.white ?? null} verdict={judged?.verdict ?? 'unproven'} size={34} />
      <span className="what">
        <b>{slot.unsure ? 'Unsure' : (slot.label ?? 'Empty')}</b>
        <small>
          {slot.unsure ? 'a write was cut short: write it again' : aim ? describeAim(aim) : 'nothing of ours in it'}
        </small>
        {slot.writtenAt !== null && !slot.unsure && <small>written {formatDay(slot.writtenAt)}</small>}
      </span>
      {judged ? (
        <>
          <span>
            <span className="fig">{judged.luminance.toFixed(1)}</span>
            <small>cd/m²</small>
          </span>
          <span>
            <span className="fig">{formatTemperature(judged.whiteTemperature)}</span>
            <small>white</small>
          </span>
          <span>
            <span className="fig">
              {judged.averageDeltaE.toFixed(2)} · {judged.worstDeltaE.toFixed(2)}
            </span>
            <small>average · worst ΔE</small>
          </span>
        </>
      ) : (
        <span className="quiet" style={{ gridColumn: 'span 3' }}>
          {slot.label ? 'never proved' : ''}
        </span>
      )}
      <span>{slot.label && <VerdictLabel verdict={judged?.verdict ?? 'unproven'} />}</span>
      {slot.active && <span className="tag">shown now</span>}
    </>
  )
}
