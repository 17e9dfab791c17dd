import type { PanelTraits } from '@bichroma/bench'
import type { ResolvedAim } from '@bichroma/core/aims'
import type { Triple } from '@bichroma/core/color'
import { cornerPatches, makePlan, solverTasks, type GreyReading, type ShapeEvidence } from '@bichroma/core/runs'
import { applySlotTables } from '@bichroma/core/tables'
import { serials, type OneDisplayStudio } from './oneDisplayStudio'
import { judgeByTruth, unseenPatches } from './truthOf'

/** Levels of grey, and rounds of them, that perfect knowledge is had from. */
const [levels, rounds] = [48, 4]

/**
 * What a slot with a matrix reaches with perfect knowledge of the panel: shaped from noise-free light of 729 colours, 48
 * greys and four rounds of them. Average ΔE2000 on the colours that a run is judged by; null for slots of another kind.
 */
export async function bestMatrix(
  studio: OneDisplayStudio,
  { tables: { pipeline } }: PanelTraits,
  aim: ResolvedAim,
  { seed, bits, reaches }: { seed: number; bits: number; reaches: (wanted: Triple) => number },
): Promise<number | null> {
  if (pipeline.kind !== '1D+3x3') return null
  const display = studio.bench.display(serials.display)
  await display.setControls({ pipeline: 'bypass' })
  try {
    const emit = (drive: Triple) => display.truth(drive)
    const [white, black, red, green, blue] = ['White', 'Black', 'Red', 'Green', 'Blue'].map((name) =>
      emit(cornerPatches.find((p) => p.name === name)!.rgb),
    )
    const at = Array.from({ length: levels }, (_, i) => (i + 1) / levels)
    const show = (drive: Triple) => ({ drive, xyz: emit(drive) })
    const read: GreyReading[][] = []
    const evidence = (): ShapeEvidence => ({
      ...{ aim, corners: { white, black, red, green, blue }, signal: { bits: 16, range: 'full' }, rounds: read },
      rawGreys: at.map((v) => show([v, v, v])),
      colors: makePlan([{ part: 'grid', count: 9 }]).map(({ rgb }) => show(rgb)),
    })
    for (let n = 0; n < rounds; n++)
      read.push(solverTasks.solveGreys(evidence(), at).map((drive, i) => ({ level: at[i], ...show(drive) })))
    const tables = solverTasks.solveTables(evidence(), pipeline)
    const patches = unseenPatches(300, seed + 1000, bits)
    return judgeByTruth(aim, patches, (some) => some.map((s) => emit(applySlotTables(tables, s))), reaches)
      .averageDeltaE
  } finally {
    await display.setControls({ pipeline: 'slot' })
  }
}
