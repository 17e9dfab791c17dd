import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import { dueLine, dueState, runKindNames, runKinds, verdictNow, type Aim, type LastJudged } from '@bichroma/core'
import type { DisplaySummary, JudgedSummary, Slot } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import type { CourierHub } from '../couriers/hub'
import { displayEntity, type DisplayRow } from '../register/entities'
import { runEntity, type RunRow } from '../runs/entities'
import { isHeld } from '../runs/heldByRuns'

type Summary = RunRow['summary']

/** A slot with its judgement, as one query gives both. */
interface JudgedSlot {
  displayId: number
  number: number
  label: string | null
  aim: string | null
  writtenAt: number | null
  tablesHash: string | null
  unsure: number
  summary: string | null
  /** Number of the account whose run wrote it last; a run that was taken back wrote nothing. */
  writer: number | null
}

/** Displays with slots, verdicts and due lines as of `now`; all of them, or those given (a few hundred at most). */
export async function summarizeDisplays(
  data: DataSource,
  hub: CourierHub,
  now: number,
  only?: readonly number[],
): Promise<DisplaySummary[]> {
  const displays = await data
    .getRepository(displayEntity)
    .find({ where: only ? { id: In([...only]) } : {}, order: { id: 'ASC' } })
  const roomOf = new Map(
    (
      await data.query<{ id: number; roomId: number }[]>(
        `SELECT display.id AS id, workstation.room_id AS roomId FROM display JOIN workstation ON workstation.id = display.workstation_id
         ${placesOf('display.id', only)}`,
        [...(only ?? [])],
      )
    ).map((r) => [r.id, r.roomId]),
  )
  const racks = new Map<number, JudgedSlot[]>()
  for (const slot of await data.query<JudgedSlot[]>(
    `SELECT slot.display_id AS displayId, number, slot.label AS label, slot.aim AS aim, written_at AS writtenAt,
       slot.tables_hash AS tablesHash, unsure, run.summary AS summary,
       -- The plus keeps the store from looking for the many runs that are done, instead of the few of this slot.
       (SELECT account_id FROM run AS wrote WHERE wrote.display_id = slot.display_id AND wrote.slot = slot.number
          AND kind IN (${writing.join(', ')}) AND +state = 'done' AND taken_back_at IS NULL ORDER BY id DESC LIMIT 1) AS writer
     FROM slot LEFT JOIN run ON run.id = slot.judged_run_id
     ${placesOf('slot.display_id', only)} ORDER BY slot.display_id, number`,
    [...(only ?? [])],
  )) {
    const rack = racks.get(slot.displayId)
    if (rack) rack.push(slot)
    else racks.set(slot.displayId, [slot])
  }
  const held = new Map(
    (
      await data.getRepository(runEntity).find({ select: { id: true, displayId: true }, where: { state: isHeld() } })
    ).map((r) => [r.displayId, r.id]),
  )
  const names = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
  return displays.map((display) => {
    const here = hub.displayOf(display.workstationId, display.serial)
    let active: LastJudged | null = null
    const slots = (racks.get(display.id) ?? []).map((s): Slot => {
      const last = s.unsure || s.summary === null ? null : (JSON.parse(s.summary) as NonNullable<Summary>)
      if (s.number === display.activeSlot) active = last
      return {
        number: s.number,
        label: s.label,
        aim: s.aim === null ? null : (JSON.parse(s.aim) as Aim),
        writtenAt: s.writtenAt,
        writtenBy: s.label === null || s.writer === null ? null : (names.get(s.writer) ?? 'someone'),
        preset: here?.presets[s.number - 1] ?? null,
        tablesHash: s.tablesHash,
        active: s.number === display.activeSlot,
        unsure: Boolean(s.unsure),
        judged: last && ({ ...last, verdict: verdictNow(last, display.checkEveryDays, now) } satisfies JudgedSummary),
      }
    })
    const due = dueLine(active, display.checkEveryDays)
    return {
      ...withoutSlots(display),
      roomId: roomOf.get(display.id)!,
      slots,
      verdict: verdictNow(active, display.checkEveryDays, now),
      dueAt: due,
      dueState: dueState(due, now),
      holds: here?.pipeline.kind ?? null,
      gamutTargets: here?.gamutTargets ?? null,
      live: here !== null,
      runId: held.get(display.id) ?? null,
    }
  })
}

const placesOf = (column: string, only: readonly number[] | undefined) =>
  only ? `WHERE ${column} IN (${only.map(() => '?').join(', ')})` : ''

/** Kinds of run that write a slot, written out: an index holds just these. */
const writing = runKindNames.filter((kind) => runKinds[kind].writes).map((kind) => `'${kind}'`)

const withoutSlots = ({ slots: _slots, activeSlot: _activeSlot, delayMs: _delay, ...rest }: DisplayRow) => rest
