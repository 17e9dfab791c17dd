import type Database from 'better-sqlite3'

/** Runs that are looked through, the newest. */
const lookedThrough = 3000
/** Minutes of a run where nobody has made one like it. */
const usualMinutes = { check: 15, full: 60 } as const

interface Took {
  model: string
  panelKind: string
  kind: 'check' | 'full'
  instrumentId: number
  minutes: number
  hands: number
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

/**
 * Minutes that runs take, from those that were made: on that model with that instrument, else on that model, else on its
 * kind of panel, else of all; and whether hands had to turn anything on that model.
 */
export function runMinutes(store: Database.Database) {
  const rows = store
    .prepare(
      `SELECT maker || ' ' || model AS model, panel_kind AS panelKind, newest.kind AS kind, instrument_id AS instrumentId,
         SUM(run_stage.took_ms) / 60000 AS minutes, MAX(gauge IS NOT NULL) AS hands
       FROM (SELECT id, display_id, kind, instrument_id FROM run WHERE state = 'done' AND imported IS NULL AND kind IN ('check', 'full')
             ORDER BY id DESC LIMIT ${lookedThrough}) AS newest
         JOIN display ON display.id = newest.display_id JOIN run_stage ON run_id = newest.id
       GROUP BY newest.id`,
    )
    .all() as Took[]
  const by = new Map<string, { minutes: number[]; hands: boolean }>()
  const add = (key: string, { minutes, hands }: Took) => {
    const known = by.get(key) ?? { minutes: [], hands: false }
    by.set(key, known)
    known.minutes.push(minutes)
    known.hands ||= hands === 1
  }
  for (const row of rows)
    for (const key of [
      `${row.kind} ${row.model} with ${row.instrumentId}`,
      `${row.kind} ${row.model}`,
      `${row.kind} on ${row.panelKind}`,
      row.kind,
    ])
      add(key, row)
  const medians = new Map([...by].map(([key, { minutes, hands }]) => [key, { minutes: median(minutes), hands }]))
  return (
    { maker, model, panelKind }: { maker: string; model: string; panelKind: string },
    kind: 'check' | 'full',
    instrumentId: number,
  ): { minutes: number; hands: boolean } => {
    const name = (of: 'check' | 'full') => `${of} ${maker} ${model}`
    const known = (of: 'check' | 'full') =>
      medians.get(`${name(of)} with ${instrumentId}`) ??
      medians.get(name(of)) ??
      medians.get(`${of} on ${panelKind}`) ??
      medians.get(of)
    // Nobody has checked one yet: no check takes longer than half of a full run.
    const minutes =
      known(kind)?.minutes ??
      (kind === 'full'
        ? usualMinutes.full
        : Math.min(usualMinutes.check, (known('full')?.minutes ?? usualMinutes.full) / 2))
    return { minutes: Math.max(1, Math.ceil(minutes)), hands: medians.get(name(kind))?.hands ?? false }
  }
}
