import { useDraggable } from '@dnd-kit/core'
import { clockIn } from '@bichroma/core/rounds'
import type { Visit } from '@bichroma/contract'
import { AimRing } from '../parts/AimRing'
import { placeOf, type DayColumn } from './weekScale'
import { laneHeight, rowPadding, type Bar } from './weekRows'

/** A visit: its display's ring at the head, its due line as a tick. */
export function VisitBar({
  bar: { visit, left, width, takes, lane },
  columns,
  zone,
  chosen,
  mayMove,
  onChoose,
}: {
  bar: Bar
  columns: readonly DayColumn[]
  zone: string
  chosen: boolean
  mayMove: boolean
  onChoose: (visit: Visit) => void
}) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({
    id: `v${visit.id}`,
    disabled: !mayMove,
  })
  const due = placeOf(columns, visit.dueAt)
  const isLate = visit.at !== null && visit.dueAt < visit.at
  const { display } = visit
  const label = `${display.name}, ${clockIn(visit.at!, zone)} to ${clockIn(visit.endsAt!, zone)}, ${display.room}${visit.pinned ? ', pinned' : ''}${visit.state === 'planned' ? '' : `, ${visit.state}`}`
  const y = rowPadding / 2 + lane * laneHeight
  return (
    <>
      {due !== null && chosen && (
        <svg
          className="duetick"
          style={{ top: y, left: Math.min(due, left), width: Math.abs(left - due) + 2 }}
          height={22}
          aria-hidden
        >
          <path
            d={due <= left ? `M1 11H${left - due}` : `M${width} 11H${due - left}`}
            stroke={isLate ? 'var(--ochre)' : 'var(--text-3)'}
            strokeWidth="1.5"
            strokeDasharray="3 3"
          />
        </svg>
      )}
      {due !== null && (
        <span className={isLate ? 'duetick late' : 'duetick'} style={{ top: y + 3, left: due }} title="its due line" />
      )}
      <button
        type="button"
        ref={setNodeRef}
        className={`visit ${visit.state}${chosen ? ' chosen' : ''}${visit.pinned ? ' pinned' : ''}`}
        style={{
          left,
          width,
          top: y,
          ...(transform && { transform: `translate(${transform.x}px, ${transform.y}px)` }),
          ...(isDragging && { zIndex: 5 }),
        }}
        {...attributes}
        {...listeners}
        aria-label={label}
        title={label}
        onClick={() => onChoose(visit)}
        onFocus={() => onChoose(visit)}
      >
        <AimRing aim={display.aimWhite} measured={display.white} verdict={display.verdict} size={18} />
        {width > 46 && <span>{display.name}</span>}
        <i style={{ width: takes }} />
      </button>
    </>
  )
}
