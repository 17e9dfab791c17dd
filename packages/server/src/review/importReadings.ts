import type { DataSource } from 'typeorm'
import type { Aim, PatchReading, ResolvedAim } from '@bichroma/core'
import type { ImportReadings } from '@bichroma/contract'
import { aimEntity, limitsEntity } from '../aims/entities'
import { atomically, insertion, written } from '../data/atomically'
import { insertRow } from '../data/insertRow'
import { takeValidation } from '../drift/history'
import { Refusal } from '../http/problem'
import { displayEntity, instrumentEntity, slotEntity, type SlotRow } from '../register/entities'
import { nothingLater, runEntity, type RunRow } from '../runs/entities'
import { summaryOf } from '../runs/judgedSummary'
import { judgeImport } from './judgeImport'
import type { ReviewServices } from './services'

/**
 * Takes readings in that another tool measured: judged by the slot's aim and the display's limits, kept and trended like
 * a run, and marked as imported. Throws Refusal with the line at fault; nothing is stored then. Gives the run's number.
 */
export async function importReadings(
  { data, contents, threads, drift, now }: ReviewServices,
  displayId: number,
  input: ImportReadings,
  accountId: number,
): Promise<number> {
  const display = await data.getRepository(displayEntity).findOneBy({ id: displayId })
  if (!display) throw new Refusal('not-found', `There is no display ${displayId}.`)
  const slot = await data.getRepository(slotEntity).findOneBy({ displayId, number: input.slot })
  if (!slot)
    throw new Refusal(
      'invalid-input',
      `${display.name} has ${display.slots} slots; there is no slot ${input.slot}.`,
      'slot',
    )
  if (input.readAt > now())
    throw new Refusal('invalid-input', '“readAt” lies ahead; say when it was measured.', 'readAt')
  const { label, aim, resolved } = await aimFor(data, slot, input)
  const { limits } = await data.getRepository(limitsEntity).findOneByOrFail({ id: display.limitsId })
  const { fileName, text, scale } = input
  const judged = await threads.run(judgeImport, {
    fileName,
    text,
    scale,
    aim: resolved ? { resolved } : { chosen: aim },
    limits,
  })
  if ('complaint' in judged) throw new Refusal('invalid-input', judged.complaint, 'text')
  const { format, resolvedAim, metrics, judgement } = judged
  const hash = await contents.put(new TextEncoder().encode(input.text))
  const row: Omit<RunRow, 'id'> = {
    displayId,
    slot: slot.number,
    kind: 'check',
    sampling: 'usual',
    correction: null,
    label,
    aim,
    limits,
    instrumentId: await instrumentFor(data, input.instrument),
    accountId,
    state: 'done',
    stage: 'file',
    message: null,
    startedAt: input.readAt,
    endedAt: input.readAt,
    overwrote: null,
    resolvedAim,
    baseline: null,
    metrics,
    judgement,
    summary: null,
    profileHash: null,
    profileName: null,
    reportHash: null,
    memoryHash: null,
    recalls: null,
    begins: 'now',
    budget: null,
    profile: null,
    patches: null,
    firmware: display.firmware,
    checkEveryDays: display.checkEveryDays,
    tablesHash: input.aimId === undefined ? slot.tablesHash : null,
    uniformity: null,
    ...nothingLater,
    imported: { fileName: input.fileName, format, hash, instrument: input.instrument },
  }
  const newest = await isNewest(data, slot, label, input.readAt)
  const id = atomically(data, (take) => {
    const runId = take(insertion(data.manager, runEntity, row))
    const summary = summaryOf(runId, input.readAt, metrics, judgement)
    const { manager } = data
    take(manager.createQueryBuilder().update(runEntity).set({ summary }).where({ id: runId }))
    take(readingsOf(runId, input.readAt, metrics.patches))
    takeValidation(data, take, { ...row, id: runId, summary })
    if (newest) take(manager.createQueryBuilder().update(slotEntity).set({ judgedRunId: runId }).where({ id: slot.id }))
    return runId
  })
  await drift.refresh(displayId, slot.number)
  return id
}

/** The slot's own aim as it was filled in, or a chosen one that is yet to be filled in from what was read. */
async function aimFor(
  data: DataSource,
  slot: SlotRow,
  input: ImportReadings,
): Promise<{ label: string; aim: Aim; resolved: ResolvedAim | null }> {
  if (input.aimId === undefined) {
    if (!slot.label || !slot.aim || !slot.resolvedAim)
      throw new Refusal(
        'conflict',
        `Slot ${slot.number} holds no aim to judge by. Choose one of the studio’s aims.`,
        'aimId',
      )
    return { label: slot.label, aim: slot.aim, resolved: slot.resolvedAim }
  }
  const chosen = await data.getRepository(aimEntity).findOneBy({ id: input.aimId })
  if (!chosen) throw new Refusal('not-found', 'This aim is not there any more. Choose another.', 'aimId')
  return { label: chosen.name, aim: chosen.aim, resolved: null }
}

/** The instrument of that name that is known from other imports, or a new one. */
async function instrumentFor(data: DataSource, name: string): Promise<number> {
  const serial = `elsewhere: ${name}`
  const instruments = data.getRepository(instrumentEntity)
  const known = await instruments.findOneBy({ serial })
  if (known) return known.id
  return insertRow(data.manager, instrumentEntity, {
    maker: '',
    model: name,
    serial,
    kind: 'elsewhere',
    certifiedAt: null,
    broughtBy: null,
  })
}

/** What stores all readings of a file at once: thousands of rows in one statement, which takes them from one text. */
const readingsOf = (runId: number, at: number, readings: readonly PatchReading[]) =>
  written(
    `INSERT INTO reading (run_id, seq, stage, name, r, g, b, x, y, z, took_ms, at, delta_e)
     SELECT ?, key + 1, 'prove', value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, 0, ?, NULL
     FROM json_each(?)`,
    [runId, at, JSON.stringify(readings.map(({ name, rgb, xyz }) => [name, ...rgb, ...xyz]))],
  )

/** Whether readings are the slot's newest of what it holds now. */
async function isNewest(data: DataSource, slot: SlotRow, label: string, at: number): Promise<boolean> {
  if (slot.unsure || slot.label !== label || (slot.writtenAt ?? 0) > at) return false
  if (slot.judgedRunId === null) return true
  const judged = await data.getRepository(runEntity).findOneByOrFail({ id: slot.judgedRunId })
  return (judged.summary?.at ?? 0) < at
}
