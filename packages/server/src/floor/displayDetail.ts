import type { DataSource } from 'typeorm'
import { dueOfDisplay } from './displayNow'
import type { Aim } from '@bichroma/core/aims'
import { dueLine, dueState, forecastLine, verdictNow, type LastJudged } from '@bichroma/core/rounds'
import { runKindNames, runKinds } from '@bichroma/core/runs'
import type { DisplayDetail, JudgedSummary, Slot } from '@bichroma/contract'
import { nameOfAccount } from '../access/names'
import type { CourierHub } from '../couriers/hub'
import { slotDriftEntity } from '../drift/entities'
import { displayEntity, type DisplayRow } from '../register/entities'
import { roomOf } from '../register/light/roomList'
import { workstationOf } from '../register/workstations'
import { rolloutOf } from '../rollout/listRollout'
import type { RunRow } from '../runs/entities'
import { heldRunOf } from '../runs/heldByRuns'
import { listRuns } from '../runs/listRuns'

type Summary = RunRow['summary']

/** A slot with its judgement, as one query gives both. */
interface JudgedSlot {
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

/** Runs that are told beside a display; the rest are among the list of runs. */
const newestRuns = 50

/** One display with everything that it holds, as of `now`; null when there is none of that number. */
export async function displayDetail(
  data: DataSource,
  hub: CourierHub,
  now: number,
  id: number,
): Promise<DisplayDetail | null> {
  const display = await data.getRepository(displayEntity).findOneBy({ id })
  if (!display) return null
  const workstation = await workstationOf(data, hub, display.workstationId)
  const here = hub.displayOf(display.workstationId, display.serial)
  let active: LastJudged | null = null
  const slots: Slot[] = []
  for (const s of await slotsOf(data, id)) {
    const last = s.unsure || s.summary === null ? null : (JSON.parse(s.summary) as NonNullable<Summary>)
    if (s.number === display.activeSlot) active = last
    slots.push({
      number: s.number,
      label: s.label,
      aim: s.aim === null ? null : (JSON.parse(s.aim) as Aim),
      writtenAt: s.writtenAt,
      writtenBy: s.label === null || s.writer === null ? null : await nameOfAccount(data, s.writer),
      preset: here?.presets[s.number - 1] ?? null,
      tablesHash: s.tablesHash,
      active: s.number === display.activeSlot,
      unsure: Boolean(s.unsure),
      judged: last && ({ ...last, verdict: verdictNow(last, display.checkEveryDays, now) } satisfies JudgedSummary),
    })
  }
  const calendarAt = dueLine(active, display.checkEveryDays)
  const leavesAt = await leavesAtOf(data, display, active)
  const forecastAt = forecastLine(active, leavesAt, display.checkEveryDays)
  // Of one that was put away, what is left of it.
  const due = (await dueOfDisplay(data, id)) ?? {
    dueAt: calendarAt,
    forecastAt: forecastAt === null ? null : Math.trunc(forecastAt),
    daysFrom: null,
    rests: null,
    mattersAt: null,
    mattersName: null,
  }
  return {
    ...withoutSlots(display),
    roomId: workstation.roomId,
    room: await roomOf(data, workstation.roomId, now),
    workstation,
    slots,
    verdict: verdictNow(active, display.checkEveryDays, now),
    ...due,
    dueState: dueState(due.dueAt, now, due.rests !== null),
    calendarAt,
    holds: here?.pipeline.kind ?? null,
    gamutTargets: here?.gamutTargets ?? null,
    live: here !== null,
    runId: await heldRunOf(data, id),
    rollout: (await rolloutOf(data, hub, [id]))[0] ?? null,
    runs: (await listRuns(data, { display: String(id), limit: String(newestRuns) })).items,
  }
}

/** When the slot on show leaves its limits, by trends that know its last judgement. */
async function leavesAtOf(data: DataSource, display: DisplayRow, last: LastJudged | null): Promise<number | null> {
  if (!last) return null
  const row = await data.getRepository(slotDriftEntity).findOne({
    select: { id: true, leavesAt: true },
    where: { displayId: display.id, slot: display.activeSlot, at: last.at },
  })
  return row?.leavesAt ?? null
}

const slotsOf = (data: DataSource, displayId: number) =>
  data.query<JudgedSlot[]>(
    `SELECT number, slot.label AS label, slot.aim AS aim, written_at AS writtenAt, slot.tables_hash AS tablesHash, unsure,
       run.summary AS summary,
       -- The plus keeps the store from looking for the many runs that are done, instead of the few of this slot.
       (SELECT account_id FROM run AS wrote WHERE wrote.display_id = slot.display_id AND wrote.slot = slot.number
          AND kind IN (${writing.join(', ')}) AND +state = 'done' AND taken_back_at IS NULL ORDER BY id DESC LIMIT 1) AS writer
     FROM slot LEFT JOIN run ON run.id = slot.judged_run_id WHERE slot.display_id = ? ORDER BY number`,
    [displayId],
  )

/** Kinds of run that write a slot, written out: an index holds just these. */
const writing = runKindNames.filter((kind) => runKinds[kind].writes).map((kind) => `'${kind}'`)

const withoutSlots = ({
  slots: _slots,
  activeSlot: _activeSlot,
  delayMs: _delay,
  curves: _curves,
  curvesSince: _since,
  ...rest
}: DisplayRow) => rest
