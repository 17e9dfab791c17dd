import type { DataSource } from 'typeorm'
import { In, Not, IsNull } from 'typeorm'
import { heldStates, runKinds, stageLabels } from '@bichroma/core'
import type { Pulse } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { summarizeDisplays } from './displays'
import { displayEntity, instrumentEntity, workstationEntity } from '../register/entities'
import type { RunEngine } from '../runs/engine'
import { runEntity } from '../runs/entities'

/** The line at the bottom of every screen. */
export async function pulseOf(data: DataSource, hub: CourierHub, engine: RunEngine, now: number): Promise<Pulse> {
  const held = (
    await data.getRepository(runEntity).find({
      select: {
        id: true,
        displayId: true,
        instrumentId: true,
        kind: true,
        slot: true,
        stage: true,
        state: true,
        message: true,
      },
      where: { state: In([...heldStates]) },
    })
  ).map((run) => engine.asItStands(run))
  const names = new Map(
    (await data.getRepository(displayEntity).find({ select: { id: true, name: true } })).map((d) => [d.id, d.name]),
  )
  const displays = await summarizeDisplays(data, hub, now)
  const instruments = await data
    .getRepository(instrumentEntity)
    .find({ select: { id: true }, where: { kind: Not('elsewhere') } })
  return {
    running: held.map((run) => {
      const progress = engine.live(run.id)?.progress
      return {
        runId: run.id,
        label: runKinds[run.kind].label,
        displayName: names.get(run.displayId)!,
        slot: run.slot,
        stage: stageLabels[run.stage],
        done: progress?.done ?? 0,
        secondsLeft: progress?.secondsLeft ?? 0,
        state: run.state,
      }
    }),
    couriersOnline: hub.online().length,
    couriers: await data.getRepository(workstationEntity).countBy({ courierKeyHash: Not(IsNull()) }),
    dueToday: displays.filter((d) => d.dueState === 'overdue').length,
    instruments: instruments.length,
    instrumentsFree: instruments.filter((i) => !held.some((r) => r.instrumentId === i.id)).length,
  }
}
