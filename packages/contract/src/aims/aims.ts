import {
  decisions,
  limitedMetricNames,
  limitedMetrics,
  metricLabel,
  weights,
  type Aim,
  type AimBlack,
  type AimPrimaries,
  type AimWhite,
  type SharedWhite,
  type Decision,
  type LimitedMetric,
  type LimitRule,
  type Limits,
  type Weight,
} from '@bichroma/core/aims'
import {
  differenceFormulas,
  differenceLabels,
  isRealChromaticity,
  matrixOfPrimaries,
  standardPrimaries,
  standardWhites,
  type DifferenceFormula,
} from '@bichroma/core/color'
import type { ToneResponse } from '@bichroma/core/tone'
import { byKind, byKindOrNone, nameField, numberField, textField } from '../fields'
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

const ownWhites = {
  standard: yup.object({ name: yup.string().oneOf(Object.keys(standardWhites)).required() }),
  xy: yup.object(chromaticityFields).test('real', realMessage, real),
  temperature: yup.object({ kelvin: numberField().required().min(2000).max(20000).label('Temperature') }),
}
/** A white that several displays can be brought to: the panel’s own is each one’s other. */
export const whiteThatAllCanHave = byKind<SharedWhite>(ownWhites)

/** The most that a person may find two whites to be apart that look alike, u′ or v′: what is more is another colour. */
const mostByEye = 0.05
export const byEyeField = () => numberField().required().min(-mostByEye).max(mostByEye)

const white = byKind<AimWhite>({
  ...ownWhites,
  panel: yup.object({}),
  'by eye': yup.object({
    of: whiteThatAllCanHave,
    u: byEyeField().label('Moved in u′'),
    v: byEyeField().label('Moved in v′'),
  }),
})

const isShare = (v: unknown) => typeof v === 'number' && v >= 0 && v <= 1
const isPair = (p: unknown): p is [number, number] => Array.isArray(p) && p.length === 2 && p.every(isShare)

/** Pairs of signal and light. Looked at in one go: a schema for each of thousands of numbers takes too long. */
const risingPoints = () =>
  yup
    .array()
    .strict()
    .required()
    .min(2)
    .max(4096)
    .test({
      name: 'pairs',
      test(points, context) {
        const list: readonly unknown[] = points ?? []
        const odd = list.findIndex((p) => !isPair(p))
        if (odd >= 0)
          return context.createError({
            path: `${context.path}[${odd}]`,
            message: ({ path }) => `“${path}” must be a pair of signal and light, each from 0 to 1.`,
          })
        const pairs = list as readonly [number, number][]
        return (
          pairs.every((p, i) => i === 0 || (p[0] > pairs[i - 1][0] && p[1] >= pairs[i - 1][1])) ||
          context.createError({
            message: ({ path }) =>
              `“${path}” must be pairs of signal and light, each signal larger than the one before and no light smaller.`,
          })
        )
      },
    })

export const toneField = byKind<ToneResponse>({
  power: yup.object({ exponent: numberField().required().min(1).max(4).label('Exponent') }),
  sRGB: yup.object({}),
  'L*': yup.object({}),
  'BT.1886': yup.object({}),
  PQ: yup.object({}),
  HLG: yup.object({}),
  curve: yup.object({
    points: risingPoints(),
  }),
})

const black = byKind<AimBlack>({
  panel: yup.object({}),
  relative: yup.object({ factor: numberField().required().min(1).max(100).label('Factor') }),
  fixed: yup.object({ luminance: numberField().required().min(0).max(100).label('Black luminance') }),
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
    asBright: yup.boolean().strict().optional(),
    fromRoom: yup
      .boolean()
      .strict()
      .optional()
      .test(
        'one',
        'An aim is as bright as the display goes, or follows the room; choose one of “asBright” and “fromRoom”.',
        (v, context) => !v || !(context.parent as Partial<Aim>).asBright,
      ),
    toneResponse: toneField,
    primaries,
    // Left out, it is the panel’s own.
    black: byKindOrNone(black),
  })
  .noUnknown()
  .required()

/** A figure's name in a sentence about a rule, with the formula of the limits that it stands in. */
const nameIn = (metric: LimitedMetric, context: yup.TestContext) =>
  metricLabel(metric, { formula: (context.from?.[1]?.value as Partial<Limits> | undefined)?.formula })

const rule = yup
  .object({
    metric: yup.string<LimitedMetric>().oneOf(limitedMetricNames).required(),
    near: numberField().required().moreThan(0).label('Near edge'),
    hard: numberField().required().moreThan(0).label('Hard edge'),
    /** Greys that a figure by level looks at, signals 0–1. */
    levels: yup
      .object({ from: numberField().required().min(0).max(1), to: numberField().required().min(0).max(1) })
      .noUnknown()
      .test(
        'range',
        ({ path }) => `“${path}” must go from a lower level to a higher one, as in 0 to 0.2.`,
        (v) => !v || v.from === undefined || v.to === undefined || v.from < v.to,
      )
      .optional()
      .default(undefined),
    weight: yup
      .string<Weight>()
      .oneOf([...weights])
      .optional(),
    reason: textField(300).trim().optional(),
  })
  .noUnknown()
  .test({
    name: 'by level',
    test(value, context) {
      const definition = value?.metric && limitedMetrics[value.metric]
      if (!definition || definition.byLevel || !value.levels) return true
      return context.createError({
        path: `${context.path}.levels`,
        message: `“${nameIn(value.metric, context)}” is no figure of grey levels; leave its levels out.`,
      })
    },
  })
  .test({
    name: 'edges',
    test(value, context) {
      const definition = value?.metric && limitedMetrics[value.metric]
      if (!definition || value.near === undefined || value.hard === undefined) return true
      // The edge that may be the larger: the hard one, or the near one where more is better.
      const outer = definition.atLeast ? 'near' : 'hard'
      if (value[outer] > definition.most)
        return context.createError({
          path: `${context.path}.${outer}`,
          message: `The ${outer} edge of “${nameIn(value.metric, context)}” must be ${definition.most} or less.`,
        })
      return (
        (definition.atLeast ? value.near >= value.hard : value.near <= value.hard) ||
        context.createError({
          path: `${context.path}.near`,
          message: `The near edge of “${nameIn(value.metric, context)}” must not be ${definition.atLeast ? 'smaller' : 'larger'} than its hard edge.`,
        })
      )
    },
  })

const keyOf = (r: LimitRule | undefined) => `${r?.metric} ${r?.levels?.from ?? ''} ${r?.levels?.to ?? ''}`
const mostRules = 40

const rulesField = (label: string) =>
  yup
    .array()
    .of(rule)
    .strict()
    .max(mostRules)
    .label(label)
    .test(
      'once',
      ({ path }) =>
        `“${path}” names a figure twice; each can have one rule, figures of greys one for each range of levels.`,
      (rules) => new Set((rules ?? []).map((r) => keyOf(r as LimitRule))).size === (rules ?? []).length,
    )

const othersField = yup
  .object(
    Object.fromEntries(
      differenceFormulas.map((formula) => [
        formula,
        rulesField(differenceLabels[formula])
          .test(
            'differences',
            ({ path }) => `“${path}” may only hold edges of colour differences; other figures have no formula.`,
            (rules) =>
              (rules ?? []).every((r) => {
                // A name that stands for no figure is told of by the rule itself.
                const figure = limitedMetrics[r?.metric as LimitedMetric] as { difference?: boolean } | undefined
                return !figure || figure.difference
              }),
          )
          .optional(),
      ]),
    ),
  )
  .noUnknown()

/** Rules with their edges; each metric once, or once for each range of levels. The shape is core's {@link Limits}. */
export const limitsSchema = yup
  .object({
    formula: yup
      .string<DifferenceFormula>()
      .oneOf([...differenceFormulas])
      .optional(),
    /** What decides where doubt covers a hard edge; guarded when left out. */
    decision: yup
      .string<Decision>()
      .oneOf([...decisions])
      .optional(),
    rules: rulesField('rules').required().min(1),
    others: othersField.optional().default(undefined),
  })
  .noUnknown()
  .test({
    name: 'others',
    test(value, context) {
      const formula = value?.formula ?? 'de2000'
      if (!value?.others || !(value.others as Record<string, unknown>)[formula]) return true
      return context.createError({
        path: 'others',
        message: `“others” holds edges for ${differenceLabels[formula]}, by which these limits judge; put those among the rules.`,
      })
    },
  })
  .required()

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
