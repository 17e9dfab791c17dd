import type { DataSource } from 'typeorm'
import { keptSchema, type KeptWell } from '@bichroma/contract'
import { dayOf } from '../data/dayOf'
import type { Api } from '../http/api'
import { queryOf } from '../http/query'
import type { Threads } from '../http/threads'
import { keptCsv, keptMonth, keptWell, type KeptAsked } from './keptTask'
import { roundsSettings } from './settings'

interface KeptServices {
  readonly data: DataSource
  readonly threads: Threads
  readonly now: () => number
}

/** Months that are looked at unless others are asked for, and time for which what was found is told again, ms. */
const usualMonths = 6
const keptMs = 60_000

/** How well the displays are kept: the share of display-days proven within limits, and what the rest was. */
export class KeptFigures {
  private readonly found = new Map<number, { at: number; well: Promise<KeptWell> }>()

  constructor(private readonly services: KeptServices) {}

  routes(api: Api): void {
    api.on('GET /kept', async (request) => this.well(Number(queryOf(request, keptSchema).months ?? usualMonths)))
    api.on('GET /kept/file', async (request, response) => {
      const { threads, now } = this.services
      const asked = await this.asked(Number(queryOf(request, keptSchema).months ?? usualMonths))
      response
        .attachment(`kept ${dayOf(now())}.csv`)
        .type('text/csv')
        .send(await threads.run(keptCsv, asked))
    })
  }

  /** One page for a head of department, on the month before a day. */
  month = async (first: string): Promise<string> => this.services.threads.run(keptMonth, await this.asked(2), first)

  private async well(months: number): Promise<KeptWell> {
    const { threads, now } = this.services
    const known = this.found.get(months)
    if (known && now() - known.at < keptMs && now() >= known.at) return known.well
    const well = threads.run(keptWell, await this.asked(months))
    this.found.set(months, { at: now(), well })
    well.catch(() => this.found.delete(months))
    return well
  }

  private async asked(months: number): Promise<KeptAsked> {
    const { data, now } = this.services
    const { hours } = await roundsSettings(data)
    return { file: String(data.options.database), now: now(), zone: hours.zone, months }
  }
}
