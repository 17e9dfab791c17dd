import type { Verdict } from '../../aims/limits'
import type { Drawing } from '../charts/drawing'

/** One cell of a report's table: text, with a verdict's sign or a pair of colours before it. */
export type Cell =
  | string
  | { readonly text: string; readonly verdict?: Verdict; readonly colors?: readonly [aim: string, read: string] }

export interface ReportTable {
  readonly kind: 'table'
  readonly head: readonly string[]
  /** Columns of figures stand at the right. */
  readonly figures: readonly number[]
  /** Shares of the width. */
  readonly widths: readonly number[]
  readonly rows: readonly (readonly Cell[])[]
}

/** What a report is made of; both writers (HTML, PDF) set the same blocks. */
export type Block =
  | { readonly kind: 'heading'; readonly text: string }
  | { readonly kind: 'text'; readonly text: string }
  | ReportTable
  | { readonly kind: 'charts'; readonly charts: readonly Drawing[] }
  /** What follows begins a new page. */
  | { readonly kind: 'page' }

/** A report before it is written down: the same facts give the same document. */
export interface ReportDocument {
  readonly studio: string
  readonly title: string
  readonly verdict: Verdict | null
  /** What the title says in one sentence. */
  readonly sentence: string
  /** Where, with what, by whom, when. */
  readonly lines: readonly string[]
  readonly blocks: readonly Block[]
  /** Which version made it, and from what evidence. */
  readonly origin: string
  /** What it tells of, ms since 1970, UTC. */
  readonly at: number
}
