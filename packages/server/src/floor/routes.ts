import { Not, type DataSource } from 'typeorm'
import type { DisplayDetail, Instrument } from '@bichroma/contract'
import { idOf, type Api } from '../access/api'
import type { CourierHub } from '../couriers/hub'
import { Refusal } from '../http/problem'
import { instrumentEntity } from '../register/entities'
import type { RunEngine } from '../runs/engine'
import { runEntity } from '../runs/entities'
import { isHeld } from '../runs/heldByRuns'
import { listRuns } from '../runs/summaries'
import { summarizeDisplays } from './displays'
import { pulseOf } from './pulse'

/** What people look at first: displays with their verdicts, instruments with where they are, the line at the bottom. */
export function floorRoutes(api: Api, data: DataSource, hub: CourierHub, engine: RunEngine, now: () => number): void {
  api.on('GET /displays', () => summarizeDisplays(data, hub, now()))
  api.on('GET /displays/:id', async (request): Promise<DisplayDetail> => {
    const id = idOf(request)
    const [display] = await summarizeDisplays(data, hub, now(), [id])
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
    return { ...display, runs: await listRuns(data, { displayId: id, take: 50 }) }
  })

  api.on('GET /instruments', async (): Promise<Instrument[]> => {
    const held = await data
      .getRepository(runEntity)
      .find({ select: { id: true, instrumentId: true }, where: { state: isHeld() } })
    const runOf = new Map(held.map((r) => [r.instrumentId, r.id]))
    return (
      await data.getRepository(instrumentEntity).find({ where: { kind: Not('elsewhere') }, order: { id: 'ASC' } })
    ).map(({ broughtBy: _broughtBy, ...i }) => ({
      ...i,
      workstationId: hub.workstationOfInstrument(i.serial),
      runId: runOf.get(i.id) ?? null,
    }))
  })

  api.on('GET /pulse', () => pulseOf(data, hub, engine, now()))
}
