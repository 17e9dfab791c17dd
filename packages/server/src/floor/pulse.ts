import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import { runKinds, stageLabels } from '@bichroma/core/runs'
import type { Pulse } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { displayEntity } from '../register/entities'
import type { RunEngine } from '../runs/engine/engine'
import { runEntity } from '../runs/entities'
import { isHeld } from '../runs/heldByRuns'

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
  const [{ couriers, due, astray, instruments }] = await counts(data, now)
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
    couriers,
    dueToday: due,
    astray,
    instruments,
    // The store holds that a run has an instrument of its own.
    instrumentsFree: instruments - held.length,
  }
}

/** Counts of the whole fleet, each by an index of just what it counts. */
const counts = (data: DataSource, now: number) =>
  data.query<[{ couriers: number; due: number; astray: number; instruments: number }]>(
    `SELECT (SELECT COUNT(*) FROM workstation WHERE courier_key_hash IS NOT NULL) AS couriers,
       (SELECT COUNT(*) FROM display_now WHERE due_at IS NULL) + (SELECT COUNT(*) FROM display_now WHERE due_at <= ?) AS due,
       -- In the words of its index, or the store would read every row.
       (SELECT COUNT(*) FROM display_now WHERE placement_state IN ('overridden', 'missing', 'out of step')
          AND placement_state <> 'out of step') AS astray,
       (SELECT COUNT(*) FROM instrument WHERE kind <> 'elsewhere' AND kept = 'in use') AS instruments`,
    [now],
  )
