import type { PatchReading } from '@bichroma/core/color'
import { residual } from '@bichroma/core/runs'
import { quantizeSignal } from '@bichroma/core/tables'
import { WhiteWatch } from '../guardedReadings'
import type { RunContext } from '../context/runContext'
import { newestUniformity } from '../uniformity'
import { instrumentFacts } from '../instrumentFacts'
import { summaryOf } from '../judgedSummary'
import { provePatchesFor } from '../engine/patchesOf'
import { RunFailed } from '../context/runErrors'

/** Prove: patches that shaping never read, through the slot, judged against the limits. */
export async function prove(context: RunContext): Promise<PatchReading[]> {
  const { run } = context
  const aim = run.resolvedAim
  if (!aim) throw new RunFailed('The slot’s aim is not known, so there is nothing to judge by. Start a full run.')
  await context.want('prove through the slot', { pipeline: 'slot', slot: run.slot })
  const wishes = provePatchesFor(run).map(({ name, rgb }) => ({
    name,
    rgb,
    deltaEOf: (got: PatchReading['xyz']) => residual(aim, quantizeSignal(rgb, context.link.facts.signalBits), got),
  }))
  const { watch, white } = await WhiteWatch.start(context, wishes[0])
  const readings = [white, ...(await watch.read(wishes.slice(1)))]
  const even = await newestUniformity(context.services.data, context.display.id)
  const instrument = await instrumentFacts(context.services.data, run, context.instrument, {
    panelKind: context.display.panelKind,
    contradicted: context.panelContradicted,
    now: context.now(),
  })
  const { metrics, judgement } = await context.services.solver.run('judgeProof', {
    readings,
    aim,
    limits: run.limits,
    instrument,
    moved: watch.moved,
    uniformity: even,
  })
  await context.save({ metrics, judgement, summary: summaryOf(run.id, context.now(), metrics, judgement) })
  const { averageDeltaE, worstDeltaE, worstPatch } = metrics
  await context.sheet.note({
    endedAt: context.now(),
    evidence: [
      `${readings.length} patches: average ${averageDeltaE.toFixed(2)}, worst ${worstDeltaE.toFixed(2)} ΔE, ${worstPatch}`,
      judgement.sentence,
    ],
  })
  return readings
}
