import { kindContradiction, panelKinds, type FourColors } from '@bichroma/core/register'
import type { Triple } from '@bichroma/core/color'
import { lookAtPatch } from './context/lookAtPatch'
import type { RunContext } from './context/runContext'

const own = { white: [1, 1, 1], red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] } as const satisfies Record<
  keyof FourColors,
  Triple
>

/**
 * Looks at a panel's own white and primaries, tables bypassed, and says so where they contradict the kind of panel that is
 * registered: corrections are chosen by it. Gives whether they do.
 */
export async function checkPanelKind(context: RunContext): Promise<boolean> {
  const { steps, run, display, instrument, readings } = context
  const { correction } = run
  // Uncorrected, a colorimeter does not tell kinds of light apart.
  if (instrument.kind === 'colorimeter' && (!correction || correction.kind === 'none')) return false
  await context.want('look at its own colours', { pipeline: 'bypass' })
  const colors = await steps.take('own colours', async (send) => {
    const looking = { instrument, correction, readsMore: run.readsMore, waitMs: readings.delayMs, area: readings.area }
    const found: Record<string, FourColors['white']> = {}
    for (const [name, rgb] of Object.entries(own)) found[name] = (await lookAtPatch(send, rgb, looking)).xyz
    return found as unknown as FourColors
  })
  // A primary without light says nothing of its kind.
  if (!Object.values(colors).every((xyz: FourColors['white']) => xyz[1] > 0)) return false
  const contradiction = kindContradiction(colors, display.panelKind)
  if (!contradiction) return false
  const rests =
    correction?.kind === 'own' ? `, and the correction for ${panelKinds[correction.panelKind]} does not fit` : ''
  await context.sheet.remark(`${contradiction}${rests}. Look at the panel of ${display.name} in the Register`)
  return true
}
