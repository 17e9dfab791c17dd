import {
  computeMetrics,
  judge,
  resolveAim,
  type Aim,
  type JudgedPatch,
  type Judgement,
  type Limits,
  type ResolvedAim,
} from '@bichroma/core/aims'
import { panelFactsOf } from '@bichroma/core/characterization'
import type { PatchReading } from '@bichroma/core/color'
import { trackedFigures, type TrackedFigures } from '@bichroma/core/drift'
import { complaintOf, FormatError, readReadings, type ReadingsFile, type SignalScale } from '@bichroma/core/formats'
import { summaryOf } from '../runs/judgedSummary'

/** Most readings that a file may hold. */
const mostReadings = 20_000

/** What is judged: a file's text, and by what. */
export interface ImportToJudge {
  readonly fileName: string
  readonly text: string
  readonly scale?: SignalScale
  /** The slot's own aim as it was filled in; or one to be filled in from what was read. */
  readonly aim: { readonly resolved: ResolvedAim } | { readonly chosen: Aim }
  readonly limits: Limits
  /** ms since 1970 */
  readonly readAt: number
}

/** Readings that are stored at a time. */
export interface ReadingBlock {
  readonly count: number
  readonly text: string
}

/** What a file came to. What may be long is text already, to be stored as it is. */
export interface JudgedImport {
  readonly format: ReadingsFile['format']
  readonly resolvedAim: ResolvedAim
  readonly judgement: Judgement
  readonly summary: ReturnType<typeof summaryOf>
  readonly figures: TrackedFigures
  /** A Metrics as JSON. */
  readonly metricsText: string
  /** Readings as JSON, each its name, signal 0–1 and XYZ in cd/m², in blocks that are stored one at a time. */
  readonly readingBlocks: readonly ReadingBlock[]
}

/** Digits of what is worked out of a reading: beyond what any instrument could tell, and half of what a number is written with. */
const digits = 7
const short = (v: number) => Number(v.toPrecision(digits))

/** A patch as it is stored: what was shown and read to the last digit, what was worked out in fewer. */
const shortened = ({ target, lab, targetLab, deltaE, ...read }: JudgedPatch): JudgedPatch => ({
  ...read,
  target: target.map(short) as unknown as JudgedPatch['target'],
  lab: lab.map(short) as unknown as JudgedPatch['lab'],
  targetLab: targetLab.map(short) as unknown as JudgedPatch['lab'],
  deltaE: short(deltaE),
})

/** Readings that are stored at a time: a few milliseconds' worth. */
const blockSize = 1000

const blocksOf = (readings: readonly PatchReading[]): ReadingBlock[] =>
  Array.from({ length: Math.ceil(readings.length / blockSize) }, (_, i) => {
    const block = readings.slice(i * blockSize, (i + 1) * blockSize)
    return { count: block.length, text: JSON.stringify(block.map(({ name, rgb, xyz }) => [name, ...rgb, ...xyz])) }
  })

/** Reads a file of readings and judges it; what is wrong with the file in a sentence that names it and its line. */
export function judgeImport({
  fileName,
  text,
  scale,
  aim,
  limits,
  readAt,
}: ImportToJudge): JudgedImport | { readonly complaint: string } {
  try {
    const { format, readings } = readReadings(text, scale)
    if (readings.length > mostReadings)
      throw new FormatError(`The file holds ${readings.length} readings; ${mostReadings} are taken in at most.`)
    const resolvedAim =
      'resolved' in aim ? aim.resolved : resolveAim(aim.chosen, panelFactsOf(readings, aim.chosen.primaries))
    const metrics = computeMetrics(readings, resolvedAim)
    const judgement = judge(metrics, limits)
    // What is stored is what everything later is worked out from, the history's figures too.
    const stored = { ...metrics, patches: metrics.patches.map(shortened) }
    return {
      format,
      resolvedAim,
      judgement,
      summary: summaryOf(0, readAt, metrics, judgement),
      figures: trackedFigures(stored, limits),
      metricsText: JSON.stringify(stored),
      readingBlocks: blocksOf(readings),
    }
  } catch (error) {
    if (error instanceof RangeError || error instanceof FormatError || (error as Error).constructor === Error)
      return { complaint: complaintOf(fileName, error as Error) }
    throw error
  }
}
