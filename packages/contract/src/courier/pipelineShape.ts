import { pipelineKindNames, type PipelineShape } from '@bichroma/core/tables'
import { byKind, numberField } from '../fields'
import { yup } from '../sentences'

const bits = () => numberField().required().integer().min(6).max(16)
const table = (least = 2) =>
  yup
    .object({ entries: numberField().required().integer().min(least).max(65536), bits: bits() })
    .noUnknown()
    .required()
const grid = () =>
  yup
    .object({ size: numberField().required().integer().min(9).max(33), bits: bits() })
    .noUnknown()
    .required()

/** The parts of each kind of slot contents. */
export const pipelineShapeSchemas = {
  '1D+3x3': yup.object({
    before: table(),
    matrixFractionBits: numberField().required().integer().min(6).max(24),
    after: table(),
  }),
  '1D+3D': yup.object({ grid: grid(), after: table() }),
  '3D': yup.object({ grid: grid() }),
  '1D': yup.object({ after: table(256) }),
} satisfies Record<(typeof pipelineKindNames)[number], yup.ObjectSchema<object>>

/** What a slot can store. */
export const pipelineShapeSchema = byKind<PipelineShape>(pipelineShapeSchemas)
