import type { DataSource } from 'typeorm'
import {
  complaintOf,
  computeMetrics,
  FormatError,
  judge,
  panelFactsOf,
  readingOf,
  readReadings,
  resolveAim,
  type PatchReading,
  type ReadingsFile,
  type ResolvedAim,
} from '@bichroma/core'
import type { ImportReadings } from '@bichroma/contract'
import { aimEntity, limitsEntity } from '../aims/entities'
import type { ContentStore } from '../data/contents'
import { insertRow } from '../data/insertRow'
import { fileValidation } from '../drift/history'
import { Refusal } from '../http/problem'
import { displayEntity, instrumentEntity, slotEntity, type SlotRow } from '../register/entities'
import { readingEntity, runEntity, type RunRow } from '../runs/entities'
import { summaryOf } from '../runs/judgedSummary'

/** Most readings that a file may hold. */
const mostReadings = 20_000

interface ImportServices {
  readonly data: DataSource
  readonly contents: ContentStore
  readonly now: () => number
}

/**
 * Takes readings in that another tool measured: judged by the slot's aim and the display's limits, kept and trended like
 * a run, and marked as imported. Throws Refusal with the line at fault; nothing is stored then. Gives the run's number.
 */
export async function importReadings(
  { data, contents, now }: ImportServices,
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
  const file = readFile(input)
  const { label, aim, resolvedAim } = await aimFor(data, slot, input, file.readings)
  const limits = (await data.getRepository(limitsEntity).findOneByOrFail({ id: display.limitsId })).limits
  const judged = refusing(input.fileName, () => {
    const white = readingOf(file.readings, [1, 1, 1])
    if (white && !(Math.min(...white) > 0))
      throw new Error('The white that was read has no light, so nothing can be judged against it.')
    const metrics = computeMetrics(file.readings, resolvedAim)
    return { metrics, judgement: judge(metrics, limits) }
  })
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
    ...judged,
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
    imported: { fileName: input.fileName, format: file.format, hash, instrument: input.instrument },
  }
  const id = await insertRow(data.manager, runEntity, row)
  const summary = summaryOf(id, input.readAt, judged.metrics, judged.judgement)
  await data.getRepository(runEntity).update({ id }, { summary } as never)
  await keepReadings(data, id, input.readAt, judged.metrics.patches)
  await fileValidation(data, { ...row, id, summary }, now())
  if (await isNewest(data, slot, label, input.readAt))
    await data.getRepository(slotEntity).update({ id: slot.id }, { judgedRunId: id })
  return id
}

/** Turns what a reader complains of into a refusal that names the file. */
function refusing<T>(fileName: string, work: () => T): T {
  try {
    return work()
  } catch (error) {
    if (error instanceof RangeError || error instanceof FormatError || (error as Error).constructor === Error)
      throw new Refusal('invalid-input', complaintOf(fileName, error as Error), 'text')
    throw error
  }
}

function readFile({ fileName, text, scale }: ImportReadings): ReadingsFile {
  const file = refusing(fileName, () => readReadings(text, scale))
  if (file.readings.length > mostReadings)
    throw new Refusal(
      'invalid-input',
      `${fileName} holds ${file.readings.length} readings; ${mostReadings} are taken in at most.`,
      'text',
    )
  return file
}

/** The slot's own aim as it was filled in, or a chosen one filled in from what was read. */
async function aimFor(data: DataSource, slot: SlotRow, input: ImportReadings, readings: readonly PatchReading[]) {
  if (input.aimId === undefined) {
    if (!slot.label || !slot.aim || !slot.resolvedAim)
      throw new Refusal(
        'conflict',
        `Slot ${slot.number} holds no aim to judge by. Choose one of the studio’s aims.`,
        'aimId',
      )
    return { label: slot.label, aim: slot.aim, resolvedAim: slot.resolvedAim }
  }
  const chosen = await data.getRepository(aimEntity).findOneBy({ id: input.aimId })
  if (!chosen) throw new Refusal('not-found', 'This aim is not there any more. Choose another.', 'aimId')
  const resolvedAim = refusing(input.fileName, (): ResolvedAim =>
    resolveAim(chosen.aim, panelFactsOf(readings, chosen.aim.primaries)),
  )
  return { label: chosen.name, aim: chosen.aim, resolvedAim }
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
  })
}

async function keepReadings(data: DataSource, runId: number, at: number, readings: readonly PatchReading[]) {
  const rows = readings.map(({ name, rgb, xyz }, i) => ({
    runId,
    seq: i + 1,
    stage: 'prove' as const,
    name,
    r: rgb[0],
    g: rgb[1],
    b: rgb[2],
    x: xyz[0],
    y: xyz[1],
    z: xyz[2],
    tookMs: 0,
    at,
    deltaE: null,
  }))
  // SQLite takes so many parameters in one statement at most that a few hundred rows fit.
  for (let i = 0; i < rows.length; i += 500) await data.getRepository(readingEntity).insert(rows.slice(i, i + 500))
}

/** Whether readings are the slot's newest of what it holds now. */
async function isNewest(data: DataSource, slot: SlotRow, label: string, at: number): Promise<boolean> {
  if (slot.unsure || slot.label !== label || (slot.writtenAt ?? 0) > at) return false
  if (slot.judgedRunId === null) return true
  const judged = await data.getRepository(runEntity).findOneByOrFail({ id: slot.judgedRunId })
  return (judged.summary?.at ?? 0) < at
}
