import { nextLevelStep, type Headroom, type LevelTry } from '@bichroma/core'
import { RunFailed, type RunContext } from '../runContext'

/** Light asked for above the computed need, so that later steps never lack any: 0.3 % covers what warmth still moves. */
const reserve = 1.003

/** Level: the backlight at the lowest setting that leaves the corrected white at the aim's luminance or just above. */
export async function level(context: RunContext, headroom: Headroom): Promise<void> {
  const goal = context.run.aim.luminance * headroom.factor * reserve
  const { backlight } = await context.step('backlight range', async () => ({ backlight: context.facts.backlight }))
  const { backlight: now } = await context.step('backlight now', (send) => send('display.getControls', {}))
  const tries: LevelTry[] = []
  let control = now
  for (;;) {
    await context.want(`backlight ${control}`, { backlight: control })
    const { xyz } = await context.read(`White at ${control}`, [1, 1, 1])
    tries.push({ control, luminance: xyz[1] })
    const step = nextLevelStep(tries, goal, backlight)
    if (step.kind === 'try') control = step.control
    else if (step.kind === 'unreachable') {
      const most = step.most.luminance / headroom.factor / reserve
      throw new RunFailed(
        `At full backlight the corrected white reaches ${most.toFixed(1)} cd/m²; the aim asks for ${context.run.aim.luminance.toFixed(1)}. Choose an aim of ${Math.floor(most)} cd/m² or less.`,
      )
    } else {
      if (step.at.control !== control)
        await context.want(`backlight ${step.at.control}`, { backlight: step.at.control })
      await context.note({
        endedAt: context.services.now(),
        evidence: [
          `${step.at.luminance.toFixed(1)} cd/m² raw for an aim of ${context.run.aim.luminance.toFixed(1)}: headroom ${((headroom.factor - 1) * 100).toFixed(0)}\u00a0% for white and colours`,
          step.asLow
            ? 'The backlight is at its lowest; the tables take the rest of the light away'
            : `Backlight at ${step.at.control}, found in ${tries.length} readings`,
        ],
      })
      return
    }
  }
}
