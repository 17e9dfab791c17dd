import { Select, type SelectProps } from 'antd'
import { useState } from 'react'
import type { DisplayListing, RunSummary, Workstation } from '@bichroma/contract'
import { verdictWords } from '@bichroma/core/aims'
import { useList, type Asked } from '../api/lists'
import { formatMoment } from './times'

/** Rows that one search brings. */
const rows = 50

type Chooses = Pick<SelectProps<number>, 'value' | 'onChange' | 'style' | 'id' | 'placeholder' | 'disabled'>

/** Chooses one of a list that may be long, by searching it on the server. */
function Picker<T>({
  path,
  asked = {},
  label,
  optionOf,
  known,
  ...chooses
}: Chooses & {
  path: string
  asked?: Asked
  label: string
  optionOf: (row: T) => { value: number; label: string }
  /** What is chosen, where it may not be among the rows. */
  known?: { value: number; label: string } | null
}) {
  const [search, setSearch] = useState('')
  const { items, total, more } = useList<T>(path, { ...asked, search, limit: rows })
  const options = items.map(optionOf)
  const listed = known && !search && !options.some((o) => o.value === known.value) ? [known, ...options] : options
  const unseen = total - items.length
  return (
    <Select<number>
      {...chooses}
      aria-label={label}
      showSearch={{ filterOption: false, onSearch: setSearch }}
      options={listed}
      notFoundContent={search ? `Nothing fits “${search}”.` : 'Nothing is there yet.'}
      popupRender={(menu) => (
        <>
          {menu}
          {unseen > 0 && (
            <p className="small quiet" style={{ padding: '4px 12px 6px' }}>
              and {more ? 'more than ' : ''}
              {unseen} more; type to find them
            </p>
          )}
        </>
      )}
    />
  )
}

/** What a display is chosen by. */
const displayOption = (d: DisplayListing) => ({
  value: d.id,
  label: `${d.name}, ${d.room}${d.live ? '' : ', courier away'}`,
})

export const DisplayPicker = (props: Chooses & { label?: string; known?: { value: number; label: string } | null }) => (
  <Picker<DisplayListing> path="/displays" label="Display" optionOf={displayOption} {...props} />
)

export const WorkstationPicker = (props: Chooses & { known?: { value: number; label: string } | null }) => (
  <Picker<Workstation>
    path="/workstations"
    label="Workstation"
    optionOf={(w) => ({ value: w.id, label: w.name })}
    {...props}
  />
)

/** A validation as it is chosen and compared. */
export const validationWords = (r: RunSummary) =>
  `${r.displayName}, slot ${r.slot} ${r.label}, ${formatMoment(r.judged!.at)}, ${verdictWords[r.judged!.verdict]}`

export const ValidationPicker = (
  props: Chooses & { label: string; known?: { value: number; label: string } | null },
) => (
  <Picker<RunSummary>
    path="/runs"
    asked={{ of: 'judged' }}
    optionOf={(r) => ({ value: r.id, label: validationWords(r) })}
    {...props}
  />
)
