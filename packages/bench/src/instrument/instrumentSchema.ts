import { nameField, validate, yup } from '@bichroma/contract'
import { about, group, number, tripleOr } from '../described'

const filters = group('Colorimeter only: how its three filters differ from the observer’s functions.', {
  shiftNm: tripleOr([0, 0, 0], 'Shift of each filter, nm.', -15, 15),
  slope: tripleOr([0, 0, 0], 'Rise of each filter’s transmission per 100 nm, as a share.', -1, 1),
  leak: tripleOr([0, 0, 0], 'Share of its peak that each filter lets through everywhere.', 0, 0.05),
})

const grating = group('Spectroradiometer only: what its optics do to a spectrum.', {
  shiftNm: number('Wavelength error, nm.', -2, 2),
  widthNm: number('Bandwidth at half height, nm.', 0.5, 20),
  stray: number('Share of all light that is seen at every wavelength alike.', 0, 0.01),
})

/** An instrument file: one model of instrument, described for the bench. */
export const instrumentSchema = group('An instrument, described for the bench.', {
  format: about(
    yup.string<'bichroma-instrument/1'>().oneOf(['bichroma-instrument/1']).required(),
    'bichroma-instrument/1',
  ),
  maker: about(nameField(), 'Maker.'),
  model: about(nameField(), 'Model.'),
  kind: about(
    yup.string<'colorimeter' | 'spectroradiometer'>().oneOf(['colorimeter', 'spectroradiometer']).required(),
    'colorimeter or spectroradiometer.',
  ),
  filters: filters.nullable().default(null),
  grating: grating.nullable().default(null),
  noise: group('Standard deviation of one reading that integrates for a second; falls with the root of the time.', {
    share: number('Of the light, as a share.', 0, 0.05),
    shot: number('Grows with the root of the light: × √(cd/m²).', 0, 0.1),
    floor: number('In the dark, cd/m².', 0, 0.1),
  }).required(),
  timing: group('How long it integrates.', {
    fastestMs: number('In bright light, ms.', 20, 10_000),
    slowestMs: number('In the dark, ms.', 20, 60_000),
    slowBelow: number('Luminance below which readings take longer, in inverse proportion, cd/m².', 0.01, 1000),
  }).required(),
  ceiling: number('Luminance above which it saturates, cd/m².', 10, 1e6),
  zero: group('Its own dark signal, taken off by zeroing, which wears off.', {
    offset: number('What it comes to when zeroing was long ago, cd/m².', 0, 0.1),
    minutes: number('Minutes to two thirds of it.', 1, 600),
    perDegree: number('What each degree of warming since adds, cd/m².', 0, 0.01),
  }).required(),
  adjusted: tripleOr([0, 0, 0], 'What its certificate left X, Y and Z off by, as shares.', -0.05, 0.05),
  ownCorrections: about(
    yup.boolean().strict().default(true),
    'Colorimeter only: it holds a correction of its own for every kind of panel.',
  ),
  driftPerYear: tripleOr([0, 0, 0], 'Change of X, Y and Z per year since its certificate, as shares.', -0.05, 0.05),
})

/** An instrument file with every default filled in. */
export type InstrumentModel = yup.InferType<typeof instrumentSchema>

/** What a file of JSON says, with defaults filled in. Throws InvalidInput naming the field at fault. */
export function readInstrument(value: unknown): InstrumentModel {
  const model = instrumentSchema.cast(validate(instrumentSchema, value))
  const wanted = model.kind === 'colorimeter' ? 'filters' : 'grating'
  if (!model[wanted]) validate(yup.object({ [wanted]: yup.object().required() }), {})
  return model as InstrumentModel
}
