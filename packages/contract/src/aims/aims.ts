import {
  isRealChromaticity,
  limitedMetricNames,
  limitedMetrics,
  matrixOfPrimaries,
  standardPrimaries,
  standardWhites,
  type Aim,
  type AimPrimaries,
  type AimWhite,
  type LimitedMetric,
  type Limits,
  type ToneResponse,
} from '@bichroma/core'
import { byKind, nameField, numberField } from '../fields'
import { yup } from '../sentences'

const real = (value: { x?: number; y?: number } | undefined) =>
  typeof value?.x !== 'number' || typeof value.y !== 'number' || isRealChromaticity({ x: value.x, y: value.y })

const realMessage = ({ path }: { path: string }) =>
  `“${path}” lies outside the spectral locus: no light has that xy. D65, for one, is x 0.3127, y 0.3290.`

const chromaticityFields = {
  x: numberField().required().min(0).max(1).label('x'),
  y: numberField().required().moreThan(0).max(1).label('y'),
}
const chromaticity = () => yup.object(chromaticityFields).noUnknown().required().test('real', realMessage, real)

const white = byKind<AimWhite>({
  standard: yup.object({ name: yup.string().oneOf(Object.keys(standardWhites)).required() }),
  xy: yup.object(chromaticityFields).test('real', realMessage, real),
  temperature: yup.object({ kelvin: numberField().required().min(2000).max(20000).label('Temperature') }),
  panel: yup.object({}),
})

const toneResponse = byKind<ToneResponse>({
  power: yup.object({ exponent: numberField().required().min(1).max(4).label('Exponent') }),
  sRGB: yup.object({}),
  'L*': yup.object({}),
  'BT.1886': yup.object({}),
})

const spansArea = (value: unknown) => {
  try {
    matrixOfPrimaries(value as never, [0.95, 1, 1.09])
    return true
  } catch {
    return false
  }
}

const primaries = byKind<AimPrimaries>({
  standard: yup.object({ name: yup.string().oneOf(Object.keys(standardPrimaries)).required() }),
  panel: yup.object({}),
  xy: yup
    .object({ red: chromaticity(), green: chromaticity(), blue: chromaticity() })
    .test(
      'triangle',
      ({ path }) => `“${path}” must be three corners of a triangle, not points on one line.`,
      spansArea,
    ),
})

/** What one slot shall reach. The shape is core's {@link Aim}. */
export const aimSchema = yup
  .object({
    white,
    luminance: numberField().required().moreThan(0).max(10000).label('Luminance'),
    toneResponse,
    primaries,
  })
  .noUnknown()
  .required() as unknown as yup.Schema<Aim>

const rule = yup
  .object({
    metric: yup.string<LimitedMetric>().oneOf(limitedMetricNames).required(),
    near: numberField().required().moreThan(0).label('Near edge'),
    hard: numberField().required().moreThan(0).label('Hard edge'),
  })
  .noUnknown()
  .test({
    name: 'edges',
    test(value, context) {
      const definition = value?.metric && limitedMetrics[value.metric]
      if (!definition || value.near === undefined || value.hard === undefined) return true
      if (value.hard > definition.most)
        return context.createError({
          path: `${context.path}.hard`,
          message: `The hard edge of “${definition.label}” must be ${definition.most} or less.`,
        })
      return (
        value.near <= value.hard ||
        context.createError({
          path: `${context.path}.near`,
          message: `The near edge of “${definition.label}” must not be larger than its hard edge.`,
        })
      )
    },
  })

/** Rules with their edges; each metric once. The shape is core's {@link Limits}. */
export const limitsSchema = yup
  .object({
    rules: yup
      .array()
      .of(rule)
      .strict()
      .required()
      .min(1)
      .max(limitedMetricNames.length)
      .test(
        'once',
        ({ path }) => `“${path}” names a figure twice; each can have one rule.`,
        (rules) => new Set((rules ?? []).map((r) => r?.metric)).size === (rules ?? []).length,
      ),
  })
  .noUnknown()
  .required() as unknown as yup.Schema<Limits>

export const saveAimSchema = yup.object({ name: nameField().label('Name'), aim: aimSchema }).noUnknown()
export interface SaveAim {
  name: string
  aim: Aim
}

export const saveLimitsSchema = yup.object({ name: nameField().label('Name'), limits: limitsSchema }).noUnknown()
export interface SaveLimits {
  name: string
  limits: Limits
}

export interface StoredAim extends SaveAim {
  id: number
  updatedAt: number
}
export interface StoredLimits extends SaveLimits {
  id: number
  updatedAt: number
}
