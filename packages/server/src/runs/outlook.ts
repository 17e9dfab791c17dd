import type { DataSource } from 'typeorm'
import { In, IsNull } from 'typeorm'
import {
  plannedReadings,
  runKindNames,
  runKinds,
  runProgress,
  samplingNames,
  type RunKind,
  type Sampling,
} from '@bichroma/core/runs'
import type { CourierDisplay, RunOutlook } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { displayEntity, type DisplayRow } from '../register/entities'
import { readingEntity, runEntity, stageEntity } from './entities'

/** The newest runs of a kind that its outlook is made from. */
const newest = 9
/** Runs of the whole studio that are looked through for displays of the same kind of panel. */
const lookedThrough = 2000
/** Readings whose durations tell the pace of others. */
const paceReadings = 400

const median = (values: readonly number[]) =>
  values.length ? [...values].sort((a, b) => a - b)[values.length >> 1] : null

/**
 * What each kind of run is likely to take on a display: from earlier runs on its model, else on its kind of panel, else
 * reckoned at the pace of whatever was read last.
 */
export function outlookRoutes(api: Api, data: DataSource, hub: CourierHub): void {
  api.on('GET /displays/:id/outlook', async (request): Promise<RunOutlook[]> => {
    const id = idOf(request)
    const display = await data.getRepository(displayEntity).findOneBy({ id })
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
    const { maker, model } = display
    const alike = await data.getRepository(displayEntity).find({ select: { id: true }, where: { maker, model } })
    const facts = hub.displayOf(display.workstationId, display.serial)
    const choices = runKindNames.flatMap((kind): [RunKind, Sampling | null][] =>
      kind === 'full' ? samplingNames.map((s) => [kind, s]) : [[kind, null]],
    )
    const others = await runsOnItsKind(data, display)
    const pace = await paceOf(data, others[0]?.id)
    return Promise.all(
      choices.map(async ([kind, sampling]): Promise<RunOutlook> => {
        const onModel = await data.getRepository(runEntity).find({
          select: { id: true, summary: true },
          where: {
            displayId: In(alike.map((d) => d.id)),
            kind,
            state: 'done',
            imported: IsNull() as never,
            ...(sampling && { sampling }),
          },
          order: { id: 'DESC' },
          take: newest,
        })
        const runs = onModel.length
          ? onModel
          : others.filter((r) => r.kind === kind && (!sampling || r.sampling === sampling)).slice(0, newest)
        if (!runs.length)
          return {
            kind,
            sampling,
            ...reckoned(kind, sampling ?? 'usual', facts, pace),
            from: 0,
            alike: null,
            averageDeltaE: null,
            worstDeltaE: null,
          }
        const ids = runs.map((r) => r.id)
        const alikeBy = onModel.length ? ('model' as const) : ('kind' as const)
        return { kind, sampling, ...(await measured(data, ids)), alike: alikeBy, ...proved(runs) }
      }),
    )
  })
}

/** The newest runs on displays of the same kind of panel, newest first; those on its own model too. */
async function runsOnItsKind(data: DataSource, { panelKind }: DisplayRow) {
  const runs = await data.getRepository(runEntity).find({
    select: { id: true, kind: true, sampling: true, displayId: true, summary: true },
    where: { state: 'done', imported: IsNull() as never },
    order: { id: 'DESC' },
    take: lookedThrough,
  })
  const alike = await data.getRepository(displayEntity).find({ select: { id: true }, where: { panelKind } })
  const ids = new Set(alike.map((d) => d.id))
  return runs.filter((r) => ids.has(r.displayId))
}

/** Durations of the readings of a run, ms at real pace; none where there is no run. */
async function paceOf(data: DataSource, runId: number | undefined): Promise<number[]> {
  if (runId === undefined) return []
  const readings = await data
    .getRepository(readingEntity)
    .find({ select: { tookMs: true }, where: { runId }, order: { seq: 'ASC' }, take: paceReadings })
  return readings.map((r) => r.tookMs)
}

async function measured(data: DataSource, ids: readonly number[]) {
  const counts = await data
    .getRepository(readingEntity)
    .createQueryBuilder('reading')
    .select('COUNT(*)', 'count')
    .where({ runId: In([...ids]) })
    .groupBy('reading.runId')
    .getRawMany<{ count: number }>()
  const times = await data
    .getRepository(stageEntity)
    .createQueryBuilder('stage')
    .select('SUM(stage.tookMs)', 'ms')
    .where({ runId: In([...ids]) })
    .groupBy('stage.runId')
    .getRawMany<{ ms: number }>()
  return {
    readings: median(counts.map((c) => Number(c.count))) ?? 0,
    minutes: (median(times.map((t) => Number(t.ms))) ?? 0) / 60_000,
    from: ids.length,
  }
}

const proved = (runs: readonly { summary: { averageDeltaE: number; worstDeltaE: number } | null }[]) => {
  const summaries = runs.flatMap((r) => r.summary ?? [])
  return {
    averageDeltaE: median(summaries.map((s) => s.averageDeltaE)),
    worstDeltaE: median(summaries.map((s) => s.worstDeltaE)),
  }
}

function reckoned(kind: RunKind, sampling: Sampling, facts: CourierDisplay | null, pace: readonly number[]) {
  const planned = plannedReadings(kind, facts?.pipeline.kind, sampling)
  const loadSeconds = facts ? facts.resetSeconds + 1.5 * facts.writeSeconds + 2 : undefined
  return {
    readings: runKinds[kind].stages.reduce((sum, s) => sum + planned[s], 0),
    minutes: runProgress(kind, 'ready', 0, pace, planned, loadSeconds).secondsLeft / 60,
  }
}
