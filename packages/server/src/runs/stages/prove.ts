import { computeMetrics, judge, provePatchesOf, quantizeSignal, residual, type PatchReading } from '@bichroma/core'
import { WhiteWatch } from '../guardedReadings'
import type { RunContext } from '../runContext'
import { RunFailed } from '../runErrors'

/** Prove: patches that shaping never read, through the slot, judged against the limits. */
export async function prove(context: RunContext): Promise<PatchReading[]> {
  const { run } = context
  const aim = run.resolvedAim
  if (!aim) throw new RunFailed('The slot’s aim is not known, so there is nothing to judge by. Start a full run.')
  await context.want('prove through the slot', { pipeline: 'slot', slot: run.slot })
  const wishes = provePatchesOf(run.kind).map(({ name, rgb }) => ({
    name,
    rgb,
    deltaEOf: (got: PatchReading['xyz']) => residual(aim, quantizeSignal(rgb, context.facts.signalBits), got),
  }))
  const { watch, white } = await WhiteWatch.start(context, wishes[0])
  const readings = [white, ...(await watch.read(wishes.slice(1)))]
  const metrics = computeMetrics(readings, aim)
  const judgement = judge(metrics, run.limits)
  const {
    averageDeltaE,
    worstDeltaE,
    worstPatch,
    luminance,
    white: measuredWhite,
    aimWhite,
    whiteTemperature,
    aimWhiteTemperature,
    whiteDeltaUv,
  } = metrics
  await context.save({
    metrics,
    judgement,
    summary: {
      runId: run.id,
      at: context.services.now(),
      verdict: judgement.verdict,
      sentence: judgement.sentence,
      averageDeltaE,
      worstDeltaE,
      worstPatch,
      luminance,
      white: measuredWhite,
      aimWhite,
      whiteTemperature,
      aimWhiteTemperature,
      whiteDeltaUv,
    },
  })
  await context.note({
    endedAt: context.services.now(),
    evidence: [
      `${readings.length} patches: average ${averageDeltaE.toFixed(2)}, worst ${worstDeltaE.toFixed(2)} ΔE, ${worstPatch}`,
      judgement.sentence,
    ],
  })
  return readings
}
