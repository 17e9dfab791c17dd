import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import { dueLine, dueState, heldStates, verdictNow, type LastJudged } from '@bichroma/core'
import type { DisplaySummary, JudgedSummary, Slot } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { runEntity } from '../runs/entities'
import { displayEntity, slotEntity, workstationEntity, type DisplayRow } from './entities'

/** Displays with slots, verdicts and due lines as of `now`; all of them, or those given. */
export async function summarizeDisplays(
  data: DataSource,
  hub: CourierHub,
  now: number,
  only?: readonly number[],
): Promise<DisplaySummary[]> {
  const displays = await data
    .getRepository(displayEntity)
    .find({ where: only ? { id: In([...only]) } : {}, order: { id: 'ASC' } })
  const workstations = new Map((await data.getRepository(workstationEntity).find()).map((w) => [w.id, w]))
  const slots = await data
    .getRepository(slotEntity)
    .find({ where: { displayId: In(displays.map((d) => d.id)) }, order: { number: 'ASC' } })
  const judgedIds = slots.flatMap((s) => (s.judgedRunId === null ? [] : [s.judgedRunId]))
  const judged = new Map(
    (
      await data.getRepository(runEntity).find({ select: { id: true, summary: true }, where: { id: In(judgedIds) } })
    ).map((r) => [r.id, r.summary]),
  )
  const held = new Map(
    (
      await data
        .getRepository(runEntity)
        .find({ select: { id: true, displayId: true }, where: { state: In([...heldStates]) } })
    ).map((r) => [r.displayId, r.id]),
  )
  return displays.map((display) => {
    const rack = slots
      .filter((s) => s.displayId === display.id)
      .map((s): Slot => {
        const last = s.judgedRunId === null ? null : (judged.get(s.judgedRunId) ?? null)
        return {
          number: s.number,
          label: s.label,
          aim: s.aim,
          writtenAt: s.writtenAt,
          tablesHash: s.tablesHash,
          active: s.number === display.activeSlot,
          unsure: s.unsure,
          judged:
            s.unsure || !last
              ? null
              : ({ ...last, verdict: verdictNow(last, display.checkEveryDays, now) } satisfies JudgedSummary),
        }
      })
    const active = slots.find((s) => s.displayId === display.id && s.number === display.activeSlot)
    const last: LastJudged | null =
      active?.judgedRunId && !active.unsure ? (judged.get(active.judgedRunId) ?? null) : null
    const due = dueLine(last, display.checkEveryDays)
    const here = hub.displayOf(display.workstationId, display.serial)
    return {
      ...withoutSlots(display),
      roomId: workstations.get(display.workstationId)!.roomId,
      slots: rack,
      verdict: verdictNow(last, display.checkEveryDays, now),
      dueAt: due,
      dueState: dueState(due, now),
      holds: here?.pipeline.kind ?? null,
      live: here !== null,
      runId: held.get(display.id) ?? null,
    }
  })
}

const withoutSlots = ({ slots: _slots, activeSlot: _activeSlot, delayMs: _delay, ...rest }: DisplayRow) => rest
