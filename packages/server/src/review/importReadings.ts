import type { DataSource } from 'typeorm'
import type { Aim, ResolvedAim } from '@bichroma/core/aims'
import type { ImportReadings } from '@bichroma/contract'
import { aimEntity, limitsEntity } from '../aims/entities'
import { atomically, insertion, written } from '../data/atomically'
import { insertRow } from '../data/insertRow'
import { takeValidation } from '../drift/history'
import { Refusal } from '../http/problem'
import { displayEntity, instrumentEntity, inUse, slotEntity, type SlotRow } from '../register/entities'
import { nothingLater, runEntity, runName, type RunRow } from '../runs/entities'
import { logFault } from '../data/log'
import { judgeImport, type ReadingBlock } from './judgeImport'
import type { ReviewServices } from './services'

/**
 * Takes readings in that another tool measured: judged by the slot's aim and the display's limits, kept and trended like
 * a run, and marked as imported. Throws Refusal with the line at fault; nothing is stored then. Gives the run's number.
 */
export async function importReadings(
  { data, contents, threads, drift, ledger, now }: ReviewServices,
  displayId: number,
  input: ImportReadings,
  account: { id: number; name: string },
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
    readAt: input.readAt,
  })
  if ('complaint' in judged) throw new Refusal('invalid-input', judged.complaint, 'text')
  const { format, resolvedAim, judgement, figures, metricsText, readingBlocks } = judged
  const hash = await contents.put(new TextEncoder().encode(input.text))
  const row: Omit<RunRow, 'id'> = {
    displayId,
    slot: slot.number,
    kind: 'check',
    sampling: 'usual',
    correction: null,
    readsMore: null,
    label,
    aim,
    limits,
    instrumentId: await instrumentFor(data, input.instrument),
    accountId: account.id,
    state: 'done',
    stage: 'file',
    message: null,
    startedAt: input.readAt,
    endedAt: input.readAt,
    overwrote: null,
    resolvedAim,
    baseline: null,
    metrics: null,
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
  const id = await storeReadings(data, row, metricsText, readingBlocks)
  const newest = await isNewest(data, slot, label, input.readAt)
  const summary = { ...judged.summary, runId: id }
  const { manager } = data
  try {
    atomically(data, (take) => {
      take(manager.createQueryBuilder().update(runEntity).set({ summary, state: 'done' }).where({ id }))
      takeValidation(data, take, { ...row, id, summary }, figures)
      if (newest) take(manager.createQueryBuilder().update(slotEntity).set({ judgedRunId: id }).where({ id: slot.id }))
      take(
        ledger.entry(account, {
          act: 'imported',
          thing: 'run',
          id,
          name: runName(row, display.name),
          evidence: { display: displayId, file: input.fileName, sha256: hash, verdict: judged.summary.verdict },
        }),
      )
    })
  } catch (error) {
    forgetImport(data, id)
    throw error
  }
  await drift.refresh(displayId, slot.number)
  return id
}

/**
 * Stores a run with its readings block by block, so that others are answered in between; it is no run yet for anybody who
 * looks. What fails is taken away again, at the next start if not at once. Gives its number.
 */
async function storeReadings(
  data: DataSource,
  row: Omit<RunRow, 'id'>,
  metricsText: string,
  blocks: readonly ReadingBlock[],
): Promise<number> {
  const id = atomically(data, (take) => {
    const runId = take(insertion(data.manager, runEntity, { ...row, state: 'importing' }))
    take(written('UPDATE run SET metrics = ? WHERE id = ?', [metricsText, runId]))
    return runId
  })
  try {
    let seq = 1
    for (const { count, text } of blocks) {
      await new Promise((resolve) => setImmediate(resolve))
      atomically(data, (take) => take(readingsOf(id, seq, row.startedAt, text)))
      seq += count
    }
    return id
  } catch (error) {
    forgetImport(data, id)
    throw error
  }
}

/** Takes away what an import left that does not come to its end; what cannot be is taken away at the next start. */
function forgetImport(data: DataSource, id: number): void {
  try {
    atomically(data, (take) => {
      take(written(`DELETE FROM reading WHERE run_id = ?`, [id]))
      take(written(`DELETE FROM run WHERE id = ? AND state = 'importing'`, [id]))
    })
  } catch (error) {
    logFault(`Import ${id} was taken away`, error)
  }
}

/** Takes away what imports left when the server ended in the middle of them. */
export async function forgetImports(data: DataSource): Promise<void> {
  const left = await data.query<{ id: number }[]>(`SELECT id FROM run WHERE state = 'importing'`)
  for (const { id } of left) forgetImport(data, id)
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
    ...inUse,
  })
}

/** What stores a block of readings, from the `first` on: a thousand rows in one statement, which takes them from one text. */
const readingsOf = (runId: number, first: number, at: number, block: string) =>
  written(
    `INSERT INTO reading (run_id, seq, stage, name, r, g, b, x, y, z, took_ms, at, delta_e)
     SELECT ?, key + ?, 'prove', value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, 0, ?, NULL
     FROM json_each(?)`,
    [runId, first, at, block],
  )

/** Whether readings are the slot's newest of what it holds now. */
async function isNewest(data: DataSource, slot: SlotRow, label: string, at: number): Promise<boolean> {
  if (slot.unsure || slot.label !== label || (slot.writtenAt ?? 0) > at) return false
  if (slot.judgedRunId === null) return true
  const judged = await data
    .getRepository(runEntity)
    .findOneOrFail({ select: { id: true, summary: true }, where: { id: slot.judgedRunId } })
  return (judged.summary?.at ?? 0) < at
}
