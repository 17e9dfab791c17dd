import type { ReactNode } from 'react'
import { Filter, RoomFilter } from './Filter'
import { FindInput } from './FindInput'

interface Props<K extends string> {
  /** What is found, for those who do not see it. */
  readonly label: string
  /** What it is found by: “name, model or room”. */
  readonly by: string
  readonly asked: Readonly<Record<K | 'search' | 'room', string>>
  readonly onAsk: (change: Partial<Record<K | 'search' | 'room', string>>) => void
  readonly filters?: readonly {
    readonly name: K
    readonly label: string
    /** What stands for no filter. */
    readonly all: string
    readonly options: readonly { value: string; label: string }[]
  }[]
  /** Other ways to choose what is listed. */
  readonly children?: ReactNode
}

/** What stands over a list: words to find by, filters, and the room. */
export function ListTools<K extends string>({ label, by, asked, onAsk, filters = [], children }: Props<K>) {
  const ask = (name: K | 'search' | 'room', value: string) =>
    onAsk({ [name]: value } as Partial<Record<K | 'search' | 'room', string>>)
  return (
    <div className="listtools">
      <FindInput
        label={label}
        placeholder={`Find by ${by}`}
        value={asked.search}
        onFind={(search) => ask('search', search)}
      />
      {children}
      {filters.map(({ name, ...filter }) => (
        <Filter key={name} {...filter} value={asked[name]} onChange={(value) => ask(name, value)} />
      ))}
      <RoomFilter value={asked.room} onChange={(room) => ask('room', room)} />
    </div>
  )
}
