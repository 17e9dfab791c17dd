import type Database from 'better-sqlite3'

/** An instrument that is plugged in somewhere now, with the kinds of panel that it says it holds a correction for. */
export interface Plugged {
  readonly serial: string
  readonly workstationId: number
  readonly corrections: readonly string[]
}

interface Fitted {
  readonly maker: string
  readonly model: string
  readonly panelKind: string
}

/**
 * Whether an instrument fits a display: a spectroradiometer does; a colorimeter does with a correction made on that model,
 * or one that it holds for that kind of panel, as it says now or as its earlier runs had it.
 */
export function fitsOf(
  store: Database.Database,
  instruments: readonly { id: number; serial: string; kind: string }[],
  plugged: readonly Plugged[],
): (instrumentId: number, display: Fitted) => boolean {
  const spectral = new Set(instruments.filter((i) => i.kind === 'spectroradiometer').map((i) => i.id))
  const made = new Set(
    store
      .prepare(
        `SELECT DISTINCT instrument_id || ' ' || maker || ' ' || model FROM correction JOIN display ON display.id = display_id`,
      )
      .pluck()
      .all() as string[],
  )
  const held = new Set(
    store
      .prepare(
        `SELECT DISTINCT instrument_id || ' ' || (correction ->> 'panelKind') FROM run
         WHERE correction ->> 'kind' = 'own' AND +state = 'done'`,
      )
      .pluck()
      .all() as string[],
  )
  const ids = new Map(instruments.map((i) => [i.serial, i.id]))
  for (const { serial, corrections } of plugged) for (const kind of corrections) held.add(`${ids.get(serial)} ${kind}`)
  return (id, { maker, model, panelKind }) =>
    spectral.has(id) || made.has(`${id} ${maker} ${model}`) || held.has(`${id} ${panelKind}`)
}
