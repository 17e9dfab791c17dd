import {
  greyPatch,
  makePlan,
  namedBySignal,
  residual,
  shapeParts,
  type ModelEvidence,
  type Patch,
  type PatchReading,
  type PipelineShape,
  type SlotTables,
  type Triple,
} from '@bichroma/core'
import type { RunContext } from '../runContext'
import type { ShapeSubject } from './subject'

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
/** Slots that a display can have: display and slot together give a plan its seed, so that each has its own colours. */
const mostSlots = 8
const isGrey = ({ rgb: [r, g, b] }: Patch) => r === g && g === b

/**
 * For a slot with a 3D table, or with a table per channel alone: reads the raw panel all over, characterizes it, then
 * reads what it makes of the aim's greys and of the colours that it knows least, and characterizes it again.
 */
export async function shapeByModel(
  context: RunContext,
  { aim, cornerReadings, signalBits, watch }: ShapeSubject,
  pipeline: PipelineShape,
): Promise<SlotTables> {
  const { solver } = context.services
  const parts = shapeParts[context.run.sampling]
  const known = new Set(cornerReadings.map((r) => r.rgb.join(' ')))
  const raw = makePlan(parts.raw, context.display.id * mostSlots + context.run.slot).filter(
    (p) => !known.has(p.rgb.join(' ')),
  )
  const readings: PatchReading[] = [
    ...cornerReadings,
    ...(await watch.read(raw.map(({ name, rgb }) => ({ name: `Raw ${name}`, rgb })))),
  ]
  const evidence = (): ModelEvidence => ({ aim, readings, signalBits })
  const found: string[] = [`${readings.length} readings of the raw panel`]
  const rounds: { level: number; deltaE: number }[][] = []

  for (const round of parts.rounds) {
    const greys = Array.from({ length: round.greys }, (_, i) => greyPatch(((i + 1) / (round.greys + 1)) ** 1.2))
    const colors = await solver.run('leastKnownSignals', evidence(), round.colors)
    const patches: Patch[] = [greyPatch(1), ...greys, ...colors.map((rgb) => namedBySignal(rgb))]
    const drives = await solver.run(
      'solveSignals',
      evidence(),
      patches.map((p) => p.rgb),
    )
    const residuals: { level: number; deltaE: number }[] = []
    rounds.push(residuals)
    const wishes = patches.map((patch, i) => ({
      name: `${patch.name}, round ${rounds.length}`,
      rgb: drives[i],
      deltaEOf: (got: Triple) => residual(aim, patch.rgb, got),
    }))
    const all = patches.map((patch) => ({ patch, deltaE: 0 }))
    const read = await watch.read(wishes, ({ xyz }, i) => {
      all[i].deltaE = residual(aim, patches[i].rgb, xyz)
    })
    readings.push(...read)
    residuals.push(
      ...all.filter(({ patch }) => isGrey(patch)).map(({ patch, deltaE }) => ({ level: patch.rgb[0], deltaE })),
    )
    residuals.sort((a, b) => a.level - b.level)
    found.push(
      `Round ${rounds.length}: ${residuals.length} greys at ${mean(residuals.map((r) => r.deltaE)).toFixed(2)} ΔE on average${
        colors.length
          ? `, ${colors.length} colours at ${mean(all.filter(({ patch }) => !isGrey(patch)).map((a) => a.deltaE)).toFixed(2)}`
          : ''
      }`,
    )
    await context.note({ rounds, evidence: [found[0], found[found.length - 1]] })
  }
  return solver.run('solveSlot', evidence(), pipeline)
}
