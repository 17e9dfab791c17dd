import type { Verdict } from '../../aims/limits'
import { formatDate, formatSigned, verdictWords } from '../../aims/figures'
import type { Block, ReportDocument } from './document'

/** One slot of the fleet as it stood on a date. */
export interface FleetRow {
  readonly room: string
  readonly displayName: string
  readonly model: string
  readonly slot: number
  readonly label: string
  readonly verdict: Verdict
  /** Null for a slot that had not been validated by then. */
  readonly validation: {
    readonly runId: number
    readonly at: number
    readonly averageDeltaE: number
    readonly worstDeltaE: number
    readonly whiteDeltaUv: number
    readonly luminanceOff: number
    readonly instrument: string
  } | null
}

/** How well displays were kept over some days: shares of display-days proven within limits, 0–1. */
export interface FleetKept {
  readonly days: number
  readonly share: number | null
  /** What the rest was, in words, as in “12 lapsed, 3 outside”; empty for none. */
  readonly rest: string
  /** The least kept first. */
  readonly rooms: readonly { readonly name: string; readonly share: number | null; readonly rest: string }[]
}

export interface FleetReportFacts {
  readonly studio: string
  readonly version: string
  /** The end of the day that is told of, ms since 1970, UTC. */
  readonly on: number
  readonly rows: readonly FleetRow[]
  /** Null where it is not told. */
  readonly kept: FleetKept | null
}

const percent = (share: number | null) => (share === null ? '–' : `${(100 * share).toFixed(1)} %`)

/** The share of display-days that were proven within limits, whole and by room. */
function keptBlocks(kept: FleetKept | null): Block[] {
  if (!kept || kept.share === null) return []
  const { days, share, rest, rooms } = kept
  return [
    { kind: 'heading', text: `${percent(share)} of display-days in ${days} days were proven within limits` },
    {
      kind: 'table',
      head: ['Room', 'share', 'the rest, in display-days'],
      figures: [1],
      widths: [0.3, 0.15, 0.55],
      rows: [
        ...rooms.map((r) => [r.name, percent(r.share), r.rest || 'none']),
        ['All displays', percent(share), rest || 'none'],
      ],
    },
  ]
}

const order: readonly Verdict[] = ['outside', 'untold', 'lapsed', 'unproven', 'near', 'within']

/** The state of the fleet on a date: how many slots stand how, and every slot by room, the worst first. */
export function fleetReport({ studio, version, on, rows, kept }: FleetReportFacts): ReportDocument {
  const counts = new Map(order.map((v) => [v, rows.filter((r) => r.verdict === v).length]))
  const good = rows.length ? Math.round((100 * counts.get('within')!) / rows.length) : 0
  const rooms = [...new Set(rows.map((r) => r.room))].sort()
  const validations = rows.flatMap((r) => (r.validation ? [r.validation.runId] : []))
  const asks = (['outside', 'untold', 'lapsed', 'unproven'] as const)
    .filter((v) => counts.get(v))
    .map((v) => `${counts.get(v)} ${verdictWords[v]}`)
  return {
    studio,
    title: `State of the fleet on ${formatDate(on)}`,
    verdict: null,
    sentence: rows.length
      ? `${counts.get('within')} of ${rows.length} calibrated slots were within their limits (${good} %)${asks.length ? `; ${asks.join(', ')}` : ''}.`
      : 'No slot held a calibration by then.',
    lines: [
      `Each slot by its newest validation on that day; one that was older than its due line and grace counts as lapsed.`,
    ],
    blocks: [
      {
        kind: 'table',
        head: ['Verdict', 'slots', 'share'],
        figures: [1, 2],
        widths: [0.5, 0.25, 0.25],
        rows: order.map((verdict) => [
          { text: verdictWords[verdict], verdict },
          String(counts.get(verdict)),
          rows.length ? `${Math.round((100 * counts.get(verdict)!) / rows.length)} %` : '–',
        ]),
      },
      ...keptBlocks(kept),
      ...rooms.flatMap((room): Block[] => [
        { kind: 'heading', text: room },
        {
          kind: 'table',
          head: ['display', 'slot', 'verdict', 'average', 'worst ΔE', 'white Δu′v′', 'luminance', 'read'],
          figures: [3, 4, 5, 6],
          widths: [0.16, 0.2, 0.13, 0.1, 0.1, 0.11, 0.1, 0.1],
          rows: rows
            .filter((r) => r.room === room)
            .sort(
              (a, b) =>
                order.indexOf(a.verdict) - order.indexOf(b.verdict) || a.displayName.localeCompare(b.displayName),
            )
            .map((r) => [
              r.displayName,
              `${r.slot}  ${r.label}`,
              { text: verdictWords[r.verdict], verdict: r.verdict },
              told(r.validation?.averageDeltaE, (v) => v.toFixed(2)),
              told(r.validation?.worstDeltaE, (v) => v.toFixed(2)),
              told(r.validation?.whiteDeltaUv, (v) => v.toFixed(4)),
              told(r.validation?.luminanceOff, (v) => `${formatSigned(v, 1)} %`),
              r.validation ? formatDate(r.validation.at) : 'never',
            ]),
        },
      ]),
    ],
    origin: `Made by Bichroma ${version} from the newest validations of ${validations.length} slots: runs ${rangesOf(validations)}.`,
    at: on,
  }
}

/** A figure as it is written; a dash for one that its readings do not tell. */
const told = (value: number | null | undefined, write: (value: number) => string): string =>
  typeof value === 'number' && Number.isFinite(value) ? write(value) : '–'

/** Numbers in few words: 1–3, 7, 9–12. */
function rangesOf(numbers: readonly number[]): string {
  const sorted = [...new Set(numbers)].sort((a, b) => a - b)
  const ranges: [number, number][] = []
  for (const n of sorted) {
    const last = ranges[ranges.length - 1]
    if (last && n === last[1] + 1) last[1] = n
    else ranges.push([n, n])
  }
  return ranges.map(([a, b]) => (a === b ? String(a) : `${a}–${b}`)).join(', ') || 'none'
}
