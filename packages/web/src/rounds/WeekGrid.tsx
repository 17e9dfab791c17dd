import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type DragMoveEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core'
import { useEffect, useMemo, useRef, useState } from 'react'
import { dayWords, weekHouse, whatBreaks, type VisitMove } from '@bichroma/core/rounds'
import type { Visit, Week } from '@bichroma/contract'
import { AimRing } from '../parts/AimRing'
import { moveSentence } from './words'
import { dayColumns, instantAt, placeOf, type DayColumn } from './weekScale'
import { VisitBar } from './VisitBar'
import { WeekRowView } from './WeekRowView'
import { weekRows, type RowKind } from './weekRows'
import './week.css'

/** Steps of the arrow keys, minutes. */
const keyMinutes = 15

interface Props {
  readonly week: Week
  readonly rows: RowKind
  readonly day: string | null
  readonly chosen: number | null
  readonly mayMove: boolean
  readonly onDay: (day: string | null) => void
  readonly onChoose: (visit: Visit) => void
  readonly onMove: (visit: Visit, move: VisitMove) => void
}

/** People, instruments or rooms as rows, visits as bars over desk hours; a bar is moved by pointer or keys. */
export function WeekGrid({ week, rows: kind, day, chosen, mayMove, onDay, onChoose, onMove }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box)
  const columns = useMemo(() => dayColumns(week, width, day), [week, width, day])
  const rows = useMemo(() => weekRows(week, kind, columns), [week, kind, columns])
  const house = useMemo(() => weekHouse(week), [week])
  const [moving, setMoving] = useState<{ visit: Visit; said: string; barred: boolean } | null>(null)
  const zone = week.hours.zone

  const moveOf = (visit: Visit, dx: number, overId: number | null): VisitMove => {
    const at = instantAt(columns, (placeOf(columns, visit.at!) ?? 0) + dx)
    const other = kind === 'rooms' || overId === null
    return {
      at,
      personId: kind === 'people' && !other ? overId || null : visit.personId,
      instrumentId: kind === 'instruments' && !other ? overId! : visit.instrumentId!,
    }
  }
  const breaksOf = (visit: Visit, move: VisitMove) =>
    whatBreaks(
      house,
      house.visits.find((v) => v.id === visit.id)!,
      move,
    )
  const said = (visit: Visit, move: VisitMove) => {
    const { bar, displaced } = breaksOf(visit, move)
    const person = week.people.find((p) => p.id === move.personId)?.name ?? null
    return { said: moveSentence(week, { at: move.at, person, bar, displaced }), barred: bar !== null }
  }
  const visitOf = (id: string | number) => week.visits.find((v) => v.id === Number(String(id).slice(1)))!
  const rowAt = ({ over }: { over: { id: string | number } | null }) => (over ? Number(String(over.id).slice(3)) : null)

  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: useMemo(() => keySteps(columns), [columns]) }),
  )
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={(args) => {
        if (args.pointerCoordinates) return pointerWithin(args)
        // By keys: the row that the bar's middle lies in.
        const middle = args.collisionRect.top + args.collisionRect.height / 2
        const found = args.droppableContainers.find((c) => {
          const rect = args.droppableRects.get(c.id)
          return rect && middle >= rect.top && middle <= rect.bottom
        })
        return found ? [{ id: found.id }] : []
      }}
      onDragStart={({ active }) => {
        const visit = visitOf(active.id)
        onChoose(visit)
        setMoving({ visit, ...said(visit, moveOf(visit, 0, null)) })
      }}
      onDragMove={({ active, delta, over }: DragMoveEvent) => {
        const visit = visitOf(active.id)
        const next = said(visit, moveOf(visit, delta.x, rowAt({ over })))
        setMoving((before) => (before?.said === next.said ? before : { visit, ...next }))
      }}
      onDragCancel={() => setMoving(null)}
      onDragEnd={({ active, delta, over }) => {
        setMoving(null)
        const visit = visitOf(active.id)
        const move = moveOf(visit, delta.x, rowAt({ over }))
        if (move.at !== visit.at || move.personId !== visit.personId || move.instrumentId !== visit.instrumentId)
          onMove(visit, move)
      }}
      accessibility={{
        screenReaderInstructions: {
          draggable: `Press space to take the visit up, arrow keys to move it by ${keyMinutes} minutes or to another row, space to put it down, escape to leave it where it was.`,
        },
        announcements: {
          onDragStart: ({ active }) => `${visitOf(active.id).display.name} is taken up.`,
          onDragMove: () => moving?.said,
          onDragOver: () => moving?.said,
          onDragEnd: ({ active }) => `${visitOf(active.id).display.name} is put down.`,
          onDragCancel: ({ active }) => `${visitOf(active.id).display.name} stays where it was.`,
        },
      }}
    >
      <div className="week" role="group" aria-label="The week">
        <div className="weekhead">
          <span className="weekname" />
          <div className="weekdays">
            {columns.map((c) => {
              const told = week.days.find((d) => d.date === c.date)!
              const isNarrow = !told.desk && day === null
              return (
                <button
                  key={c.date}
                  type="button"
                  className="weekday"
                  style={{ left: c.left, width: c.width }}
                  title={told.closed ?? (told.desk ? undefined : 'closed')}
                  onClick={() => onDay(day === null ? c.date : null)}
                  aria-pressed={day === c.date}
                >
                  {isNarrow ? dayWords(c.date).slice(0, 2) : dayWords(c.date)}
                  {!isNarrow && <span className="quiet"> {told.closed ?? counted(week, c)}</span>}
                </button>
              )
            })}
          </div>
        </div>
        <div className="weekrows">
          {rows.map((row, n) => (
            <WeekRowView
              key={row.id}
              row={row}
              kind={kind}
              week={week}
              columns={columns}
              first={n === 0}
              box={n === 0 ? box : null}
            >
              {row.bars.map((bar) => (
                <VisitBar
                  key={bar.visit.id}
                  bar={bar}
                  columns={columns}
                  zone={zone}
                  chosen={bar.visit.id === chosen}
                  mayMove={mayMove && bar.visit.state === 'planned'}
                  onChoose={onChoose}
                />
              ))}
            </WeekRowView>
          ))}
          {!rows.length && <p className="none">Nobody goes to displays yet. Say who does under Hours and ways.</p>}
        </div>
      </div>
      <DragOverlay dropAnimation={null}>
        {moving && (
          <div className="movewords">
            <AimRing
              aim={moving.visit.display.aimWhite}
              measured={moving.visit.display.white}
              verdict={moving.visit.display.verdict}
              size={18}
            />
            <span className={moving.barred ? 'asks' : ''}>{moving.said}</span>
          </div>
        )}
      </DragOverlay>
    </DndContext>
  )
}

const counted = (week: Week, column: DayColumn) => {
  const day = week.days.find((d) => d.date === column.date)!
  const n = week.visits.filter((v) => v.at !== null && v.at >= day.from && v.at < day.to).length
  return n ? `${n} ${n === 1 ? 'visit' : 'visits'}` : ''
}

/** The width that there is for days, as the window changes. */
function useWidth(box: React.RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(960)
  useEffect(() => {
    const element = box.current
    if (!element) return
    const look = new ResizeObserver(() => setWidth(Math.max(320, element.clientWidth)))
    look.observe(element)
    return () => look.disconnect()
  })
  return width
}

/** Left and right by minutes, up and down by rows. */
const keySteps =
  (columns: readonly DayColumn[]): KeyboardCoordinateGetter =>
  (event, { currentCoordinates, context }) => {
    const c = columns.find((one) => one.width > 60) ?? columns[0]
    const step = (c.width * keyMinutes * 60_000) / (c.to - c.from)
    const { x, y } = currentCoordinates
    if (event.code === 'ArrowRight') return { x: x + step, y }
    if (event.code === 'ArrowLeft') return { x: x - step, y }
    const up = event.code === 'ArrowUp'
    if (!up && event.code !== 'ArrowDown') return undefined
    event.preventDefault()
    const tops = [...context.droppableRects.values()].map((r) => r.top + 4).sort((a, b) => a - b)
    const next = up ? tops.filter((t) => t < y - 6).pop() : tops.find((t) => t > y + 6)
    return next === undefined ? { x, y } : { x, y: next }
  }
