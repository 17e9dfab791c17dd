import type { DataSource } from 'typeorm'
import Papa from 'papaparse'
import { keptShare, keptStates, localDate, noDays, type KeptDays } from '@bichroma/core/rounds'
import { keptSchema, type KeptRow, type KeptWell } from '@bichroma/contract'
import { dayOf } from '../data/dayOf'
import type { Api } from '../http/api'
import { queryOf } from '../http/query'
import type { Threads } from '../http/threads'
import { keptByDisplay, summed, type KeptDisplay } from './keptTask'
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
  private readonly found = new Map<number, { at: number; rows: Promise<KeptDisplay[]> }>()

  constructor(private readonly services: KeptServices) {}

  /** Displays by month, of so many months. */
  async displays(months: number): Promise<KeptDisplay[]> {
    const { data, threads, now } = this.services
    const known = this.found.get(months)
    if (known && now() - known.at < keptMs && now() >= known.at) return known.rows
    const { hours } = await roundsSettings(data)
    const asked = { file: String(data.options.database), now: now(), zone: hours.zone, months }
    const rows = threads.run(keptByDisplay, asked)
    this.found.set(months, { at: now(), rows })
    rows.catch(() => this.found.delete(months))
    return rows
  }

  routes(api: Api): void {
    api.on('GET /kept', async (request) => {
      const { months } = queryOf(request, keptSchema)
      return wellOf(await this.displays(Number(months ?? usualMonths)))
    })
    api.on('GET /kept/file', async (request, response) => {
      const { months } = queryOf(request, keptSchema)
      const rows = await this.displays(Number(months ?? usualMonths))
      response
        .attachment(`kept ${dayOf(this.services.now())}.csv`)
        .type('text/csv')
        .send(csvOf(rows))
    })
  }

  /** One page for a head of department: the month before a day, its rooms the least kept first. */
  async month(first: string): Promise<string> {
    const { data } = this.services
    const { hours } = await roundsSettings(data)
    const before = localDate(Date.parse(first) - 86_400_000, 'UTC').slice(0, 7)
    const rows = (await this.displays(2)).filter((r) => r.month === before)
    if (!rows.length) return `No display was there in ${before}.`
    const line = (name: string, days: KeptDays) => {
      const all = keptStates.reduce((sum, s) => sum + days[s], 0)
      const rest = keptStates
        .filter((s) => s !== 'within' && days[s])
        .map((s) => `${days[s]} ${s}`)
        .join(', ')
      return `${name}: ${percent(keptShare(days))} of ${all} display-days proven within limits${rest ? ` (the rest: ${rest})` : ''}`
    }
    const rooms = [...summed(rows, (r) => r.room)].sort(([, a], [, b]) => (keptShare(a) ?? 0) - (keptShare(b) ?? 0))
    return [
      `${before}, all times in ${hours.zone}.`,
      '',
      line('All displays', summed(rows, () => '').get('')!),
      '',
      ...rooms.slice(0, 30).map(([name, days]) => line(name, days)),
      ...(rooms.length > 30 ? [`and ${rooms.length - 30} rooms more, which were kept better`] : []),
    ].join('\n')
  }
}

const percent = (share: number | null) => (share === null ? 'none' : `${(100 * share).toFixed(1)} %`)

function wellOf(rows: readonly KeptDisplay[]): KeptWell {
  const months = [...new Set(rows.map((r) => r.month))].sort()
  const byMonth = (some: readonly KeptDisplay[]) => {
    const by = summed(some, (r) => r.month)
    return months.map((m) => by.get(m) ?? noDays())
  }
  const grouped = (keyOf: (r: KeptDisplay) => string, buildingOf: (r: KeptDisplay) => string | null): KeptRow[] => {
    const by = new Map<string, KeptDisplay[]>()
    for (const row of rows) {
      const own = by.get(keyOf(row)) ?? []
      own.push(row)
      by.set(keyOf(row), own)
    }
    return [...by].map(([name, own]) => ({
      name,
      building: buildingOf(own[0]),
      displays: new Set(own.map((r) => r.displayId)).size,
      months: byMonth(own),
    }))
  }
  return {
    months,
    total: byMonth(rows),
    rooms: grouped(
      (r) => r.room,
      (r) => r.building,
    ),
    models: grouped(
      (r) => r.model,
      () => null,
    ),
  }
}

/** A line for each display and month, with the runs that it rests on. What a program would take for a formula is quoted. */
function csvOf(rows: readonly KeptDisplay[]): string {
  return Papa.unparse(
    rows.map((r) => ({
      month: r.month,
      building: r.building ?? '',
      room: r.room,
      display: r.name,
      model: r.model,
      ...r.days,
      share: keptShare(r.days)?.toFixed(4) ?? '',
      runs: r.runs.join(' '),
    })),
    { newline: '\n', escapeFormulae: true },
  )
}
