import type { DataSource } from 'typeorm'
import { forecastAsOf } from '@bichroma/core/drift'
import { slotOutlookListSchema, type FleetDrift, type Page, type SlotOutlook, type yup } from '@bichroma/contract'
import { holds, pageOf } from '../data/pageOf'
import type { Threads } from '../http/threads'
import type { Foretold } from './entities'
import { sumUpDrift } from './sumUpDrift'

/** An instrument as people call it. */
export const nameOf = (i: { kind: string; model: string; serial: string }): string =>
  i.kind === 'elsewhere' ? i.model : `${i.model} ${i.serial}`

/** A slot as its query gives it: forecast and instrument still as they are stored. */
interface Row extends Omit<SlotOutlook, 'instrument' | 'rule' | 'forecast'> {
  instrumentKind: string
  instrumentModel: string
  instrumentSerial: string
  foretold: string | null
}

const from = `slot_drift JOIN display ON display.id = slot_drift.display_id
  JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
  JOIN instrument ON instrument.id = slot_drift.instrument_id`

/** Slots by what their histories foretell; the soonest to leave its limits first. */
export async function listSlotOutlooks(
  data: DataSource,
  asked: yup.InferType<typeof slotOutlookListSchema>,
  now: number,
): Promise<Page<SlotOutlook>> {
  const page = await pageOf<Row>(data, asked, {
    columns: `slot_drift.display_id AS displayId, display.name AS displayName, slot, label, room.name AS room,
      display.maker || ' ' || display.model AS model, first_at AS firstAt, at, validations, verdict,
      instrument.kind AS instrumentKind, instrument.model AS instrumentModel, instrument.serial AS instrumentSerial,
      average_delta_e AS averageDeltaE, worst_delta_e AS worstDeltaE, luminance_off AS luminanceOff,
      white_delta_uv AS whiteDeltaUv, foretold`,
    from,
    ...(!asked.search &&
      asked.room === undefined && { countFrom: 'slot_drift JOIN display ON display.id = slot_drift.display_id' }),
    where: [
      { sql: `display.kept = 'in use'` },
      holds(
        `display.name || ' ' || display.maker || ' ' || display.model || ' ' || room.name || ' ' || label`,
        asked.search,
      ),
      asked.room !== undefined && { sql: 'room.id = ?', parameters: [Number(asked.room)] },
    ],
    by: 'leaves_order',
    id: 'slot_drift.id',
  })
  return { ...page, items: page.items.map((row) => outlookOf(row, now)) }
}

function outlookOf(
  { instrumentKind, instrumentModel, instrumentSerial, foretold, ...row }: Row,
  now: number,
): SlotOutlook {
  const made = foretold === null ? null : (JSON.parse(foretold) as Foretold | null)
  return {
    ...row,
    instrument: nameOf({ kind: instrumentKind, model: instrumentModel, serial: instrumentSerial }),
    rule: made?.rule ?? null,
    forecast: made && forecastAsOf(made.forecast, now),
  }
}

/** Time after which the sums of the fleet are drawn up anew although nothing changed, ms: “within 60 days” moves. */
const keptMs = 3_600_000

/** The fleet's histories summed up: drawn up in a thread when something has changed, and kept until then. */
export class FleetDriftKeeper {
  private kept: { version: string; at: number; sums: Promise<FleetDrift> } | null = null

  constructor(
    private readonly data: DataSource,
    private readonly threads: Threads,
  ) {}

  async sums(now: number): Promise<FleetDrift> {
    // A slot whose trends are worked out anew gets a new row; forecasts that are made anew change what they are by.
    const [{ version }] = await this.data.query<{ version: string }[]>(
      `SELECT COALESCE((SELECT seq FROM sqlite_sequence WHERE name = 'slot_drift'), 0) || ' ' ||
         (SELECT COUNT(*) FROM slot_drift) || ' ' || COALESCE((SELECT MAX(updated_at) FROM limits), 0) || ' ' ||
         COALESCE((SELECT seq FROM sqlite_sequence WHERE name = 'display'), 0) || ' ' || ${this.foretoldAnew} AS version`,
    )
    if (this.kept?.version === version && Math.abs(now - this.kept.at) < keptMs) return this.kept.sums
    const sums = this.threads.run(sumUpDrift, String(this.data.options.database), now)
    this.kept = { version, at: now, sums }
    sums.catch(() => {
      if (this.kept?.sums === sums) this.kept = null
    })
    return sums
  }

  private foretoldAnew = 0

  /** Forecasts were made anew: what was kept is of before. */
  forget(): void {
    this.foretoldAnew++
  }
}
