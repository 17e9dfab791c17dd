import type { DataSource } from 'typeorm'
import { metricLabel, formulaOf, type Limits } from '@bichroma/core/aims'
import {
  figureKey,
  forecastLimits,
  instrumentShifts,
  leavesLimits,
  signedKey,
  slotDrift,
  trackedFigures,
  type TrackedFigures,
  type Validated as Tracked,
} from '@bichroma/core/drift'
import { runKinds } from '@bichroma/core/runs'
import { limitsEntity, type LimitsRow } from '../aims/entities'
import { atomically, insertion, written, type Take } from '../data/atomically'
import { patiently } from '../data/patiently'
import { displayEntity } from '../register/entities'
import { runEntity, type RunRow } from '../runs/entities'
import { studioSettings } from '../studio/settings'
import {
  driftDueEntity,
  slotDriftEntity,
  validationEntity,
  type Foretold,
  type SlotDriftRow,
  type ValidationRow,
} from './entities'

/** Validations of a slot and the aim that it holds now, oldest first, each with the stretch of history it belongs to. */
export async function historyOf(
  data: DataSource,
  displayId: number,
  slot: number,
): Promise<(ValidationRow & { segment: number })[]> {
  const rows = await data
    .getRepository(validationEntity)
    .find({ where: { displayId, slot }, order: { at: 'ASC', id: 'ASC' } })
  const label = rows[rows.length - 1]?.label
  let segment = 0
  return rows
    .filter((r) => r.label === label)
    .map((r) => ({ ...r, figures: toldFigures(r.figures), segment: r.calibrated ? ++segment : segment }))
}

/** Older versions let figures in that are no numbers. */
const toldFigures = (figures: TrackedFigures): TrackedFigures =>
  Object.values(figures).every(Number.isFinite)
    ? figures
    : Object.fromEntries(Object.entries(figures).filter(([, value]) => Number.isFinite(value)))

/** What the trends of a slot foretell by limits: the rule that is broken first. */
function foretell(drift: SlotDriftRow['drift'], limits: Limits, now: number): Foretold | null {
  const [first] = forecastLimits(drift, limits, now)
  if (!first) return null
  const { metric, levels } = first.rule
  return { rule: metricLabel(metric, { formula: formulaOf(limits), levels }), forecast: first.forecast }
}

/** Checks that lie closer together than this say how a display is, not how it changes. */
const shortestSpan = 7 * 86_400_000

/** When a slot leaves its limits with more than the accepted chance: for its due line. */
function leavesBy(
  { drift, firstAt, at }: Pick<SlotDriftRow, 'drift' | 'firstAt' | 'at'>,
  limits: Limits,
  accepted: number,
  now: number,
) {
  const leavesAt = at - firstAt < shortestSpan ? null : leavesLimits(drift, limits, { from: now, accepted })
  return { leavesAt: leavesAt === null ? null : Math.round(leavesAt), accepted }
}

/** Figures by which lists tell of a slot. */
const shownKeys = [
  figureKey({ metric: 'averageDeltaE' }, 'de2000'),
  figureKey({ metric: 'worstDeltaE' }, 'de2000'),
  signedKey,
  figureKey({ metric: 'whiteDeltaUv' }, 'de2000'),
]

/** Brings what is kept of a slot's history up to date with its validations, where that is due. */
export async function refreshSlotDrift(data: DataSource, displayId: number, slot: number, now: number): Promise<void> {
  const due = await data.getRepository(driftDueEntity).findOneBy({ displayId, slot })
  if (!due) return
  const settled = written('DELETE FROM drift_due WHERE display_id = ? AND slot = ? AND asked = ?', [
    displayId,
    slot,
    due.asked,
  ])
  const gone = written('DELETE FROM slot_drift WHERE display_id = ? AND slot = ?', [displayId, slot])
  const history = await historyOf(data, displayId, slot)
  const newest = history[history.length - 1]
  // The newest may lack a figure that an older version let in as no number: the last that is one is told.
  const told = shownKeys.map((key) => history.findLast(({ figures }) => key in figures)?.figures[key])
  if (!newest || told.some((value) => value === undefined)) {
    await patiently(() =>
      atomically(data, (take) => {
        take(gone)
        take(settled)
      }),
    )
    return
  }
  const limits = await limitsOf(data, displayId)
  const run = await data
    .getRepository(runEntity)
    .findOneOrFail({ select: { id: true, summary: true }, where: { id: newest.runId } })
  const validated = history.map(({ at, segment, instrumentId, figures }): Tracked => ({
    at,
    segment,
    instrumentId,
    figures,
  }))
  if (!run.summary) throw new Error(`Run ${run.id} was validated without a judgement.`)
  const drift = slotDrift(validated, run.summary.aimWhite)
  const [averageDeltaE, worstDeltaE, luminanceOff, whiteDeltaUv] = told as number[]
  const row: Omit<SlotDriftRow, 'id'> = {
    displayId,
    slot,
    label: newest.label,
    firstAt: history[0].at,
    at: newest.at,
    validations: history.length,
    verdict: newest.verdict,
    instrumentId: newest.instrumentId,
    averageDeltaE,
    worstDeltaE,
    luminanceOff,
    whiteDeltaUv,
    drift,
    shifts: instrumentShifts(validated, drift),
    foretold: foretell(drift, limits.limits, now),
    limitsId: limits.id,
    limitsUpdatedAt: limits.updatedAt,
    ...leavesBy(
      { drift, firstAt: history[0].at, at: newest.at },
      limits.limits,
      (await studioSettings(data)).accepted,
      now,
    ),
  }
  await patiently(() =>
    atomically(data, (take) => {
      take(gone)
      take(insertion(data.manager, slotDriftEntity, row))
      take(settled)
    }),
  )
}

async function limitsOf(data: DataSource, displayId: number): Promise<LimitsRow> {
  const { limitsId } = await data.getRepository(displayEntity).findOneByOrFail({ id: displayId })
  return data.getRepository(limitsEntity).findOneByOrFail({ id: limitsId })
}

type Validated = Pick<
  RunRow,
  'id' | 'displayId' | 'slot' | 'label' | 'instrumentId' | 'kind' | 'imported' | 'judgement' | 'summary'
>
export type Judged = Validated & Pick<RunRow, 'metrics' | 'limits'>

const validationOf = (run: Validated, figures: TrackedFigures): Omit<ValidationRow, 'id'> => ({
  runId: run.id,
  displayId: run.displayId,
  slot: run.slot,
  label: run.label,
  at: run.summary!.at,
  instrumentId: run.instrumentId,
  kind: run.kind,
  calibrated: runKinds[run.kind].writes,
  imported: run.imported !== null,
  verdict: run.judgement!.verdict,
  figures,
})

/** What a judged run adds to the history of its slot. */
export const figuresOf = (run: Judged) => trackedFigures(run.metrics!, run.limits)

/** What adds a judged run to the history of its slot, and asks for its trends; to be taken with what it follows from. */
export function takeValidation(data: DataSource, take: Take, run: Validated, figures: TrackedFigures): void {
  take(insertion(data.manager, validationEntity, validationOf(run, figures)))
  take(askForDrift(run))
}

/** What takes a run out of the history of its slot. */
export function takeOutValidation(take: Take, run: Pick<RunRow, 'id' | 'displayId' | 'slot'>): void {
  take(written('DELETE FROM validation WHERE run_id = ?', [run.id]))
  take(askForDrift(run))
}

/** What asks for the trends of a slot to be worked out anew; to be taken with what it follows from. */
export const askForDrift = ({ displayId, slot }: Pick<RunRow, 'displayId' | 'slot'>) =>
  written(
    'INSERT INTO drift_due (display_id, slot, asked) VALUES (?, ?, 1) ON CONFLICT DO UPDATE SET asked = asked + 1',
    [displayId, slot],
  )

/** Forecasts that are made in one go. */
const atOnce = 5

/** Makes forecasts anew that are by other limits than those which their displays have now. */
export async function foretellAnew(data: DataSource, now: () => number, ended: () => boolean): Promise<void> {
  const { accepted } = await studioSettings(data)
  for (let after = 0; !ended();) {
    const stale = await data.query<
      {
        id: number
        drift: string
        firstAt: number
        at: number
        limits: string
        limitsId: number
        updatedAt: number
      }[]
    >(
      `SELECT slot_drift.id AS id, drift, first_at AS firstAt, at, limits.limits AS limits, limits.id AS limitsId, limits.updated_at AS updatedAt
       FROM slot_drift JOIN display ON display.id = slot_drift.display_id JOIN limits ON limits.id = display.limits_id
       WHERE slot_drift.id > ? AND (slot_drift.limits_id <> limits.id OR slot_drift.limits_updated_at <> limits.updated_at
         OR slot_drift.accepted IS NOT ?)
       ORDER BY slot_drift.id LIMIT ${atOnce}`,
      [after, accepted],
    )
    const last = stale.at(-1)
    if (!last) return
    after = last.id
    const made = stale.map((row) => {
      const drift = JSON.parse(row.drift) as SlotDriftRow['drift']
      const limits = JSON.parse(row.limits) as Limits
      const { leavesAt } = leavesBy({ ...row, drift }, limits, accepted, now())
      return written(
        'UPDATE slot_drift SET foretold = ?, limits_id = ?, limits_updated_at = ?, leaves_at = ?, accepted = ? WHERE id = ?',
        [JSON.stringify(foretell(drift, limits, now())), row.limitsId, row.updatedAt, leavesAt, accepted, row.id],
      )
    })
    await patiently(() => atomically(data, (take) => made.forEach(take)))
    await new Promise((resolve) => setImmediate(resolve))
  }
}
