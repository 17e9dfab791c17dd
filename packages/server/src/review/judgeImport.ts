import {
  complaintOf,
  computeMetrics,
  FormatError,
  judge,
  panelFactsOf,
  readReadings,
  resolveAim,
  type Aim,
  type Judgement,
  type Limits,
  type Metrics,
  type ReadingsFile,
  type ResolvedAim,
  type SignalScale,
} from '@bichroma/core'

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
}

export interface JudgedImport {
  readonly format: ReadingsFile['format']
  readonly resolvedAim: ResolvedAim
  readonly metrics: Metrics
  readonly judgement: Judgement
}

/** Reads a file of readings and judges it; what is wrong with the file in a sentence that names it and its line. */
export function judgeImport({
  fileName,
  text,
  scale,
  aim,
  limits,
}: ImportToJudge): JudgedImport | { readonly complaint: string } {
  try {
    const { format, readings } = readReadings(text, scale)
    if (readings.length > mostReadings)
      throw new FormatError(`The file holds ${readings.length} readings; ${mostReadings} are taken in at most.`)
    const resolvedAim =
      'resolved' in aim ? aim.resolved : resolveAim(aim.chosen, panelFactsOf(readings, aim.chosen.primaries))
    const metrics = computeMetrics(readings, resolvedAim)
    return { format, resolvedAim, metrics, judgement: judge(metrics, limits) }
  } catch (error) {
    if (error instanceof RangeError || error instanceof FormatError || (error as Error).constructor === Error)
      return { complaint: complaintOf(fileName, error as Error) }
    throw error
  }
}
