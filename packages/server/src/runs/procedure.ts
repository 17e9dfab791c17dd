import type { RunContext } from './runContext'
import { baseline } from './stages/baseline'
import { file } from './stages/file'
import { level } from './stages/level'
import { load } from './stages/load'
import { prove } from './stages/prove'
import { ready } from './stages/ready'
import { shape } from './stages/shape'

/** A run from its first stage to its last. Throws what stops it. */
export async function procedure(context: RunContext, accountName: string): Promise<void> {
  await context.beginStage('ready')
  await ready(context)
  await context.note({ endedAt: context.services.now() })
  if (context.run.kind === 'full') {
    await context.beginStage('baseline')
    const headroom = await baseline(context)
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
  } else await context.beginStage('prove')
  const readings = await prove(context)
  await context.beginStage('file')
  await file(context, readings, accountName)
}
