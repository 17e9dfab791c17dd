import type { ReactNode } from 'react'

/** Which column sorts a table, and whether its largest come first. */
export interface Sorting<C extends string> {
  readonly by: C
  readonly down: boolean
}

/** The head of a column that sorts its table when pressed; pressed again, the other way round. */
export function SortHead<C extends string>({
  column,
  sorting,
  onSort,
  children,
}: {
  column: C
  sorting: Sorting<C>
  onSort: (sorting: Sorting<C>) => void
  children: ReactNode
}) {
  const active = sorting.by === column
  return (
    <th aria-sort={active ? (sorting.down ? 'descending' : 'ascending') : 'none'}>
      <button
        type="button"
        className="sorthead"
        onClick={() => onSort({ by: column, down: active ? !sorting.down : true })}
      >
        {children}
        <span aria-hidden>{active ? (sorting.down ? ' ↓' : ' ↑') : ''}</span>
      </button>
    </th>
  )
}
