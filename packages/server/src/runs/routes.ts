import type { DataSource } from 'typeorm'
import { runProgress } from '@bichroma/core/runs'
import {
  rebuildProfileSchema,
  resumeRunSchema,
  runListSchema,
  startRunSchema,
  stopRunSchema,
  validate,
  type RunDetail,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import type { ContentStore } from '../data/contents'
import { idOf, type Api } from '../http/api'
import { jsonInBlocks } from '../http/jsonInBlocks'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import type { RunEngine } from './engine/engine'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { displayEntity } from '../register/entities'
import { runEntity, runFacts, runName, stageEntity, stageRecordOf, type RunFacts } from './entities'
import { readingsOf } from './readingsOf'
import { rebuildProfile } from './profile/rebuildProfile'
import { queryOf } from '../http/query'
import { listRuns } from './listRuns'
import { summarizeRuns } from './summaries'

interface RunRouteServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly engine: RunEngine
  readonly contents: ContentStore
  readonly threads: Threads
  readonly ledger: Ledger
  readonly changed: (runId: number) => void
}

export function runRoutes(api: Api, { data, hub, engine, contents, threads, ledger, changed }: RunRouteServices): void {
  const rowOf = async (id: number) => {
    const row: RunFacts | null = await data.getRepository(runEntity).findOne({ select: runFacts, where: { id } })
    if (!row || row.state === 'importing') throw new Refusal('not-found', `There is no run ${id}.`)
    return engine.asItStands(row)
  }

  api.on('GET /runs', async (request) => {
    const page = await listRuns(data, queryOf(request, runListSchema))
    return { ...page, items: page.items.map((run) => engine.asItStands(run)) }
  })
  api.on('POST /runs', async (request, response) => {
    const id = await engine.start(validate(startRunSchema, request.body), request.account)
    response.status(201)
    return { id }
  })
  api.on('POST /runs/:id/stop', async (request) => {
    await engine.stop(idOf(request), validate(stopRunSchema, request.body ?? {}).letGo ?? false, request.account)
    return {}
  })
  api.on('POST /runs/:id/put-back', async (request) => {
    await engine.putBack(idOf(request), request.account)
    return {}
  })
  api.on('POST /runs/:id/resume', async (request) => {
    const { confirm } = validate(resumeRunSchema, request.body ?? {})
    await engine.resume(idOf(request), confirm ?? [], request.account)
    return {}
  })

  api.on('GET /runs/:id', async (request, response) => {
    const row = await rowOf(idOf(request))
    const [summary] = await summarizeRuns(data, [row])
    const log = await readingsOf(data, row.id)
    const stages = await data.getRepository(stageEntity).find({ where: { runId: row.id }, order: { id: 'ASC' } })
    const live = engine.live(row.id)
    const detail: Omit<RunDetail, 'log'> = {
      ...summary,
      aim: row.aim,
      resolvedAim: row.resolvedAim,
      limits: row.limits,
      overwrote: row.overwrote,
      sampling: row.sampling,
      begins: row.begins,
      budget: row.budget,
      profile: row.profile,
      patches: row.patches,
      correction: row.correction,
      stage: row.stage,
      stages: live?.stages ?? stages.map(stageRecordOf),
      progress:
        live?.progress ??
        (row.state === 'done'
          ? { done: 1, secondsLeft: 0, basis: log.length }
          : runProgress(
              row.kind,
              row.stage,
              log.filter((r) => r.stage === row.stage).length,
              log.map((r) => r.tookMs),
            )),
      patch: live?.patch ?? null,
      asks: live?.asks ?? null,
      loading: live?.loading ?? null,
      profileHash: row.profileHash,
      uniformity: row.uniformity,
    }
    // An imported run has thousands of readings.
    response.type('application/json').send(`${JSON.stringify(detail).slice(0, -1)},"log":${await jsonInBlocks(log)}}`)
  })

  api.on('GET /runs/:id/profile', async (request, response) => {
    const row = await rowOf(idOf(request))
    const bytes = row.state === 'done' && row.profileHash ? await contents.get(row.profileHash) : null
    if (!bytes)
      throw new Refusal('not-found', 'This run filed no profile; full runs and refreshes that reach their end do.')
    response
      .attachment(row.profileName ?? 'profile.icc')
      .type('application/vnd.iccprofile')
      .send(Buffer.from(bytes))
  })
  api.on('POST /runs/:id/profile', async (request) => {
    const { id } = await rowOf(idOf(request))
    const row = await data.getRepository(runEntity).findOneByOrFail({ id })
    const { profile } = validate(rebuildProfileSchema, request.body ?? {})
    const change = await rebuildProfile({ data, hub, contents, threads }, row, profile)
    const { name } = await data.getRepository(displayEntity).findOneByOrFail({ id: row.displayId })
    ledger.change(
      request.account,
      (take) =>
        take(
          data
            .createQueryBuilder()
            .update(runEntity)
            .set(change as never)
            .where({ id: row.id }),
        ),
      () => ({
        act: 'rebuilt',
        thing: 'run',
        id: row.id,
        name: `profile of ${runName(row, name)}`,
        changes: changesBetween({ profileHash: row.profileHash }, { profileHash: change.profileHash }),
        evidence: { display: row.displayId },
      }),
    )
    changed(row.id)
    return { profileName: change.profileName, profileHash: change.profileHash }
  })
}
