import type { DataSource } from 'typeorm'
import { In, IsNull } from 'typeorm'
import { dueLine, dueState, heldStates, runKindNames, runKinds, verdictNow, type LastJudged } from '@bichroma/core'
import type { DisplaySummary, JudgedSummary, Slot } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import type { CourierHub } from '../couriers/hub'
import { runEntity } from '../runs/entities'
import { displayEntity, slotEntity, workstationEntity, type DisplayRow } from '../register/entities'

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
  const writers = await writersOf(
    data,
    displays.map((d) => d.id),
  )
  return displays.map((display) => {
    const here = hub.displayOf(display.workstationId, display.serial)
    const rack = slots
      .filter((s) => s.displayId === display.id)
      .map((s): Slot => {
        const last = s.judgedRunId === null ? null : (judged.get(s.judgedRunId) ?? null)
        return {
          number: s.number,
          label: s.label,
          aim: s.aim,
          writtenAt: s.writtenAt,
          writtenBy: s.label === null ? null : (writers.get(`${display.id} ${s.number}`) ?? null),
          preset: here?.presets[s.number - 1] ?? null,
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
    return {
      ...withoutSlots(display),
      roomId: workstations.get(display.workstationId)!.roomId,
      slots: rack,
      verdict: verdictNow(last, display.checkEveryDays, now),
      dueAt: due,
      dueState: dueState(due, now),
      holds: here?.pipeline.kind ?? null,
      gamutTargets: here?.gamutTargets ?? null,
      live: here !== null,
      runId: held.get(display.id) ?? null,
    }
  })
}

/** Names of the accounts whose runs wrote the slots last, by display and slot; a run that was taken back wrote nothing. */
async function writersOf(data: DataSource, displayIds: readonly number[]): Promise<Map<string, string>> {
  const writing = runKindNames.filter((kind) => runKinds[kind].writes)
  const last = await data
    .getRepository(runEntity)
    .createQueryBuilder('run')
    .select('run.displayId', 'displayId')
    .addSelect('run.slot', 'slot')
    // SQLite gives the other columns of the row that holds the largest.
    .addSelect('MAX(run.id)', 'id')
    .addSelect('run.accountId', 'accountId')
    .where({ displayId: In([...displayIds]), kind: In(writing), state: 'done', takenBackAt: IsNull() })
    .groupBy('run.displayId')
    .addGroupBy('run.slot')
    .getRawMany<{ displayId: number; slot: number; accountId: number }>()
  const names = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
  return new Map(last.map((r) => [`${r.displayId} ${r.slot}`, names.get(r.accountId) ?? 'someone']))
}

const withoutSlots = ({ slots: _slots, activeSlot: _activeSlot, delayMs: _delay, ...rest }: DisplayRow) => rest
