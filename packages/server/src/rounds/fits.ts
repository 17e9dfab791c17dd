import type Database from 'better-sqlite3'
import type { InstrumentFacts } from './houseFacts'

interface Fitted {
  readonly maker: string
  readonly model: string
  readonly panelKind: string
}

/**
 * Whether an instrument fits a display: a spectroradiometer does; a colorimeter does with a correction made on that model,
 * or one that it holds for that kind of panel, as its courier said last.
 */
export function fitsOf(
  store: Database.Database,
  instruments: readonly Pick<InstrumentFacts, 'id' | 'kind' | 'corrections'>[],
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
    instruments.flatMap(({ id, corrections }) => (JSON.parse(corrections) as string[]).map((kind) => `${id} ${kind}`)),
  )
  return (id, { maker, model, panelKind }) =>
    spectral.has(id) || made.has(`${id} ${maker} ${model}`) || held.has(`${id} ${panelKind}`)
}
