import type { DataSource } from 'typeorm'
import { In, LessThanOrEqual } from 'typeorm'
import { figureKey, signedKey } from '@bichroma/core/drift'
import type { FleetRow } from '@bichroma/core/review'
import { dueLine, verdictNow } from '@bichroma/core/rounds'
import { runKinds } from '@bichroma/core/runs'
import type { Correction } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import { validationEntity } from '../drift/entities'
import { nameOf } from '../drift/fleet'
import { displayEntity, instrumentEntity, roomEntity, workstationEntity } from '../register/entities'
import { stageEntity } from '../runs/entities'
import { judgedAnew } from '../runs/summaries'
import { studioSettings } from '../studio/settings'
import { version } from '../data/version'
import type { JudgedRun } from './judgedRun'
import type { StoredReportFacts } from './reports'

function correctionWords(correction: Correction | null): string {
  if (!correction || correction.kind === 'none') return 'none'
  if (correction.kind === 'own') return `the instrument’s own, for ${correction.panelKind}`
  return `made on ${correction.displayName} on ${new Date(correction.madeAt).toISOString().slice(0, 10)}, leaves ${correction.residual.toFixed(4)} Δu′v′`
}

/** What a report of a judged run tells, from what is stored; the same at any later time. */
export async function runReportFacts(data: DataSource, row: JudgedRun): Promise<StoredReportFacts> {
  const display = await data.getRepository(displayEntity).findOneByOrFail({ id: row.displayId })
  const workstation = await data.getRepository(workstationEntity).findOneByOrFail({ id: display.workstationId })
  const room = await data.getRepository(roomEntity).findOneByOrFail({ id: workstation.roomId })
  const instrument = await data.getRepository(instrumentEntity).findOneByOrFail({ id: row.instrumentId })
  const account = await data.getRepository(accountEntity).findOneBy({ id: row.accountId })
  const stages = await data.getRepository(stageEntity).find({ where: { runId: row.id }, order: { id: 'ASC' } })
  // A baseline has no verdict of its slot, and so no summary.
  const at = row.summary?.at ?? row.endedAt ?? row.startedAt
  const { name, maker, model, serial } = display
  return {
    studio: (await studioSettings(data)).studioName,
    version,
    run: { id: row.id, kind: row.kind, at, startedAt: row.startedAt },
    display: { name, maker, model, serial, firmware: row.firmware ?? display.firmware },
    workstation: workstation.name,
    room: room.name,
    slot: row.slot,
    aimName: row.label,
    aim: row.aim,
    instrument: nameOf(instrument),
    certifiedAt: instrument.certifiedAt,
    by: account?.name ?? 'someone',
    dueAt: runKinds[row.kind].settles
      ? dueLine({ verdict: row.judgement.verdict, at }, row.checkEveryDays ?? display.checkEveryDays)
      : null,
    profileName: row.profileName,
    importedFrom: row.imported?.fileName ?? null,
    withdrawn:
      row.withdrawnAt === null ? null : { at: row.withdrawnAt, by: row.withdrawnBy!, reason: row.withdrawnReason! },
    anew: (await judgedAnew(data, [row.id])).get(row.id) ?? null,
    readsMore: row.readsMore,
    metricsText: row.metricsText,
    judgement: row.judgement,
    limits: row.limits,
    baseline: row.baseline,
    evidence: {
      stages: stages.map(({ stage, tookMs, evidence, conditions }) => ({
        stage,
        tookMs,
        evidence,
        ...(conditions && { conditions }),
      })),
      correction: correctionWords(row.correction),
      tablesHash: row.tablesHash,
      profileHash: row.profileHash,
    },
  }
}

/** A row of the fleet's report, and whose it is. */
export type PlacedRow = FleetRow & { readonly displayId: number }

/** Every slot that had been calibrated or validated by an instant, as it stood then; of one room if given. */
export async function fleetRows(data: DataSource, on: number, roomId?: number): Promise<PlacedRow[]> {
  const rooms = new Map((await data.getRepository(roomEntity).find()).map((r) => [r.id, r.name]))
  const workstations = new Map((await data.getRepository(workstationEntity).find()).map((w) => [w.id, w]))
  const instruments = new Map((await data.getRepository(instrumentEntity).find()).map((i) => [i.id, nameOf(i)]))
  const displays = (await data.getRepository(displayEntity).find({ order: { name: 'ASC' } })).filter(
    (d) =>
      (roomId === undefined || workstations.get(d.workstationId)!.roomId === roomId) &&
      // What had been put away by then is on no list of what is in use.
      (d.kept === 'in use' || d.keptSince! > on),
  )
  const newest = await data
    .getRepository(validationEntity)
    .createQueryBuilder('v')
    .select('v.displayId', 'displayId')
    .addSelect('v.slot', 'slot')
    // SQLite gives the other columns of the row that holds the largest.
    .addSelect('MAX(v.at)', 'at')
    .addSelect('v.id', 'id')
    .where({ at: LessThanOrEqual(on) })
    .groupBy('v.displayId')
    .addGroupBy('v.slot')
    .getRawMany<{ displayId: number; slot: number; id: number }>()
  const validations = new Map(
    (await data.getRepository(validationEntity).findBy({ id: In(newest.map((v) => v.id)) })).map((v) => [
      `${v.displayId} ${v.slot}`,
      v,
    ]),
  )
  return displays.flatMap((display): PlacedRow[] => {
    const own = [...validations.values()].filter((v) => v.displayId === display.id)
    const place = {
      displayId: display.id,
      room: rooms.get(workstations.get(display.workstationId)!.roomId)!,
      displayName: display.name,
      model: `${display.maker} ${display.model}`,
    }
    return own
      .sort((a, b) => a.slot - b.slot)
      .map((v): PlacedRow => ({
        ...place,
        slot: v.slot,
        label: v.label,
        verdict: verdictNow(v, display.checkEveryDays, on),
        validation: {
          runId: v.runId,
          at: v.at,
          averageDeltaE: v.figures[figureKey({ metric: 'averageDeltaE' }, 'de2000')],
          worstDeltaE: v.figures[figureKey({ metric: 'worstDeltaE' }, 'de2000')],
          whiteDeltaUv: v.figures.whiteDeltaUv,
          luminanceOff: v.figures[signedKey],
          instrument: instruments.get(v.instrumentId)!,
        },
      }))
  })
}
