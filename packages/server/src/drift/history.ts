import type { DataSource } from 'typeorm'
import { IsNull, Not } from 'typeorm'
import {
  figureKey,
  forecastLimits,
  instrumentShifts,
  metricLabel,
  formulaOf,
  runKindNames,
  runKinds,
  signedKey,
  slotDrift,
  trackedFigures,
  type Limits,
  type Validated,
} from '@bichroma/core'
import { limitsEntity, type LimitsRow } from '../aims/entities'
import { insertRow } from '../data/insertRow'
import { displayEntity } from '../register/entities'
import { runEntity, type RunRow } from '../runs/entities'
import { slotDriftEntity, validationEntity, type Foretold, type SlotDriftRow, type ValidationRow } from './entities'

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
  return rows.filter((r) => r.label === label).map((r) => ({ ...r, segment: r.calibrated ? ++segment : segment }))
}

/** What the trends of a slot foretell by limits: the rule that is broken first. */
export function foretell(drift: SlotDriftRow['drift'], limits: Limits, now: number): Foretold | null {
  const [first] = forecastLimits(drift, limits, now)
  if (!first) return null
  const { metric, levels } = first.rule
  return { rule: metricLabel(metric, { formula: formulaOf(limits), levels }), forecast: first.forecast }
}

/** Brings what is kept of a slot's history up to date with its validations. */
export async function refreshSlotDrift(data: DataSource, displayId: number, slot: number, now: number): Promise<void> {
  const kept = data.getRepository(slotDriftEntity)
  const history = await historyOf(data, displayId, slot)
  const newest = history[history.length - 1]
  if (!newest) {
    await kept.delete({ displayId, slot })
    return
  }
  const limits = await limitsOf(data, displayId)
  const run = await data
    .getRepository(runEntity)
    .findOneOrFail({ select: { id: true, summary: true }, where: { id: newest.runId } })
  const validated = history.map(({ at, segment, instrumentId, figures }): Validated => ({
    at,
    segment,
    instrumentId,
    figures,
  }))
  const drift = slotDrift(validated, run.summary!.aimWhite)
  const difference = (metric: 'averageDeltaE' | 'worstDeltaE') => newest.figures[figureKey({ metric }, 'de2000')]
  const row: Omit<SlotDriftRow, 'id'> = {
    displayId,
    slot,
    label: newest.label,
    firstAt: history[0].at,
    at: newest.at,
    validations: history.length,
    verdict: newest.verdict,
    instrumentId: newest.instrumentId,
    averageDeltaE: difference('averageDeltaE'),
    worstDeltaE: difference('worstDeltaE'),
    luminanceOff: newest.figures[signedKey],
    whiteDeltaUv: newest.figures.whiteDeltaUv,
    drift,
    shifts: instrumentShifts(validated, drift),
    foretold: foretell(drift, limits.limits, now),
    limitsId: limits.id,
    limitsUpdatedAt: limits.updatedAt,
  }
  const known = await kept.findOneBy({ displayId, slot })
  if (known) await kept.update({ id: known.id }, row as never)
  else await insertRow(data.manager, slotDriftEntity, row)
}

async function limitsOf(data: DataSource, displayId: number): Promise<LimitsRow> {
  const { limitsId } = await data.getRepository(displayEntity).findOneByOrFail({ id: displayId })
  return data.getRepository(limitsEntity).findOneByOrFail({ id: limitsId })
}

type Judged = Pick<
  RunRow,
  | 'id'
  | 'displayId'
  | 'slot'
  | 'label'
  | 'instrumentId'
  | 'kind'
  | 'imported'
  | 'metrics'
  | 'limits'
  | 'judgement'
  | 'summary'
>

const validationOf = (run: Judged): Omit<ValidationRow, 'id'> => ({
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
  figures: trackedFigures(run.metrics!, run.limits),
})

/** Adds a judged run to the history of its slot; one that is there already stays. */
export async function fileValidation(data: DataSource, run: Judged, now: number): Promise<void> {
  if (await data.getRepository(validationEntity).existsBy({ runId: run.id })) return
  await insertRow(data.manager, validationEntity, validationOf(run))
  await refreshSlotDrift(data, run.displayId, run.slot, now)
}

/** Takes a run out of the history: what it wrote was taken back. */
export async function withdrawValidation(
  data: DataSource,
  run: Pick<RunRow, 'id' | 'displayId' | 'slot'>,
  now: number,
) {
  await data.getRepository(validationEntity).delete({ runId: run.id })
  await refreshSlotDrift(data, run.displayId, run.slot, now)
}

/** Judged runs of a store from before validations were kept: adds what is missing. */
export async function fileMissingValidations(data: DataSource, now: number): Promise<void> {
  const settling = runKindNames.filter((kind) => runKinds[kind].settles)
  const missing = await data
    .getRepository(runEntity)
    .createQueryBuilder('run')
    .select('run.id', 'id')
    .where({ state: 'done', metrics: Not(IsNull()), judgement: Not(IsNull()), message: IsNull() })
    .andWhere('run.kind IN (:...settling)', { settling })
    .andWhere('NOT EXISTS (SELECT 1 FROM validation WHERE validation.run_id = run.id)')
    .orderBy('run.id')
    .getRawMany<{ id: number }>()
  const slots = new Map<string, [number, number]>()
  for (const { id } of missing) {
    const run = await data.getRepository(runEntity).findOneByOrFail({ id })
    await insertRow(data.manager, validationEntity, validationOf(run))
    slots.set(`${run.displayId} ${run.slot}`, [run.displayId, run.slot])
  }
  for (const [displayId, slot] of slots.values()) await refreshSlotDrift(data, displayId, slot, now)
}
