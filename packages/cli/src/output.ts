import Table from 'cli-table3'
import type { CliIo } from './io'

/** What a command has to say: for people as tables and lines, for programs as one JSON value. */
export interface Answer {
  readonly json: unknown
  readonly text: readonly Block[]
  /** 0, or 3 when a verdict is outside. */
  readonly exitCode?: 0 | 3
}

type Block = string | { readonly head: readonly string[]; readonly rows: readonly (readonly string[])[] }

const numeric = /^[+−-]?[\d.,]+( ?%)?$/

/** A table without frames; columns of figures stand to the right. */
function tableText({ head, rows }: Exclude<Block, string>): string {
  const right = head.map(
    (_, c) => rows.length > 0 && rows.every((r) => r[c] === '' || r[c] === '–' || numeric.test(r[c])),
  )
  const table = new Table({
    // Names beside figures need nothing above them.
    head: head.some(Boolean) ? [...head] : [],
    colAligns: right.map((r) => (r ? 'right' : 'left')),
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 2 },
    chars: Object.fromEntries(
      [
        ...['top', 'top-mid', 'top-left', 'top-right', 'bottom', 'bottom-mid', 'bottom-left', 'bottom-right'],
        ...['left', 'left-mid', 'mid', 'mid-mid', 'right', 'right-mid', 'middle'],
      ].map((k) => [k, '']),
    ),
  })
  table.push(...rows.map((r) => [...r]))
  return table
    .toString()
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n')
}

/** Prints an answer and gives the exit code. */
export function say(io: CliIo, answer: Answer, asJson: boolean): number {
  if (asJson) io.print(JSON.stringify(answer.json, (_, v: unknown) => (v instanceof Float64Array ? [...v] : v), 2))
  else io.print(answer.text.map((block) => (typeof block === 'string' ? block : tableText(block))).join('\n\n'))
  return answer.exitCode ?? 0
}

/** The first rows of a long table, and how many were left out. */
export function firstRows(
  rows: readonly (readonly string[])[],
  most: number,
): { rows: readonly (readonly string[])[]; more: string[] } {
  const left = rows.length - most
  return left > 0
    ? { rows: rows.slice(0, most), more: [`… and ${left.toLocaleString('en')} more.`] }
    : { rows, more: [] }
}
