import { useVirtualizer } from '@tanstack/react-virtual'
import { Button } from 'antd'
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import type { Listed } from '../api/lists'
import './longtable.css'
import { useHeld } from './useHeld'

interface Column<T> {
  readonly title: ReactNode
  /** Sorts the list by this name when its head is pressed. */
  readonly sort?: string
  /** CSS width; what is left is shared by those without one. */
  readonly width?: number | string
  readonly right?: boolean
  readonly show: (row: T) => ReactNode
}

interface Props<T> {
  /** What it lists, for those who do not see it. */
  readonly label: string
  readonly list: Listed<T>
  readonly columns: readonly Column<T>[]
  readonly keyOf: (row: T) => string | number
  /** Height of a row to begin with, px; rows are measured. */
  readonly rowHeight?: number
  readonly onOpen?: (row: T) => void
  /** Marks a row, or takes its mark away: the space key does so too. */
  readonly onMark?: (row: T) => void
  readonly chosen?: (row: T) => boolean
  readonly none: ReactNode
  readonly sort?: string
  readonly onSort?: (sort: string) => void
  /** Least height that it takes, px, however little room there is below it. */
  readonly least?: number
}

/** Rows before the end at which more are asked for. */
const ahead = 40
/** What stands below a table: the area's padding and the pulse line, px. */
const below = 46

/** The height from an element to the foot of the window. */
function useHeight(least: number) {
  const ref = useRef<HTMLDivElement>(null)
  const [height, setHeight] = useState(least)
  const measure = useCallback(() => {
    const top = ref.current?.getBoundingClientRect().top ?? 0
    const scrolled = ref.current?.closest('.area')?.scrollTop ?? 0
    setHeight(Math.max(least, Math.floor(window.innerHeight - top - scrolled - below)))
  }, [least])
  // What stands above it may come later, and push it down.
  useLayoutEffect(measure)
  useEffect(() => {
    window.addEventListener('resize', measure)
    return () => window.removeEventListener('resize', measure)
  }, [measure])
  return { ref, height }
}

/**
 * A table of a list that may be long: only the rows in sight are there, more are brought as they come near. Arrows, page
 * keys, home and end go through the rows; enter opens one, space marks one.
 */
export function LongTable<T>({
  label,
  list,
  columns,
  keyOf,
  rowHeight = 42,
  onOpen,
  onMark,
  chosen,
  none,
  sort,
  onSort,
  least = 260,
}: Props<T>) {
  const { ref, height } = useHeight(least)
  const { hasNext, fetchNext } = list
  const [items, hold] = useHeld(list.items)
  const [at, setAt] = useState(0)
  const focusing = useRef(false)
  // oxlint-disable-next-line react/incompatible-library -- no compiler memoizes here
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => ref.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    getItemKey: (i) => keyOf(items[i]),
    // The head stays over the rows.
    scrollPaddingStart: 30,
  })
  const shown = rows.getVirtualItems()
  const last = shown.at(-1)?.index ?? -1
  useEffect(() => {
    if (hasNext && last >= items.length - ahead) fetchNext()
  }, [hasNext, last, items.length, fetchNext])
  const focusRow = useCallback(
    (node: HTMLTableRowElement | null) => {
      if (!node || !focusing.current) return
      focusing.current = false
      node.focus({ preventScroll: true })
    },
    [focusing],
  )
  if (list.error)
    return (
      <div className="none" role="alert">
        <p style={{ marginBottom: 10 }}>{list.error.message}</p>
        <Button onClick={list.refetch}>Try again</Button>
      </div>
    )
  const current = Math.min(at, items.length - 1)
  const go = (to: number) => {
    const next = Math.max(0, Math.min(items.length - 1, to))
    setAt(next)
    focusing.current = true
    rows.scrollToIndex(next)
  }
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.target instanceof HTMLElement && e.target.closest('a, button, input') && e.key === 'Enter') return
    const page = Math.max(1, Math.floor(height / rowHeight) - 2)
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page, Home: -Infinity, End: Infinity }[e.key]
    if (step !== undefined) {
      e.preventDefault()
      go(step === Infinity ? items.length - 1 : step === -Infinity ? 0 : current + step)
    } else if (e.key === ' ' && onMark && items[current] !== undefined) {
      e.preventDefault()
      onMark(items[current])
    } else if (e.key === 'Enter' && onOpen && items[current] !== undefined) onOpen(items[current])
  }
  const before = shown[0]?.start ?? 0
  const after = rows.getTotalSize() - (shown.at(-1)?.end ?? 0)
  return (
    <div
      ref={ref}
      className={`longtable ${list.stale ? 'stale' : ''}`}
      style={{ maxHeight: height }}
      role="region"
      aria-label={label}
    >
      <table aria-label={label} aria-rowcount={list.more ? -1 : list.total + 1} aria-busy={list.empty || list.stale}>
        <colgroup>
          {columns.map((c, i) => (
            <col key={i} style={c.width === undefined ? undefined : { width: c.width }} />
          ))}
        </colgroup>
        <thead>
          <tr aria-rowindex={1}>
            {columns.map((c, i) => (
              <th
                key={i}
                className={c.right ? 'right' : ''}
                aria-sort={c.sort ? (sort === c.sort ? 'ascending' : 'none') : undefined}
              >
                {c.sort && onSort ? (
                  <button
                    type="button"
                    className="sorthead"
                    onClick={() => onSort(sort === c.sort ? '' : c.sort!)}
                    title={sort === c.sort ? 'In the order of the register again' : undefined}
                  >
                    {c.title}
                    <span aria-hidden>{sort === c.sort ? ' ↓' : ''}</span>
                  </button>
                ) : (
                  c.title
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody onKeyDown={onKeyDown} onPointerDown={hold}>
          {before > 0 && <Space height={before} columns={columns.length} />}
          {shown.map(({ index }) => {
            const row = items[index]
            return (
              <tr
                key={keyOf(row)}
                data-index={index}
                ref={(node) => {
                  rows.measureElement(node)
                  if (index === current) focusRow(node)
                }}
                aria-rowindex={index + 2}
                aria-selected={chosen ? chosen(row) : undefined}
                className={`${onOpen ? 'goes' : ''} ${chosen?.(row) ? 'chosen' : ''}`}
                tabIndex={index === current ? 0 : -1}
                onFocus={(e) => e.target === e.currentTarget && setAt(index)}
                onClick={() => {
                  setAt(index)
                  onOpen?.(row)
                }}
              >
                {columns.map((c, i) => (
                  <td key={i} className={c.right ? 'right' : ''}>
                    {c.show(row)}
                  </td>
                ))}
              </tr>
            )
          })}
          {after > 0 && <Space height={after} columns={columns.length} />}
        </tbody>
      </table>
      {list.empty ? (
        <div className="none" role="status">
          Loading…
        </div>
      ) : (
        !items.length && <p className="none">{none}</p>
      )}
    </div>
  )
}

const Space = ({ height, columns }: { height: number; columns: number }) => (
  <tr aria-hidden className="space">
    <td colSpan={columns} style={{ height }} />
  </tr>
)

/** How many rows there are, as the head of a plane says it. */
export function countWords({ total, more, empty }: Pick<Listed<unknown>, 'total' | 'more' | 'empty'>): string {
  if (empty) return ''
  return `${more ? 'more than ' : ''}${total.toLocaleString('en')}`
}
