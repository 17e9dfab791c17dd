import type { Week } from '@bichroma/contract'

/** A day as a column: hours that are shown of it, where it begins and how wide it is. */
export interface DayColumn {
  readonly date: string
  readonly from: number
  readonly to: number
  readonly left: number
  readonly width: number
}

const hour = 3_600_000
/** Hours shown before and after work, and how wide a closed day is. */
const [before, after] = [1.5, 3]
const closedWidth = 34

/**
 * Days side by side over their desk hours: what lies in the night between is not drawn. `day`: that one alone, as wide as
 * there is room.
 */
export function dayColumns(week: Pick<Week, 'days'>, width: number, day: string | null): DayColumn[] {
  const shown = week.days.filter((d) => day === null || d.date === day)
  const open = shown.filter((d) => d.desk)
  const closed = open.length ? shown.length - open.length : 0
  const each = (width - closed * closedWidth) / Math.max(1, open.length || shown.length)
  let left = 0
  return shown.map((d) => {
    const isNarrow = !d.desk && open.length > 0
    const column = {
      date: d.date,
      from: d.desk ? Math.max(d.from, d.desk.from - before * hour) : d.from,
      to: d.desk ? Math.min(d.to, d.desk.to + after * hour) : d.to,
      left,
      width: isNarrow ? closedWidth : each,
    }
    left += column.width
    return column
  })
}

/** Where an instant lies; what lies in a night lies at its edge. Null outside of what is shown. */
export function placeOf(columns: readonly DayColumn[], at: number): number | null {
  const [first, last] = [columns[0], columns[columns.length - 1]]
  if (!first || at < first.from - 12 * hour || at > last.to + 12 * hour) return null
  let place = 0
  for (const c of columns) {
    if (at < c.from) return Math.max(place, c.left)
    place = c.left + (c.width * (Math.min(at, c.to) - c.from)) / (c.to - c.from)
    if (at <= c.to) return place
  }
  return place
}

/** The instant at a place, held within the hours that are shown, to so many minutes. */
export function instantAt(columns: readonly DayColumn[], place: number, minutes = 5): number {
  const column = [...columns].reverse().find((c) => place >= c.left) ?? columns[0]
  const share = Math.min(1, Math.max(0, (place - column.left) / column.width))
  const step = minutes * 60_000
  return Math.round((column.from + share * (column.to - column.from)) / step) * step
}
