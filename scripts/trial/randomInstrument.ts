import { shippedInstrument, typicalEmission, type InstrumentModel, type PanelTraits } from '@bichroma/bench'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { panelKindNames } from '@bichroma/core/register'
import { randomCase, type RandomCase } from './randomPanel'

/** How the instrument of a trial is corrected. */
export const correctionCases = ['none needed', 'right', 'old', 'other display', 'kind', 'other kind', 'none'] as const
export type CorrectionCase = (typeof correctionCases)[number]

/** A random panel read by a random instrument. */
export interface DoubtCase extends RandomCase {
  readonly correction: CorrectionCase
  readonly instrument: InstrumentModel
  readonly reference: InstrumentModel
  /** Days since each certificate when the correction is made, and days between that and the run. */
  readonly days: { readonly instrument: number; readonly reference: number; readonly correction: number }
  /** Another display of the model, where the correction is made on it. */
  readonly sibling?: PanelTraits
}

/**
 * An instrument, how it is corrected and how old its certificate is, at random, the same for the same seed. Optics by their
 * physics: gratings off by 0.12 nm and 4 to 8 nm wide; filters off by 3 nm, tilted and leaking. Certificates good to 0.7 %
 * in light and 0.2 % between cells, and what years do to cells.
 */
export function doubtCase(seed: number): DoubtCase {
  const found = randomCase(seed)
  const random = uniformFrom(seed * 104_729 + 71)
  const normal = normalFrom(random)
  const uniform = (least: number, most: number) => least + (most - least) * random()
  const near = (deviation: number, most: number) => Math.max(-most, Math.min(most, deviation * normal()))
  const three = (of: () => number): [number, number, number] => [of(), of(), of()]
  const adjusted = () => {
    const all = near(0.007, 0.02)
    return three(() => all + near(0.0015, 0.005))
  }
  const colorimeter: InstrumentModel = {
    ...shippedInstrument('tessel-c3'),
    filters: {
      shiftNm: three(() => near(3, 9)),
      slope: three(() => near(0.08, 0.3)),
      leak: three(() => uniform(0, 0.004)),
    },
    adjusted: adjusted(),
    driftPerYear: [near(0.004, 0.02), near(0.003, 0.02), near(0.008, 0.02)],
  }
  const spectroradiometer: InstrumentModel = {
    ...shippedInstrument('heron-s1'),
    grating: { shiftNm: near(0.12, 0.5), widthNm: uniform(4, 8), stray: 5e-5 * 10 ** random() },
    adjusted: adjusted(),
    driftPerYear: three(() => near(0.0015, 0.005)),
  }
  const correction = correctionCases[seed % correctionCases.length]
  const { panel } = found
  const { light } = panel
  const other = panelKindNames.filter((k) => k !== light.source && k !== 'projector-lamp' && k !== 'oled-white')
  const claimed = other[Math.floor(random() * other.length)]
  return {
    ...found,
    correction,
    instrument:
      correction === 'none needed' ? spectroradiometer : { ...colorimeter, ownCorrections: correction !== 'none' },
    reference: spectroradiometer,
    days: {
      instrument: uniform(10, 1000),
      reference: uniform(10, 600),
      correction: correction === 'old' ? uniform(200, 900) : 1,
    },
    ...(correction === 'other kind' && {
      panel: { ...panel, light: { ...light, source: claimed, bands: light.bands ?? typicalEmission[light.source] } },
    }),
    ...(correction === 'other display' && {
      sibling: { ...panel, light: { ...light, shiftNm: light.shiftNm.map((s) => s! + near(1, 3)) } },
    }),
  } as DoubtCase
}
