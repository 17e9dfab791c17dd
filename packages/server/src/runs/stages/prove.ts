import { computeMetrics, judge, provePatches, quantizeSignal, residual, type PatchReading } from '@bichroma/core'
import { RunFailed, type RunContext } from '../runContext'

/** Prove: patches that shaping never read, through the slot, judged against the limits. */
export async function prove(context: RunContext): Promise<PatchReading[]> {
  const { run } = context
  const aim = run.resolvedAim
  if (!aim) throw new RunFailed('The slot’s aim is not known, so there is nothing to judge by. Start a full run.')
  await context.want('prove through the slot', { pipeline: 'slot', slot: run.slot })
  const { activeSlot } = await context.step('active slot', (send) => send('display.getControls', {}))
  if (activeSlot !== run.slot)
    throw new RunFailed(
      `The display shows slot ${activeSlot}, not slot ${run.slot}. Switch it to slot ${run.slot} and start again.`,
    )
  const readings: PatchReading[] = []
  for (const patch of provePatches) {
    const { rgb, xyz } = await context.read(patch.name, patch.rgb, (got) =>
      residual(aim, quantizeSignal(patch.rgb, context.facts.signalBits), got),
    )
    readings.push({ name: patch.name, rgb, xyz })
  }
  const metrics = computeMetrics(readings, aim)
  const judgement = judge(metrics, run.limits)
  const {
    averageDeltaE,
    worstDeltaE,
    worstPatch,
    luminance,
    white,
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
      white,
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
