import type { DataSource } from 'typeorm'
import { noiseOfRepeats, type ReadingNoise, type Repeat } from '@bichroma/core/aims'
import type { XYZ } from '@bichroma/core/color'

/** Runs that an instrument's noise is told from: its newest, with enough looks at white among them. */
const newestRuns = 12

interface Look {
  runId: number
  stage: string
  r: number
  g: number
  b: number
  x: number
  y: number
  z: number
}

/**
 * How an instrument repeats, from white as its newest runs proved it, at which they look again and again; not from
 * uniformity runs, which read it elsewhere each time. Null while there are too few.
 */
export async function noiseOfInstrument(data: DataSource, instrumentId: number): Promise<ReadingNoise | null> {
  const looks = await data.query<Look[]>(
    `SELECT run_id AS runId, stage, r, g, b, x, y, z FROM reading
     WHERE r = 1 AND g = 1 AND b = 1 AND stage = 'prove'
       AND run_id IN (SELECT id FROM run WHERE instrument_id = ? AND imported IS NULL AND kind <> 'uniformity' ORDER BY id DESC LIMIT ${newestRuns})
     ORDER BY run_id, seq`,
    [instrumentId],
  )
  const repeats = looks.slice(1).flatMap((look, i): Repeat[] => {
    const before = looks[i]
    return before.runId === look.runId ? [[xyzOf(before), xyzOf(look)]] : []
  })
  return noiseOfRepeats(repeats)
}

const xyzOf = ({ x, y, z }: Look): XYZ => [x, y, z]
