import type { DataSource } from 'typeorm'
import type { ModelFacts, Share } from '@bichroma/contract'

/** Facts of a model that its displays share, as the store's columns. */
const shared = {
  panelKinds: 'panel_kind',
  slots: 'slots',
  firmware: 'firmware',
  checkEveryDays: 'check_every_days',
  limits: '(SELECT name FROM limits WHERE limits.id = limits_id)',
} as const
type Fact = keyof typeof shared
const facts = Object.keys(shared) as Fact[]

/** What is known of each model, the most frequent first; each fact's most frequent value first. */
export async function modelFacts(data: DataSource): Promise<ModelFacts[]> {
  interface Row {
    readonly maker: string
    readonly model: string
    readonly displays: number
    readonly from: number | null
    readonly to: number | null
  }
  const rows = await data.query<Row[]>(
    `SELECT maker, model, COUNT(*) AS displays, MIN(delay_ms) AS "from", MAX(delay_ms) AS "to"
     FROM display WHERE kept = 'in use' GROUP BY maker, model ORDER BY displays DESC, maker, model`,
  )
  const keyOf = (row: { maker: string; model: string }) => `${row.maker}\n${row.model}`
  const shares = new Map<string, Record<Fact, Share<never>[]>>()
  for (const fact of facts)
    for (const row of await data.query<{ maker: string; model: string; value: never; displays: number }[]>(
      `SELECT maker, model, ${shared[fact]} AS value, COUNT(*) AS displays
       FROM display WHERE kept = 'in use' GROUP BY maker, model, value ORDER BY displays DESC, value`,
    )) {
      const of = shares.get(keyOf(row)) ?? { panelKinds: [], slots: [], firmware: [], checkEveryDays: [], limits: [] }
      of[fact].push({ value: row.value, displays: row.displays })
      shares.set(keyOf(row), of)
    }
  type Correction = ModelFacts['corrections'][number] & { maker: string; model: string }
  const corrections = await data.query<Correction[]>(
    `SELECT display.maker AS maker, display.model AS model, instrument.model || ' ' || instrument.serial AS instrument,
       display.name AS displayName, MAX(made_at) AS madeAt, residual
     FROM correction JOIN display ON display.id = display_id JOIN instrument ON instrument.id = instrument_id
     GROUP BY display.maker, display.model, instrument_id ORDER BY madeAt DESC`,
  )
  return rows.map(({ from, to, ...row }) => ({
    ...row,
    ...shares.get(keyOf(row))!,
    delayMs: from === null || to === null ? null : { from, to },
    corrections: corrections
      .filter((c) => keyOf(c) === keyOf(row))
      .map(({ instrument, displayName, madeAt, residual }) => ({ instrument, displayName, madeAt, residual })),
  }))
}
