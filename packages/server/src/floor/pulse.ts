import type { DataSource } from 'typeorm'
import { In, Not, IsNull } from 'typeorm'
import { runKinds, stageLabels } from '@bichroma/core'
import type { Pulse } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { displayEntity, instrumentEntity, workstationEntity } from '../register/entities'
import type { RunEngine } from '../runs/engine'
import { runEntity } from '../runs/entities'
import { isHeld } from '../runs/heldByRuns'

const day = 86_400_000

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
      where: { state: isHeld() },
    })
  ).map((run) => engine.asItStands(run))
  const displays = await data
    .getRepository(displayEntity)
    .find({ select: { id: true, name: true }, where: { id: In(held.map((r) => r.displayId)) } })
  const names = new Map(displays.map((d) => [d.id, d.name]))
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
    dueToday: await dueToday(data, now),
    instruments: instruments.length,
    instrumentsFree: instruments.filter((i) => !held.some((r) => r.instrumentId === i.id)).length,
  }
}

/** Displays that are due, or overdue: by the validation of the slot that they show, or for want of one. */
async function dueToday(data: DataSource, now: number): Promise<number> {
  const [{ due }] = await data.query<{ due: number }[]>(
    `SELECT COUNT(*) AS due FROM display JOIN slot ON slot.display_id = display.id AND slot.number = display.active_slot
     LEFT JOIN validation ON validation.run_id = slot.judged_run_id
     WHERE slot.unsure OR slot.judged_run_id IS NULL
       -- A validation that is still to be filed is told by its run.
       OR COALESCE(validation.at, (SELECT summary ->> 'at' FROM run WHERE id = slot.judged_run_id), 0)
          + check_every_days * ${day} <= ?`,
    [now],
  )
  return due
}
