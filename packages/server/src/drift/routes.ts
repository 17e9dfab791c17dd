import type { DataSource } from 'typeorm'
import { formulaOf } from '@bichroma/core/aims'
import { figureKey, forecastRule, slotDrift } from '@bichroma/core/drift'
import { runKinds } from '@bichroma/core/runs'
import {
  slotHistorySchema,
  slotOutlookListSchema,
  type DisplayEvent,
  type RuleDrift,
  type SlotHistory,
} from '@bichroma/contract'
import { limitsEntity } from '../aims/entities'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { displayEntity, displayEventEntity, instrumentEntity, slotEntity } from '../register/entities'
import { runEntity } from '../runs/entities'
import { slotDriftEntity } from './entities'
import { queryOf } from '../http/query'
import { listSlotOutlooks, nameOf, type FleetDriftKeeper } from './fleet'
import { historyOf } from './history'

/** How displays change over months, and when they will leave their limits. */
export function driftRoutes(api: Api, data: DataSource, fleet: FleetDriftKeeper, now: () => number): void {
  api.on('GET /drift', () => fleet.sums(now()))
  api.on('GET /drift/slots', (request) => listSlotOutlooks(data, queryOf(request, slotOutlookListSchema), now()))
  api.on('GET /drift/:displayId', async (request) => {
    const displayId = idOf(request, 'displayId')
    const { slot } = queryOf(request, slotHistorySchema)
    return slotHistory(data, displayId, slot === undefined ? null : Number(slot), now())
  })
}

async function slotHistory(
  data: DataSource,
  displayId: number,
  asked: number | null,
  now: number,
): Promise<SlotHistory> {
  const display = await data.getRepository(displayEntity).findOneBy({ id: displayId })
  if (!display) throw new Refusal('not-found', `There is no display ${displayId}.`)
  const followed = await data.getRepository(slotDriftEntity).find({
    select: { id: true, slot: true, label: true },
    where: { displayId },
    order: { slot: 'ASC' },
  })
  const slots = followed.map(({ slot, label }) => ({ number: slot, label }))
  const slot = asked ?? slots.find((s) => s.number === display.activeSlot)?.number ?? slots[0]?.number ?? 1
  const limits = await data.getRepository(limitsEntity).findOneByOrFail({ id: display.limitsId })
  const formula = formulaOf(limits.limits)
  const rows = await historyOf(data, displayId, slot)
  const instruments = new Map((await data.getRepository(instrumentEntity).find()).map((i) => [i.id, nameOf(i)]))
  const history = rows.map(({ runId, at, kind, imported, calibrated, segment, instrumentId, verdict, figures }) => ({
    runId,
    at,
    kind,
    imported,
    calibrated,
    segment,
    instrument: instruments.get(instrumentId)!,
    verdict,
    figures,
  }))
  const newest = rows[rows.length - 1]
  const run = newest
    ? await data
        .getRepository(runEntity)
        .findOneOrFail({ select: { id: true, summary: true }, where: { id: newest.runId } })
    : null
  const drift = run?.summary ? slotDrift(rows, run.summary.aimWhite) : null
  return {
    displayName: display.name,
    slot,
    label: newest?.label ?? (await data.getRepository(slotEntity).findOneBy({ displayId, number: slot }))?.label ?? '',
    slots,
    limitsName: limits.name,
    formula,
    history,
    rules: drift
      ? limits.limits.rules.map((rule): RuleDrift => {
          const key = figureKey(rule, formula)
          return {
            rule,
            key,
            trend: drift.trends[key] ?? null,
            forecast: forecastRule(drift, rule, formula, { edge: rule.hard, now }),
          }
        })
      : [],
    events: [
      ...history
        .filter((h) => h.calibrated)
        .map((h): DisplayEvent => ({ at: h.at, kind: 'calibrated', text: runKinds[h.kind].label })),
      ...history
        .slice(1)
        .flatMap((h, i): DisplayEvent[] =>
          h.instrument === history[i].instrument
            ? []
            : [{ at: h.at, kind: 'instrument', text: `Read with ${h.instrument} from here` }],
        ),
      ...(await data.getRepository(displayEventEntity).find({ where: { displayId } })).map(
        ({ at, kind, text }): DisplayEvent => ({ at, kind, text }),
      ),
    ].sort((a, b) => a.at - b.at),
  }
}
