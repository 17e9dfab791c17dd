import { useDroppable } from '@dnd-kit/core'
import type { Week } from '@bichroma/contract'
import { placeOf, type DayColumn } from './weekScale'
import { laneHeight, rowPadding, type Bar, type RowKind, type WeekRow } from './weekRows'

/** One person, instrument or room, with the hours in which something can be done. */
export function WeekRowView({
  row,
  kind,
  week,
  columns,
  first,
  box,
  children,
}: {
  row: WeekRow
  kind: RowKind
  week: Week
  columns: readonly DayColumn[]
  first: boolean
  box: React.RefObject<HTMLDivElement | null> | null
  children: React.ReactNode
}) {
  const { setNodeRef, isOver } = useDroppable({ id: `row${row.id}` })
  const person = kind === 'people' ? week.people.find((p) => p.id === row.id) : undefined
  const spans = person?.hours ?? week.days.flatMap((d) => (d.desk ? [d.desk] : []))
  const height = row.lanes * laneHeight + rowPadding
  const nowAt = placeOf(columns, week.now)
  return (
    <div className={isOver ? 'weekrow over' : 'weekrow'} ref={setNodeRef} style={{ height }}>
      <span className="weekname" title={row.name}>
        {row.name}
        {person && person.off.length > 0 && <span className="small quiet"> {person.off.length} days off</span>}
      </span>
      <div className="weektime" ref={box}>
        <svg width="100%" height={height} aria-hidden>
          {columns.map((c) => (
            <path key={c.date} d={`M${c.left + 0.5} 0V${height}`} stroke="var(--line)" />
          ))}
          {spans.map((s, n) => {
            const [a, b] = [placeOf(columns, s.from), placeOf(columns, s.to)]
            return a === null || b === null || b <= a ? null : (
              <rect key={n} x={a} y="0" width={b - a} height={height} fill="var(--raised)" />
            )
          })}
          {kind === 'people' && <Ways row={row} columns={columns} height={height} />}
          {nowAt !== null && (
            <path d={`M${nowAt} 0V${height}`} stroke="var(--lake)" strokeWidth="1.5">
              {first && <title>now</title>}
            </path>
          )}
        </svg>
        {children}
      </div>
    </div>
  )
}

/** From room to room: a thin line between bars. */
function Ways({ row, columns, height }: { row: WeekRow; columns: readonly DayColumn[]; height: number }) {
  const bars = [...row.bars].sort((a, b) => a.visit.at! - b.visit.at!)
  const sameDay = (a: Bar, b: Bar) => {
    const of = (bar: Bar) => columns.find((c) => bar.visit.at! <= c.to)
    return of(a) === of(b)
  }
  return bars.slice(1).map((bar, n) => {
    const from = bars[n]
    if (from.visit.roomId === bar.visit.roomId || !sameDay(from, bar)) return null
    const y = (b: Bar) => rowPadding / 2 + b.lane * laneHeight + laneHeight / 2
    const x = from.left + from.width
    return (
      <path
        key={bar.visit.id}
        d={x < bar.left ? `M${x} ${y(from)}L${bar.left} ${y(bar)}` : `M${from.left + 6} ${height - 3}H${bar.left + 6}`}
        stroke="var(--text-3)"
        strokeWidth="1"
        fill="none"
      />
    )
  })
}
