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
import { idOf, type Api } from '../access/api'
import { Refusal } from '../http/problem'
import { displayEntity } from '../register/entities'
import { readingEntity, runEntity, stageEntity } from './entities'

/** The newest runs of a kind that its outlook is made from. */
const newest = 9

const median = (values: readonly number[]) =>
  values.length ? [...values].sort((a, b) => a - b)[values.length >> 1] : null

/** What each kind of run is likely to take on a display: from earlier runs on its model, else reckoned. */
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
    return Promise.all(
      choices.map(async ([kind, sampling]) => {
        const runs = await data.getRepository(runEntity).find({
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
        return runs.length
          ? {
              kind,
              sampling,
              ...(await measured(
                data,
                runs.map((r) => r.id),
              )),
              ...proved(runs),
            }
          : {
              kind,
              sampling,
              ...reckoned(kind, sampling ?? 'usual', facts),
              from: 0,
              averageDeltaE: null,
              worstDeltaE: null,
            }
      }),
    )
  })
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

function reckoned(kind: RunKind, sampling: Sampling, facts: CourierDisplay | null) {
  const planned = plannedReadings(kind, facts?.pipeline.kind, sampling)
  const loadSeconds = facts ? facts.resetSeconds + 1.5 * facts.writeSeconds + 2 : undefined
  return {
    readings: runKinds[kind].stages.reduce((sum, s) => sum + planned[s], 0),
    minutes: runProgress(kind, 'ready', 0, [], planned, loadSeconds).secondsLeft / 60,
  }
}
