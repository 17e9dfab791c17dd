import type { DataSource } from 'typeorm'
import { kindContradiction, panelKinds, type FourColors, type PanelKind } from '@bichroma/core/register'
import type { Triple } from '@bichroma/core/color'
import { lookAtPatch } from './context/lookAtPatch'
import type { RunContext } from './context/runContext'
import { stepEntity } from './entities'

/** The step whose result they are. */
const ownColors = 'own colours'

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
  const colors = await steps.take(ownColors, async (send) => {
    const looking = { instrument, correction, readsMore: run.readsMore, waitMs: readings.delayMs, area: readings.area }
    const found: Record<string, FourColors['white']> = {}
    for (const [name, rgb] of Object.entries(own)) found[name] = (await lookAtPatch(send, rgb, looking)).xyz
    return found as unknown as FourColors
  })
  const contradiction = contradictionOf(colors, display.panelKind)
  if (!contradiction) return false
  const rests =
    correction?.kind === 'own' ? `, and the correction for ${panelKinds[correction.panelKind]} does not fit` : ''
  await context.sheet.remark(`${contradiction}${rests}. Look at the panel of ${display.name} in the Register`)
  return true
}

/** How a panel's own colours contradict a kind; a primary without light says nothing of its kind. */
const contradictionOf = (colors: FourColors, panelKind: PanelKind): string | null =>
  Object.values(colors).every((xyz: FourColors['white']) => xyz[1] > 0) ? kindContradiction(colors, panelKind) : null

/** Whether a panel's own colours, as a run looked at them, contradict a kind; not where it had no look. */
export async function contradictedIn(data: DataSource, runId: number, panelKind: PanelKind): Promise<boolean> {
  const step = await data.getRepository(stepEntity).findOneBy({ runId, key: ownColors })
  const taken = step?.result?.value as { value: FourColors } | undefined
  return taken !== undefined && contradictionOf(taken.value, panelKind) !== null
}
