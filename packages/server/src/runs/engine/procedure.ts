import { runKinds, type Headroom, type Stage } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'
import { baseline, headroomOf } from '../stages/baseline'
import { file, type Closing } from '../stages/file'
import { level } from '../stages/level'
import { load } from '../stages/load'
import { prove } from '../stages/prove'
import { ready } from '../stages/ready'
import { shape } from '../stages/shape'
import { uniformity } from '../stages/uniformity'

/** A run from its first stage to its last; gives what is to be stored with its end. Throws what stops it. */
export async function procedure(context: RunContext): Promise<Closing> {
  await context.beginStage('ready')
  await ready(context)
  await context.sheet.note({ endedAt: context.now() })
  const { kind } = context.run
  const stages: readonly Stage[] = runKinds[kind].stages
  const headroom = stages.includes('baseline') ? await baselineStage(context) : null
  if (headroom) {
    await context.beginStage('level')
    await level(context, headroom)
    await context.beginStage('shape')
    const { tables, watch } = await shape(context)
    await context.beginStage('load')
    await load(context, tables)
    await context.beginStage('prove')
    // A knock while the tables were on their way would else be taken for the tables' fault.
    await context.want('bypass once more', { pipeline: 'bypass' })
    await watch.stillThere()
  } else if (stages.includes('prove')) await context.beginStage('prove')
  const readings =
    kind === 'uniformity' ? await uniformity(context) : stages.includes('prove') ? await prove(context) : null
  if (context.readings.repeated)
    await context.sheet.remark(
      `${context.readings.repeated === 1 ? 'One reading' : `${context.readings.repeated} readings`} could not be right or did not hold still, and ${context.readings.repeated === 1 ? 'was' : 'were'} taken again`,
    )
  await context.beginStage('file')
  return file(context, readings)
}

/** Headroom for what comes after; null for a run that ends with the baseline, whose white need not be one that can be corrected. */
async function baselineStage(context: RunContext): Promise<Headroom | null> {
  await context.beginStage('baseline')
  const corners = await baseline(context)
  return runKinds[context.run.kind].writes ? headroomOf(context, corners) : null
}
